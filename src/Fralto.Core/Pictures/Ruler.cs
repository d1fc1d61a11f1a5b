using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Pictures;

/// <summary>A property's range as a picture in numbers: raw signal above, engineering units below, limits and live values
/// between.</summary>
/// <remarks>All positions are in picture units from 0 to the width; whoever draws it only copies numbers.</remarks>
/// <param name="Left">Where the range begins.</param>
/// <param name="Right">Where the range ends.</param>
/// <param name="Range">The range, upright.</param>
/// <param name="Step">The resolution of the range: setpoints snap to it.</param>
/// <param name="Ticks">Marks of the engineering axis, from the left.</param>
/// <param name="RawTicks">Marks of the raw axis at round raw numbers; unevenly spaced when the scale is no straight line.</param>
/// <param name="WhyNoRaw">Why there is no raw axis; null when there is one.</param>
/// <param name="Normal">Where a value is normal: inside all limits.</param>
/// <param name="Flags">The limits.</param>
/// <param name="Dots">Live values of instances.</param>
public sealed record Ruler(
    double Left,
    double Right,
    Span Range,
    double Step,
    ImmutableArray<RulerTick> Ticks,
    ImmutableArray<RulerTick> RawTicks,
    string? WhyNoRaw,
    RulerStretch Normal,
    ImmutableArray<RulerFlag> Flags,
    ImmutableArray<RulerDot> Dots
)
{
    /// <summary>Width of a flag, room for two letters and a number.</summary>
    public const double FlagWidth = 76;

    /// <summary>Lanes of dots; names of dots in one lane do not touch.</summary>
    public const int DotLanes = 5;

    /// <summary>Room a note beside a flag takes.</summary>
    public const double NoteWidth = 160;

    private const double Margin = 36;
    private const double CharacterWidth = 7;
    private const int MostTicks = 13;
    private static readonly double[] NiceSteps = [1, 2, 2.5, 5, 10];

    /// <summary>Lays the ruler of a property out; null when it has no range to lay out.</summary>
    /// <param name="limits">The limits in force.</param>
    /// <param name="chain">The property's chain: its range, and the scale that makes the raw axis.</param>
    /// <param name="values">The newest value of each instance.</param>
    /// <param name="width">Width of the picture.</param>
    public static Ruler? Of(ImmutableArray<Limit> limits, Chain chain, IEnumerable<RulerValue> values, double width)
    {
        if (chain.Range is not { IsUsable: true } shown)
            return null;
        var range = new Span(shown.Minimum, shown.Maximum);
        var axis = new Span(Margin, width - Margin);
        double At(double value) => axis.At(Math.Clamp(range.FractionOf(value), 0, 1));

        var normalLow = limits.Where(l => !l.Condition.IsHigh()).Select(l => l.Setpoint).DefaultIfEmpty(range.Low).Max();
        var normalHigh = limits.Where(l => l.Condition.IsHigh()).Select(l => l.Setpoint).DefaultIfEmpty(range.High).Min();
        return new Ruler(
            axis.Low,
            axis.High,
            range,
            Math.Pow(10, -Resolution.DecimalsOf(range)),
            [.. TicksOf(range).Select(v => new RulerTick(At(v), Text(v)))],
            RawTicksOf(chain, range, At),
            chain.Scale?.WhyNoInverse,
            new RulerStretch(At(normalLow), At(normalHigh)),
            FlagsOf(limits, At, width, range),
            DotsOf(values, At, range, axis)
        );
    }

    /// <summary>Round values across a range, at most thirteen, each a multiple of 1, 2, 2.5 or 5 times a power of ten.</summary>
    public static IEnumerable<double> TicksOf(Span range)
    {
        var rough = Math.Abs(range.Width) / MostTicks;
        var power = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        var step = NiceSteps.First(s => s * power >= rough) * power;
        for (var k = Math.Ceiling(range.Minimum / step); k * step <= range.Maximum + step * 1e-9; k++)
            yield return Math.Round(k * step, 10);
    }

    /// <summary>Raw numbers at both ends of the signal and round ones between, where they fall on the range and leave each other
    /// room.</summary>
    private static ImmutableArray<RulerTick> RawTicksOf(Chain chain, Span range, Func<double, double> at)
    {
        if (chain.Scale is not { } scale || scale.WhyNoInverse is not null)
            return [];
        var slack = range.Width * 1e-9;
        // Where nothing is said of the raw numbers, they are those of the range.
        var span =
            scale.Signal.Kind == SignalKind.Open
                ? new Span(scale.ToRaw(chain.Conversion.Inverse.Of(range.Low)), scale.ToRaw(chain.Conversion.Inverse.Of(range.High)))
                : scale.Raw;
        var raws = new[] { span.Low, span.High }.Concat(TicksOf(new(span.Minimum, span.Maximum))).Distinct();
        var taken = new List<(double From, double To)>();
        var ticks = new List<RulerTick>();
        foreach (var raw in raws)
        {
            var value = chain.Conversion.Of(scale.ToEngineering(raw));
            if (!(value >= range.Low - slack && value <= range.High + slack))
                continue;
            var (x, text) = (at(value), RawText(raw));
            var half = text.Length * CharacterWidth / 2 + 3;
            if (taken.Any(t => x - half < t.To && x + half > t.From))
                continue;
            taken.Add((x - half, x + half));
            ticks.Add(new(x, text));
        }
        return [.. ticks.OrderBy(t => t.X)];
    }

    private static ImmutableArray<RulerFlag> FlagsOf(ImmutableArray<Limit> limits, Func<double, double> at, double width, Span range)
    {
        var step = Math.Pow(10, -Resolution.DecimalsOf(range));
        var flags = ImmutableArray.CreateBuilder<RulerFlag>(limits.Length);
        // The outer limits hang lower, so that two flags of one side never cover each other.
        foreach (var limit in limits)
        {
            var x = at(limit.Setpoint);
            var flagX = limit.Condition.IsHigh() ? Math.Min(x, width - FlagWidth) : Math.Max(x - FlagWidth, 0);
            var lane = limit.Condition is LimitCondition.HighHigh or LimitCondition.LowLow ? 1 : 0;
            var clears = at(limit.ClearsBeyond);
            var noteLeft = limit.Condition.IsHigh() ? flagX + FlagWidth + NoteWidth > width : flagX >= NoteWidth;
            flags.Add(
                new RulerFlag(
                    limit,
                    x,
                    flagX,
                    lane,
                    noteLeft,
                    new RulerStretch(Math.Min(x, clears), Math.Max(x, clears)),
                    $"{limit.Condition.Letters()} {Text(limit.Setpoint)}",
                    Reach(limit)
                )
            );
        }
        return flags.MoveToImmutable();

        Span Reach(Limit limit) =>
            new(
                Math.Round(
                    limits.Where(l => l.Condition > limit.Condition).Select(l => l.Setpoint + step).DefaultIfEmpty(range.Low).Max(),
                    10
                ),
                Math.Round(
                    limits.Where(l => l.Condition < limit.Condition).Select(l => l.Setpoint - step).DefaultIfEmpty(range.High).Min(),
                    10
                )
            );
    }

    private static ImmutableArray<RulerDot> DotsOf(IEnumerable<RulerValue> values, Func<double, double> at, Span range, Span axis)
    {
        var dots = ImmutableArray.CreateBuilder<RulerDot>();
        var takenTo = new double[DotLanes];
        foreach (var (name, value, abnormal, detail) in values.Where(v => double.IsFinite(v.Value)).OrderBy(v => v.Value))
        {
            var x = at(value);
            var needed = 12 + name.Length * CharacterWidth;
            var leftOf = x + needed > axis.High;
            var from = leftOf ? x - needed : x - 6;
            var lane = Array.FindIndex(takenTo, end => end <= from);
            var named = lane >= 0;
            if (lane < 0)
                lane = DotLanes;
            else
                takenTo[lane] = leftOf ? x + 6 : x + needed;
            dots.Add(new RulerDot(name, x, lane, named, leftOf, abnormal || !range.Contains(value), detail));
        }
        return dots.ToImmutable();
    }

    private static string Text(double value) => value.ToString("0.######", CultureInfo.InvariantCulture);

    private static string RawText(double raw) =>
        Math.Abs(raw) >= 100 ? Math.Round(raw).ToString(CultureInfo.InvariantCulture) : raw.ToString("0.##", CultureInfo.InvariantCulture);
}
