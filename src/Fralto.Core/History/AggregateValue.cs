using Fralto.Core.Quality;

namespace Fralto.Core.History;

/// <summary>What an aggregate gives for an interval.</summary>
/// <param name="Number">The number; not-a-number for none.</param>
/// <param name="Status">How good it is, with the bits that say how it came about (OPC UA Part 8, clause 6.3 and Part 13).</param>
/// <param name="Ticks">The time it belongs to.</param>
public readonly record struct AggregateValue(double Number, StatusCode Status, long Ticks)
{
    // The low half of a status code: that it belongs to a data value, and where it comes from.
    private const uint IsDataValue = 0x0400;
    private const uint IsCalculated = 0x01;
    private const uint IsInterpolated = 0x02;
    private const uint Partial = 0x04;
    private const uint MultipleValues = 0x10;

    /// <summary>There is no value.</summary>
    public static AggregateValue None(in IntervalFacts facts) =>
        new(double.NaN, new(StatusCode.BadNoData.Value | (facts.IsPartial ? IsDataValue | Partial : 0)), facts.Start);

    /// <summary>A value that was worked out.</summary>
    /// <param name="facts">The interval.</param>
    /// <param name="value">The value.</param>
    /// <param name="isMany">True where it came more than once.</param>
    /// <param name="ticks">When it came; null for the start of the interval.</param>
    /// <param name="byTime">True where it is as good as the time that was Good: all of it, or Uncertain.</param>
    internal static AggregateValue Calculated(
        in IntervalFacts facts,
        double value,
        bool isMany = false,
        long? ticks = null,
        bool byTime = false
    ) =>
        new(
            value,
            new(
                (byTime && facts.GoodSeconds < facts.Seconds * (1 - 1e-9) ? StatusCode.UncertainDataSubNormal.Value : 0)
                    | IsDataValue
                    | (ticks is null ? IsCalculated : 0)
                    | (facts.IsPartial ? Partial : 0)
                    | (isMany ? MultipleValues : 0)
            ),
            ticks ?? facts.Start
        );

    internal static AggregateValue Raw(bool isThere, in HistorySample sample) =>
        isThere ? new(sample.Number, sample.Status, sample.Ticks) : new(double.NaN, StatusCode.BadNoData, 0);

    internal static AggregateValue Bound(BoundValue bound, long ticks = 0) =>
        new(bound.Number, new(bound.Status.Value | (bound.IsRaw || bound.Status.IsBad ? 0 : IsDataValue | IsInterpolated)), ticks);
}
