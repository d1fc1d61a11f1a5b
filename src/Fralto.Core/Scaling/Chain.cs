using Fralto.Core.Quality;
using Fralto.Core.Units;

namespace Fralto.Core.Scaling;

/// <summary>The way from a raw number to a property's value: slice, signal, scale, unit, range. The one place that knows the
/// order.</summary>
/// <param name="Slice">Bits taken from the raw word; null for all of it.</param>
/// <param name="Scale">From signal to engineering value; null when the raw number is one.</param>
/// <param name="Conversion">From the unit the scale, or the tag, yields to that of the property.</param>
/// <param name="Range">The property's normal operating range; null for none.</param>
public sealed record Chain(Slice? Slice, Scale? Scale, UnitConversion Conversion, Span? Range)
{
    /// <summary>The value of a raw number, and how good it is.</summary>
    /// <param name="raw">A finite number as the tag's type gives it.</param>
    public ChainResult Compute(double raw)
    {
        var word = Slice?.BitsOf(raw) ?? raw;
        var status = StatusCode.Good;
        if (Scale is { } scale && !scale.Signal.Accepted.Contains(word))
        {
            var signal = scale.Signal;
            if (word <= signal.FailsAtOrBelow || word >= signal.FailsAtOrAbove)
                return new(double.NaN, StatusCode.BadSensorFailure);
            if (scale.Outside == OutsideRule.Bad)
                return new(double.NaN, StatusCode.BadOutOfRange);
            if (scale.Outside == OutsideRule.Clamp)
                word = Math.Clamp(word, signal.Accepted.Minimum, signal.Accepted.Maximum);
            status = signal.Kind == SignalKind.Free ? StatusCode.UncertainEngineeringUnitsExceeded : StatusCode.UncertainSensorNotAccurate;
        }
        var value = Conversion.Of(Scale?.ToEngineering(word) ?? word);
        if (!double.IsFinite(value))
            return new(double.NaN, StatusCode.BadOutOfRange);
        return new(
            value,
            status.IsGood && Range is { } range && !range.Contains(value) ? StatusCode.UncertainEngineeringUnitsExceeded : status
        );
    }

    /// <summary>The raw number of a value, not yet rounded to the raw type; not-a-number where the chain cannot be turned round.</summary>
    public double Invert(double value)
    {
        var scaled = Conversion.Inverse.Of(value);
        return Slice is { FirstBit: not null } ? double.NaN : Scale?.ToRaw(scaled) ?? scaled;
    }

    /// <summary>Why a status is what it is, in words; null when the chain has nothing to say of it.</summary>
    public string? Reason(double raw, StatusCode status)
    {
        var word = Slice?.BitsOf(raw) ?? raw;
        if (status == StatusCode.UncertainEngineeringUnitsExceeded)
            return Scale is { Signal: { Kind: SignalKind.Free } free } && free.Complaint(word) is { } complaint
                ? complaint
                : "outside the range";
        if (status == StatusCode.UncertainSensorNotAccurate || status == StatusCode.BadSensorFailure)
            return Scale?.Signal.Complaint(word);
        return status == StatusCode.BadOutOfRange ? Scale?.Signal.Complaint(word) ?? "the scale does not reach so far" : null;
    }
}
