using System.Collections.Immutable;
using System.Runtime.Intrinsics;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Planning;

/// <summary>What a sample of one point needs, and nothing else: the hot part of a plan.</summary>
/// <remarks>
/// Nearly every chain is a straight line, and nearly every raw number lies where nothing speaks against it. For those a point needs the two
/// ends of the line and the window of raw numbers that are simply good; whatever lies outside, and every other shape, goes the long way
/// through its <see cref="Chain"/>. The four limits are compared at once: those below the value with its sign turned round, so that one
/// comparison serves high and low; absent ones are not-a-number, so every comparison with them is false.
/// </remarks>
public readonly struct PointSetup
{
    // The window is a hair narrower than the truth, so that rounding can only send a sample the long way, never past a check.
    private const double Hair = 1e-12;

    private static readonly Span FarApart = new(0, 1L << 30);

    // Where each limit becomes exceeded, and down to where it stays so. Single numbers and no vectors: those would stand at multiples of
    // their size and make a point a third larger.
    private readonly double _raise0;
    private readonly double _raise1;
    private readonly double _raise2;
    private readonly double _raise3;
    private readonly double _hold0;
    private readonly double _hold1;
    private readonly double _hold2;
    private readonly double _hold3;

    /// <summary>The numbers of one point.</summary>
    public PointSetup(Chain chain, ImmutableArray<Limit> limits)
    {
        (Raw, Engineering) = LineOf(chain) ?? (new Span(0, 1), new Span(double.NaN, double.NaN));
        (WindowLow, WindowHigh) = double.IsNaN(Engineering.Low) ? (double.NaN, double.NaN) : WindowOf(chain);
        System.Span<double> raise = [double.NaN, double.NaN, double.NaN, double.NaN];
        System.Span<double> hold = [double.NaN, double.NaN, double.NaN, double.NaN];
        foreach (var limit in limits)
        {
            var sign = limit.Condition.IsHigh() ? 1 : -1;
            (raise[(int)limit.Condition], hold[(int)limit.Condition]) = (sign * limit.Setpoint, sign * limit.ClearsBeyond);
        }
        (_raise0, _raise1, _raise2, _raise3) = (raise[0], raise[1], raise[2], raise[3]);
        (_hold0, _hold1, _hold2, _hold3) = (hold[0], hold[1], hold[2], hold[3]);
    }

    /// <summary>Raw numbers of its straight line.</summary>
    public Span Raw { get; }

    /// <summary>What these raw numbers are in the property's unit.</summary>
    public Span Engineering { get; }

    /// <summary>The lowest raw number for which the straight line holds.</summary>
    public double WindowLow { get; }

    /// <summary>The highest raw number for which the straight line holds.</summary>
    public double WindowHigh { get; }

    /// <summary>Where an exceeded HH clears; not-a-number when there is none.</summary>
    public double HighHighClear => _hold0;

    /// <summary>True when a raw number lies on the line and nothing speaks against it.</summary>
    public bool IsPlain(double raw) => raw >= WindowLow && raw <= WindowHigh;

    /// <summary>The value of a raw number for which <see cref="IsPlain"/> holds.</summary>
    public double ToEngineering(double raw) => Engineering.At(Raw.FractionOf(raw));

    /// <summary>Which of the four limits are exceeded, one bit each in the order of <see cref="LimitCondition"/>, given which
    /// were.</summary>
    /// <remarks>A limit not exceeded becomes so at its setpoint; an exceeded one stays so until the value passes the clear value.</remarks>
    public byte Exceeded(double value, byte before)
    {
        var signed = Vector256.Create(value, value, -value, -value);
        return (byte)(
            Vector256.GreaterThanOrEqual(signed, Vector256.LoadUnsafe(in _raise0)).ExtractMostSignificantBits()
            | (Vector256.GreaterThanOrEqual(signed, Vector256.LoadUnsafe(in _hold0)).ExtractMostSignificantBits() & before)
        );
    }

    /// <summary>The raw and engineering ends of a chain that is a straight line; null when it is none.</summary>
    private static (Span Raw, Span Engineering)? LineOf(Chain chain)
    {
        if (chain.Slice is { FirstBit: not null } || chain.Scale is not (null or LinearScale or GainScale))
            return null;
        var (raw, yields) =
            // A line through two raw numbers close together would magnify their rounding far out, where a counter may be.
            chain.Scale
                is { Signal.Kind: SignalKind.Open } open
                ? (FarApart, new(open.ToEngineering(0), open.ToEngineering(FarApart.High)))
            : chain.Scale is { } scale ? (scale.Raw, scale.Engineering)
            : (new Span(0, 1), new Span(0, 1));
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
