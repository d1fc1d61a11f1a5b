using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Limits;

/// <summary>A property's range as a picture in numbers: raw signal above, engineering units below, limits and live values between.</summary>
/// <remarks>All positions are in picture units from 0 to the width; whoever draws it only copies numbers.</remarks>
/// <param name="Left">Where the range begins.</param>
/// <param name="Right">Where the range ends.</param>
/// <param name="Ticks">Axis marks, from the left.</param>
/// <param name="Normal">Where a value is normal: inside all limits.</param>
/// <param name="Flags">The limits.</param>
/// <param name="Dots">Live values of instances.</param>
public sealed record Ruler(
    double Left, double Right, ImmutableArray<RulerTick> Ticks, RulerStretch Normal, ImmutableArray<RulerFlag> Flags, ImmutableArray<RulerDot> Dots)
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
    /// <param name="property">The property with its facts.</param>
    /// <param name="values">Name and value of each instance, in the property's unit; values that are not finite are left out.</param>
    /// <param name="width">Width of the picture.</param>
    public static Ruler? Of(ResolvedProperty property, IEnumerable<(string Name, double Value, bool Abnormal)> values, double width)
    {
        if (property.ShownRange is not { IsUsable: true } shown) return null;
        var range = new Span(shown.Minimum, shown.Maximum);
        var axis = new Span(Margin, width - Margin);
        double At(double value) => axis.At(Math.Clamp(range.FractionOf(value), 0, 1));

        var limits = property.Limits;
        var normalLow = limits.Where(l => !l.Condition.IsHigh()).Select(l => l.Setpoint).DefaultIfEmpty(range.Low).Max();
        var normalHigh = limits.Where(l => l.Condition.IsHigh()).Select(l => l.Setpoint).DefaultIfEmpty(range.High).Min();
        return new Ruler(
            axis.Low, axis.High,
            [.. TicksOf(range).Select(v => new RulerTick(At(v), Text(v), property.Facts.Scale is { } scale ? RawText(scale.ToRaw(v)) : null))],
            new RulerStretch(At(normalLow), At(normalHigh)),
            FlagsOf(limits, At, width),
            DotsOf(values, At, range, axis));
    }

    /// <summary>Round values across a range, at most thirteen, each a multiple of 1, 2, 2.5 or 5 times a power of ten.</summary>
    public static IEnumerable<double> TicksOf(Span range)
    {
        var rough = Math.Abs(range.Width) / MostTicks;
        var power = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        var step = NiceSteps.First(s => s * power >= rough) * power;
        for (var k = Math.Ceiling(range.Minimum / step); k * step <= range.Maximum + step * 1e-9; k++) yield return Math.Round(k * step, 10);
    }

    private static ImmutableArray<RulerFlag> FlagsOf(ImmutableArray<Limit> limits, Func<double, double> at, double width)
    {
        var flags = ImmutableArray.CreateBuilder<RulerFlag>(limits.Length);
        // The outer limits hang lower, so that two flags of one side never cover each other.
        foreach (var limit in limits)
        {
            var x = at(limit.Setpoint);
            var flagX = limit.Condition.IsHigh() ? Math.Min(x, width - FlagWidth) : Math.Max(x - FlagWidth, 0);
            var lane = limit.Condition is LimitCondition.HighHigh or LimitCondition.LowLow ? 1 : 0;
            var clears = at(limit.ClearsBeyond);
            var noteLeft = limit.Condition.IsHigh() ? flagX + FlagWidth + NoteWidth > width : flagX >= NoteWidth;
            flags.Add(new RulerFlag(limit, x, flagX, lane, noteLeft, new RulerStretch(Math.Min(x, clears), Math.Max(x, clears)), $"{limit.Condition.Letters()} {Text(limit.Setpoint)}"));
        }
        return flags.MoveToImmutable();
    }

    private static ImmutableArray<RulerDot> DotsOf(
        IEnumerable<(string Name, double Value, bool Abnormal)> values, Func<double, double> at, Span range, Span axis)
    {
        var dots = ImmutableArray.CreateBuilder<RulerDot>();
        var takenTo = new double[DotLanes];
        foreach (var (name, value, abnormal) in values.Where(v => double.IsFinite(v.Value)).OrderBy(v => v.Value))
        {
            var x = at(value);
            var needed = 12 + name.Length * CharacterWidth;
            var leftOf = x + needed > axis.High;
            var from = leftOf ? x - needed : x - 6;
            var lane = Array.FindIndex(takenTo, end => end <= from);
            var named = lane >= 0;
            if (lane < 0) lane = dots.Count % DotLanes;
            else takenTo[lane] = leftOf ? x + 6 : x + needed;
            dots.Add(new RulerDot(name, x, lane, named, leftOf, abnormal || !range.Contains(value)));
        }
        return dots.ToImmutable();
    }

    private static string Text(double value) => value.ToString("0.######", CultureInfo.InvariantCulture);

    private static string RawText(double raw) => Math.Abs(raw) >= 100 ? Math.Round(raw).ToString(CultureInfo.InvariantCulture) : raw.ToString("0.##", CultureInfo.InvariantCulture);
}
