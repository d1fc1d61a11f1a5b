using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Planning;

/// <summary>What a sample of one point needs, and nothing else: the hot part of a plan.</summary>
/// <remarks>Absent limits are not-a-number, so every comparison with them is false without a branch of its own.</remarks>
public readonly struct PointSetup
{
    public PointSetup(LinearScale? scale, Span? range, ImmutableArray<Limit> limits)
    {
        Raw = scale?.Raw ?? new Span(0, 1);
        Engineering = scale?.Engineering ?? new Span(0, 1);
        Range = range is { } r ? new Span(r.Minimum, r.Maximum) : new Span(double.NegativeInfinity, double.PositiveInfinity);
        HighHigh = High = Low = LowLow = double.NaN;
        HighHighClear = HighClear = LowClear = LowLowClear = double.NaN;
        foreach (var limit in limits)
            switch (limit.Condition)
            {
                case LimitCondition.HighHigh: (HighHigh, HighHighClear) = (limit.Setpoint, limit.ClearsBeyond); break;
                case LimitCondition.High: (High, HighClear) = (limit.Setpoint, limit.ClearsBeyond); break;
                case LimitCondition.Low: (Low, LowClear) = (limit.Setpoint, limit.ClearsBeyond); break;
                default: (LowLow, LowLowClear) = (limit.Setpoint, limit.ClearsBeyond); break;
            }
    }

    public Span Raw { get; }

    public Span Engineering { get; }

    public Span Range { get; }

    public double HighHigh { get; }

    public double High { get; }

    public double Low { get; }

    public double LowLow { get; }

    public double HighHighClear { get; }

    public double HighClear { get; }

    public double LowClear { get; }

    public double LowLowClear { get; }

    /// <summary>The engineering value of a raw value.</summary>
    public double ToEngineering(double raw) => Engineering.At(Raw.FractionOf(raw));

    /// <summary>Which of the four limits are exceeded, one bit each in the order of <see cref="LimitCondition"/>, given which were.</summary>
    /// <remarks>A limit not exceeded becomes so at its setpoint; an exceeded one stays so until the value passes the clear value.</remarks>
    public byte Exceeded(double value, byte before)
    {
        var now = 0;
        if ((before & 1) == 0 ? value >= HighHigh : value >= HighHighClear) now |= 1;
        if ((before & 2) == 0 ? value >= High : value >= HighClear) now |= 2;
        if ((before & 4) == 0 ? value <= Low : value <= LowClear) now |= 4;
        if ((before & 8) == 0 ? value <= LowLow : value <= LowLowClear) now |= 8;
        return (byte)now;
    }
}
