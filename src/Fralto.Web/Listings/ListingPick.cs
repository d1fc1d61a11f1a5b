using System.Globalization;

namespace Fralto.Web.Listings;

/// <summary>Rows somebody has selected, by their places in the order that was shown: "0-5,9".</summary>
/// <param name="Ranges">First and last place of each run, in order.</param>
public sealed record ListingPick(IReadOnlyList<(int First, int Last)> Ranges)
{
    private const int MostRanges = 20_000;

    /// <summary>Reads a selection; null when it is none.</summary>
    /// <param name="text">The text as it was posted.</param>
    public static ListingPick? Read(string? text)
    {
        var ranges = new List<(int, int)>();
        foreach (var part in (text ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries).Take(MostRanges))
        {
            var ends = part.Split('-');
            if (
                ends.Length is < 1 or > 2
                || !int.TryParse(ends[0], NumberStyles.None, CultureInfo.InvariantCulture, out var first)
                || !int.TryParse(ends[^1], NumberStyles.None, CultureInfo.InvariantCulture, out var last)
                || last < first
            )
                return null;
            ranges.Add((first, last));
        }
        return ranges.Count == 0 ? null : new(ranges);
    }

    /// <summary>The places, each once, within a number of rows.</summary>
    /// <param name="count">How many rows there are.</param>
    public IEnumerable<int> Places(int count) =>
        Ranges.Where(r => r.First < count).SelectMany(r => Enumerable.Range(r.First, Math.Min(r.Last, count - 1) - r.First + 1)).Distinct();
}
