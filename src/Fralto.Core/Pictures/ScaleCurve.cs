using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Scaling;

namespace Fralto.Core.Pictures;

/// <summary>A scale as a curve in numbers: raw across, engineering value up.</summary>
/// <remarks>All positions are in picture units, y downwards; whoever draws it only copies numbers.</remarks>
/// <param name="Line">The curve from raw low to raw high.</param>
/// <param name="Across">Marks of the raw axis.</param>
/// <param name="Up">Marks of the engineering axis.</param>
public sealed record ScaleCurve(ImmutableArray<(double X, double Y)> Line, ImmutableArray<RulerTick> Across, ImmutableArray<RulerTick> Up)
{
    /// <summary>Room left of the curve for the numbers of the engineering axis, and below it for those of the raw axis.</summary>
    public const double Left = 56,
        Below = 24;

    private const int Points = 160;
    private const int MostMarks = 6;

    /// <summary>Lays the curve of a scale out; null when the scale is not whole.</summary>
    public static ScaleCurve? Of(Scale scale, double width, double height)
    {
        if (scale.Problems().Any())
            return null;
        var line = new List<(double Raw, double Value)>();
        for (var i = 0; i <= Points; i++)
        {
            var raw = scale.Raw.At(i / (double)Points);
            if (scale.ToEngineering(raw) is var value && double.IsFinite(value))
                line.Add((raw, value));
        }
        if (line.Count < 2)
            return null;
        var (low, high) = (line.Min(p => p.Value), line.Max(p => p.Value));
        if (low == high)
            (low, high) = (low - 1, high + 1);
        var (across, up) = (new Span(Left, width - 12), new Span(height - Below, 10));
        double X(double raw) => across.At(scale.Raw.FractionOf(raw));
        double Y(double value) => up.At(new Span(low, high).FractionOf(value));
        return new(
            [.. line.Select(p => (X(p.Raw), Y(p.Value)))],
            [.. Few(Ruler.TicksOf(new(scale.Raw.Minimum, scale.Raw.Maximum))).Select(v => new RulerTick(X(v), Text(v)))],
            [.. Few(Ruler.TicksOf(new(low, high))).Select(v => new RulerTick(Y(v), Text(v)))]
        );
    }

    private static IEnumerable<double> Few(IEnumerable<double> marks)
    {
        var all = marks.ToArray();
        var each = (all.Length + MostMarks - 1) / MostMarks;
        return all.Where((_, i) => i % each == 0);
    }

    private static string Text(double value) => value.ToString("0.######", CultureInfo.InvariantCulture);
}
