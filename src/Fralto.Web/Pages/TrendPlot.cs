using System.Globalization;
using System.Text.Json;
using Fralto.Core.Pictures;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Views;
using Fralto.Web.Live;

namespace Fralto.Web.Pages;

/// <summary>Curves as they are drawn.</summary>
/// <param name="View">The curves as numbers.</param>
/// <param name="PastMade">How much of the demo's past has been made; 1 when all is.</param>
/// <param name="Empty">What is said where nothing is drawn.</param>
/// <param name="Before">Seconds before a run that are shown.</param>
/// <param name="HasStatistics">True with the table below.</param>
public sealed record TrendPlot(TrendView View, double PastMade, string Empty, double Before, bool HasStatistics = true)
{
    private const long EpochMilliseconds = 62_135_596_800_000;

    /// <summary>What the cursor reads, for the script beside the drawing.</summary>
    public string Cursor =>
        JsonSerializer.Serialize(
            new
            {
                from = View.From / TimeSpan.TicksPerMillisecond - EpochMilliseconds,
                to = View.To / TimeSpan.TicksPerMillisecond - EpochMilliseconds,
                live = View.IsLive,
                runs = View.IsRuns,
                before = Before,
                curves = View.Panels.SelectMany(p =>
                    p.Curves.Select(c => new
                    {
                        name = c.Track.Label,
                        of = c.Track.Line.Property,
                        unit = p.Unit,
                        n = c.Track.Number,
                        at = c.Means.Select(m =>
                            double.IsFinite(m) && Math.Abs(m) < 1e15 ? Math.Round(m, DecimalsOf(c.Track.Line)) : (double?)null
                        ),
                    })
                ),
                strips = View.Strips.Select(s => new
                {
                    name = s.Track.Label,
                    of = s.Track.Line.Property,
                    at = s.Stretches.Select(x =>
                        new object[] { Math.Round(x.X, 1), Math.Round(x.X + x.Width, 1), x.State.Text ?? ValueText.None }
                    ),
                }),
            }
        );

    /// <summary>A number of a curve as people read it.</summary>
    public static string Number(TrendTrack track, double value) =>
        double.IsFinite(value) ? ValueText.Number(value, DecimalsOf(track.Line)) : ValueText.None;

    /// <summary>Points of a piece of a curve as a path.</summary>
    public static string Path(TrendPiece piece)
    {
        var path = new System.Text.StringBuilder(piece.Points.Count * 12);
        foreach (var (x, y) in piece.Points)
            path.Append(path.Length == 0 ? 'M' : 'L').Append(CultureInfo.InvariantCulture, $"{x:0.#} {y:0.#}");
        return path.ToString();
    }

    /// <summary>A title in lines that are short enough.</summary>
    /// <param name="text">The title.</param>
    /// <param name="most">The most characters of a line.</param>
    public static IReadOnlyList<string> Lines(string text, int most)
    {
        var lines = new List<string>();
        foreach (var word in text.Split(' '))
            if (lines.Count > 0 && lines[^1].Length + 1 + word.Length <= most)
                lines[^1] += " " + word;
            else
                lines.Add(word.Length > most ? word[..(most - 1)] + "…" : word);
        return lines.Count > 3 ? [.. lines.Take(2), lines[2] + " …"] : lines;
    }

    private static int DecimalsOf(TrendLine line) => Math.Clamp((line.Point?.Decimals ?? 1) + 1, 0, 6);
}
