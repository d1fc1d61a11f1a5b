using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>From a raw signal to an engineering value, and back for commands.</summary>
/// <param name="Signal">The raw range it accepts.</param>
public abstract record Scale(Signal Signal)
{
    /// <summary>What becomes of raw values outside the signal.</summary>
    public OutsideRule Outside { get; init; }

    /// <summary>Code of the unit it yields; null for that of the property.</summary>
    public string? Unit { get; init; }

    /// <summary>Code of the unit it yields, said or fixed by its nature; null for that of the property.</summary>
    public virtual string? YieldedUnit => Unit;

    /// <summary>The raw range it accepts.</summary>
    public Span Raw => Signal.Raw;

    /// <summary>What it yields at the ends of the signal.</summary>
    public virtual Span Engineering => new(ToEngineering(Raw.Low), ToEngineering(Raw.High));

    /// <summary>Why it cannot be turned round; null when it can.</summary>
    public virtual string? WhyNoInverse => null;

    /// <summary>In words, for example "4…20 mA to 0…120".</summary>
    public abstract string Words { get; }

    /// <summary>Its raw side in short, for example "4…20 mA".</summary>
    public virtual string RawWords => Signal.Words;

    /// <summary>The engineering value of a raw value; raw values outside the signal continue as far as the shape allows.</summary>
    public abstract double ToEngineering(double raw);

    /// <summary>The raw value of an engineering value, not yet rounded to the raw type; not-a-number where the scale does not reach or
    /// cannot be turned round.</summary>
    public abstract double ToRaw(double value);

    /// <summary>What is wrong with it, by field.</summary>
    public virtual IEnumerable<Problem> Problems()
    {
        if (!Signal.Raw.IsUsable)
            yield return new("RawHigh", $"Raw low and raw high are both {Signal.Raw.Low}; they must differ.");
        if (Signal.Kind == SignalKind.Open && this is not GainScale)
            yield return new("RawLow", "Give raw low and raw high: only gain and offset go without.");
    }

    /// <summary>The steepest climb, in engineering values for one raw unit, at a raw value: how fine a count is there.</summary>
    public double StepAt(double raw)
    {
        var step = Math.Abs(Raw.Width) > 1000 ? 1 : Math.Abs(Raw.Width) / 1000;
        return Math.Abs(ToEngineering(raw + step) - ToEngineering(raw)) / step;
    }

    private protected static string Text(Span span) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{span.Low}…{span.High}");
}
