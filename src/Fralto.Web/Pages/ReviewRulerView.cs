using System.Globalization;
using Fralto.Core.Review;

namespace Fralto.Web.Pages;

/// <summary>A changed number on its range, zoomed round the change: where everything lies on a picture of a width.</summary>
/// <param name="Ruler">The number before and after.</param>
/// <param name="Values">Values now.</param>
/// <param name="Unit">Symbol of the unit.</param>
public sealed record ReviewRulerView(ReviewRuler Ruler, IReadOnlyList<double> Values, string Unit)
{
    /// <summary>Width of the picture, in pixels.</summary>
    public const int Width = 172;

    private const double Edge = 6;

    /// <summary>A change smaller than this share of the range is looked at more closely.</summary>
    private const double Small = 0.1;

    private double Whole => Math.Abs(Ruler.Range.Width);

    private (double Low, double High) Ends
    {
        get
        {
            var (low, high) = (Math.Min(Ruler.Range.Low, Ruler.Range.High), Math.Max(Ruler.Range.Low, Ruler.Range.High));
            if (Ruler is not { Before: { } before, After: { } after } || Math.Abs(after - before) >= Small * Whole)
                return (low, high);
            var (middle, half) = ((before + after) / 2, Math.Max(Math.Abs(after - before) * 4, Whole / 1000));
            return (Math.Max(low, middle - half), Math.Min(high, middle + half));
        }
    }

    /// <summary>The number at the left end, and at the right.</summary>
    public (string Low, string High) Words => (Text(Ends.Low), $"{Text(Ends.High)} {Unit}".TrimEnd());

    /// <summary>All of it in words.</summary>
    public string Spoken =>
        $"{(Ruler.Before is { } was ? Text(was) : "none")} before, {(Ruler.After is { } now ? Text(now) : "none")} after, "
        + $"on {Words.Low} to {Words.High}";

    /// <summary>Where the number before stands; null for none.</summary>
    public double? Before => Ruler.Before is { } it ? At(it) : null;

    /// <summary>Where the number after stands; null for none.</summary>
    public double? After => Ruler.After is { } it ? At(it) : null;

    /// <summary>Where values now stand, those on the picture.</summary>
    public IEnumerable<double> Dots => Values.Where(v => v >= Ends.Low && v <= Ends.High).Select(At);

    /// <summary>A number as it is written on the picture.</summary>
    public static string Text(double value) => value.ToString("0.###", CultureInfo.InvariantCulture);

    /// <summary>Where a word over a mark ends, so that two of them do not lie on each other.</summary>
    /// <param name="at">Where the mark stands.</param>
    /// <param name="other">Where the other mark stands; null for none.</param>
    public static string AnchorOf(double at, double? other) =>
        at < 18 ? "start"
        : at > Width - 18 ? "end"
        : other is { } o && Math.Abs(o - at) < 40
            ? at < o ? "end"
                : "start"
        : "middle";

    private double At(double value) =>
        Ends is var (low, high) && high > low
            ? Math.Round(Edge + Math.Clamp((value - low) / (high - low), 0, 1) * (Width - 2 * Edge), 1)
            : Edge;
}
