using Fralto.Core.History;
using Fralto.Core.Scaling;

namespace Fralto.Core.Pictures;

/// <summary>What was recorded of a number as a curve in picture units: pieces that are drawn through, and gaps between them.</summary>
/// <param name="Pieces">Pieces from left to right; nothing is drawn between two.</param>
/// <param name="Gaps">Stretches in which there was no value, from left to right.</param>
/// <param name="Span">The smallest and largest value drawn; null where there is none.</param>
public sealed record TrendCurve(IReadOnlyList<TrendPiece> Pieces, IReadOnlyList<Span> Gaps, Span? Span)
{
    /// <summary>Lays a curve out: of each stretch the first, smallest, largest and last value are on it, so that no spike is
    /// lost.</summary>
    /// <param name="stretches">What each stretch amounts to, from left to right; they share the width evenly.</param>
    /// <param name="known">How many of them lie before now.</param>
    /// <param name="width">Width of the picture.</param>
    /// <param name="axis">The values at bottom and top.</param>
    /// <param name="bottom">Where the bottom lies, in picture units from above.</param>
    /// <param name="top">Where the top lies.</param>
    public static TrendCurve Of(ReadOnlySpan<Rollup> stretches, int known, double width, Span axis, double bottom, double top)
    {
        var (pieces, gaps) = (new List<TrendPiece>(), new List<Span>());
        var (step, low, high) = (width / Math.Max(1, stretches.Length), double.NaN, double.NaN);
        List<(double X, double Y)>? points = null;
        var isUncertain = false;
        double Y(double value) => bottom + (top - bottom) * Math.Clamp(axis.FractionOf(value), -0.02, 1.02);
        for (var i = 0; i < known && i < stretches.Length; i++)
        {
            ref readonly var stretch = ref stretches[i];
            var x = i * step;
            if (stretch.HeldSeconds <= 0 || double.IsNaN(stretch.Minimum))
            {
                points = null;
                if (gaps.Count > 0 && gaps[^1].High >= x)
                    gaps[^1] = gaps[^1] with { High = x + step };
                else
                    gaps.Add(new(x, x + step));
                continue;
            }
            // What lies far beyond the axis is not drawn along its edge.
            if (axis.FractionOf(stretch.Minimum) > 1.02 || axis.FractionOf(stretch.Maximum) < -0.02)
            {
                points = null;
                continue;
            }
            var uncertain = stretch.UncertainSeconds > stretch.GoodSeconds;
            if (points is null || uncertain != isUncertain)
            {
                // A curve that turns Uncertain goes on from where it was.
                var begin = points is { Count: > 0 } before ? before[^1] : ((double, double)?)null;
                points = [];
                if (begin is { } from)
                    points.Add(from);
                isUncertain = uncertain;
                pieces.Add(new(points, uncertain));
            }
            if (!(low <= stretch.Minimum))
                low = stretch.Minimum;
            if (!(high >= stretch.Maximum))
                high = stretch.Maximum;
            var middle = x + step / 2;
            var (first, minimum, maximum, last) = (Y(stretch.First), Y(stretch.Minimum), Y(stretch.Maximum), Y(stretch.Last));
            if (stretch.Count == 0 || minimum - maximum < 0.75)
            {
                points.Add((middle, Y(stretch.Mean)));
                continue;
            }
            foreach (var y in new[] { first, minimum, maximum, last })
                if (double.IsFinite(y))
                    points.Add((middle, y));
        }
        return new(pieces, gaps, double.IsNaN(low) ? null : new(low, high));
    }

    /// <summary>An axis with room above and below for what is drawn, ending at round numbers.</summary>
    /// <param name="spans">What is drawn.</param>
    /// <param name="range">The range of the property: the axis of what is not known.</param>
    public static Span AxisOf(IEnumerable<Span> spans, Span? range)
    {
        var (low, high) = (double.PositiveInfinity, double.NegativeInfinity);
        foreach (var span in spans)
            (low, high) = (Math.Min(low, span.Minimum), Math.Max(high, span.Maximum));
        if (low > high)
            return range is { IsUsable: true } its ? new(its.Minimum, its.Maximum) : new(0, 1);
        var width = high - low;
        if (width <= Math.Max(Finest, Math.Max(Math.Abs(low), Math.Abs(high)) * 1e-9))
            width = range is { IsUsable: true } r ? Math.Abs(r.Width) * 0.1 : Math.Max(1, Math.Abs(high) * 0.1);
        // Ends are round, too, and finer than the marks: no part of the height stays empty.
        var step = StepOf(width) / FinerThanMarks;
        return new(Math.Floor((low - width * 0.04) / step) * step, Math.Ceiling((high + width * 0.04) / step) * step);
    }

    /// <summary>Marks of an axis: round numbers, four or five of them.</summary>
    public static IReadOnlyList<double> MarksOf(Span axis)
    {
        var (step, marks) = (StepOf(axis.Width), new List<double>());
        for (var at = Math.Ceiling(axis.Minimum / step - 1e-9) * step; at <= axis.Maximum + step * 1e-9; at += step)
            marks.Add(Math.Abs(at) < step * 1e-9 ? 0 : at);
        return marks;
    }

    private const int FinerThanMarks = 5;
    private const double Finest = 1e-10;

    private static double StepOf(double width)
    {
        var rough = Math.Max(1e-12, Math.Abs(width)) / 4;
        var power = Math.Pow(10, Math.Floor(Math.Log10(rough)));
        return new[] { 1, 2, 2.5, 5, 10 }.First(n => n * power >= rough * 0.999) * power;
    }
}
