using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Planning;

/// <summary>What a sample of one point needs, and nothing else: the hot part of a plan.</summary>
/// <remarks>
/// Nearly every chain is a straight line, and nearly every raw number lies where nothing speaks against it. For those a point needs the two
/// ends of the line and the window of raw numbers that are simply good; whatever lies outside, and every other shape, goes the long way
/// through its <see cref="Chain"/>. Absent limits are not-a-number, so every comparison with them is false without a branch of its own.
/// </remarks>
public readonly struct PointSetup
{
    // The window is a hair narrower than the truth, so that rounding can only send a sample the long way, never past a check.
    private const double Hair = 1e-12;

    public PointSetup(Chain chain, ImmutableArray<Limit> limits)
    {
        (Raw, Engineering) = LineOf(chain) ?? (new Span(0, 1), new Span(double.NaN, double.NaN));
        (WindowLow, WindowHigh) = double.IsNaN(Engineering.Low) ? (double.NaN, double.NaN) : WindowOf(chain);
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

    public double WindowLow { get; }

    public double WindowHigh { get; }

    public double HighHigh { get; }

    public double High { get; }

    public double Low { get; }

    public double LowLow { get; }

    public double HighHighClear { get; }

    public double HighClear { get; }

    public double LowClear { get; }

    public double LowLowClear { get; }

    /// <summary>True when a raw number lies on the line and nothing speaks against it.</summary>
    public bool IsPlain(double raw) => raw >= WindowLow && raw <= WindowHigh;

    /// <summary>The value of a raw number for which <see cref="IsPlain"/> holds.</summary>
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

    /// <summary>The raw and engineering ends of a chain that is a straight line; null when it is none.</summary>
    private static (Span Raw, Span Engineering)? LineOf(Chain chain)
    {
        if (chain.Slice is { FirstBit: not null } || chain.Scale is not (null or LinearScale or GainScale)) return null;
        var (raw, yields) = chain.Scale is { } scale ? (scale.Raw, scale.Engineering) : (new Span(0, 1), new Span(0, 1));
        return (raw, new(chain.Conversion.Of(yields.Low), chain.Conversion.Of(yields.High)));
    }

    private (double Low, double High) WindowOf(Chain chain)
    {
        var accepted = chain.Scale?.Signal.Accepted ?? new Span(double.NegativeInfinity, double.PositiveInfinity);
        var (low, high) = (accepted.Minimum, accepted.Maximum);
        if (chain.Range is { } range)
        {
            var ends = new Span(Raw.At(Engineering.FractionOf(range.Low)), Raw.At(Engineering.FractionOf(range.High)));
            var hair = Math.Abs(ends.Width) * Hair;
            (low, high) = (Math.Max(low, ends.Minimum + hair), Math.Min(high, ends.Maximum - hair));
        }
        return (low, high);
    }
}
