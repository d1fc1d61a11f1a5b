using System.Collections.Immutable;
using System.Globalization;
using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>What an address says of a listing, and what this person has chosen of its columns.</summary>
/// <param name="Query">Which rows, and in which order.</param>
/// <param name="From">The first row of the window, from 0.</param>
/// <param name="Count">How many rows the window has.</param>
/// <param name="Token">Names an order that was made before; null for a new one.</param>
public sealed record ListingRequest(ListingQuery Query, int From, int Count, string? Token)
{
    /// <summary>Rows of a window when the address does not say.</summary>
    public const int UsualCount = 150;

    private const int MostCount = 400;
    private const int LongestFilter = 200;
    private const string FacetPrefix = "f-";

    /// <summary>Reads the query of an address; what is none of ours is passed over.</summary>
    /// <param name="query">The query.</param>
    public static ListingRequest Read(IQueryCollection query)
    {
        var sort = query["sort"].ToString();
        var filter = query["filter"].ToString();
        var facets = query
            .Where(q => q.Key.StartsWith(FacetPrefix, StringComparison.Ordinal) && q.Value.ToString().Length > 0)
            .ToImmutableSortedDictionary(q => q.Key[FacetPrefix.Length..], q => q.Value.ToString(), StringComparer.Ordinal);
        return new(
            new(
                filter.Length > LongestFilter ? filter[..LongestFilter] : filter,
                sort.Length == 0 ? null : sort.TrimStart('-'),
                sort.StartsWith('-'),
                facets
            ),
            Whole(query["from"], 0, int.MaxValue, 0),
            Whole(query["rows"], 1, MostCount, UsualCount),
            query["list"].ToString() is { Length: > 0 } token ? token : null
        );
    }

    /// <summary>The same as the query of an address, without a question mark.</summary>
    /// <param name="sort">Another sorting; null for the same.</param>
    public string Text(string? sort = null)
    {
        var parts = new List<(string Key, string Value)>();
        if (Query.Filter.Length > 0)
            parts.Add(("filter", Query.Filter));
        if ((sort ?? (Query.Sort is null ? "" : $"{(Query.IsDescending ? "-" : "")}{Query.Sort}")) is { Length: > 0 } by)
            parts.Add(("sort", by));
        parts.AddRange(Query.Facets.Select(f => (FacetPrefix + f.Key, f.Value)));
        return string.Join('&', parts.Select(p => $"{Uri.EscapeDataString(p.Key)}={Uri.EscapeDataString(p.Value)}"));
    }

    private static int Whole(string? text, int least, int most, int otherwise) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number) ? Math.Clamp(number, least, most) : otherwise;
}
