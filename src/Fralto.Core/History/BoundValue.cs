using Fralto.Core.Quality;

namespace Fralto.Core.History;

/// <summary>What a value was at a moment at which none came.</summary>
/// <param name="Number">The number; not-a-number for none.</param>
/// <param name="Status">How good it is.</param>
/// <param name="IsRaw">True where a value came at that very moment.</param>
public readonly record struct BoundValue(double Number, StatusCode Status, bool IsRaw)
{
    private static readonly BoundValue None = new(double.NaN, StatusCode.BadNoData, false);

    /// <summary>The interpolated bound (OPC UA Part 13, clause 5.4): through what is not Bad, Uncertain where something was passed
    /// over.</summary>
    /// <param name="samples">Values by time.</param>
    /// <param name="from">Index of the first value that is not before the moment.</param>
    /// <param name="ticks">The moment.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    public static BoundValue Interpolated(ReadOnlySpan<HistorySample> samples, int from, long ticks, bool isStepped)
    {
        if (from < samples.Length && samples[from].Ticks == ticks && !samples[from].Status.IsBad)
            return new(samples[from].Number, samples[from].Status, true);
        var before = from - 1;
        while (before >= 0 && samples[before].Status.IsBad)
            before--;
        if (before < 0)
            return None;
        var passedOver = before != from - 1;
        if (isStepped)
            return Of(samples[before].Number, samples[before].Status.IsGood && !passedOver);
        var after = from;
        while (after < samples.Length && samples[after].Status.IsBad)
            after++;
        passedOver |= after != from;
        // Nothing comes after: the last value is held, and that is not known.
        return after >= samples.Length
            ? Of(samples[before].Number, false)
            : Of(
                IntervalFacts.At(in samples[before], in samples[after], ticks),
                samples[before].Status.IsGood && samples[after].Status.IsGood && !passedOver
            );
    }

    /// <summary>The simple bound (OPC UA Part 13, clause 5.4): between the values before and after, whatever their quality.</summary>
    /// <param name="samples">Values by time.</param>
    /// <param name="from">Index of the first value that is not before the moment.</param>
    /// <param name="ticks">The moment.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    public static BoundValue Simple(ReadOnlySpan<HistorySample> samples, int from, long ticks, bool isStepped)
    {
        if (from < samples.Length && samples[from].Ticks == ticks)
            return samples[from].Status.IsBad ? None : new(samples[from].Number, samples[from].Status, true);
        if (from == 0 || samples[from - 1].Status.IsBad)
            return None;
        ref readonly var before = ref samples[from - 1];
        if (isStepped)
            return Of(before.Number, before.Status.IsGood);
        if (from >= samples.Length || samples[from].Status.IsBad)
            return Of(before.Number, false);
        return Of(IntervalFacts.At(in before, in samples[from], ticks), before.Status.IsGood && samples[from].Status.IsGood);
    }

    private static BoundValue Of(double number, bool isGood) =>
        new(number, isGood ? StatusCode.Good : StatusCode.UncertainDataSubNormal, false);
}
