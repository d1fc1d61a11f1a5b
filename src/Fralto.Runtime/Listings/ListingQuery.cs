using System.Collections.Immutable;

namespace Fralto.Runtime.Listings;

/// <summary>Which rows of a listing, and in which order.</summary>
/// <param name="Filter">Words that a row must have, each in any searched column.</param>
/// <param name="Sort">Key of the column sorted by; null for the order the rows come in.</param>
/// <param name="IsDescending">True for the largest first.</param>
/// <param name="Facets">The value a column must have, by its key.</param>
public sealed record ListingQuery(string Filter, string? Sort, bool IsDescending, ImmutableSortedDictionary<string, string> Facets)
{
    /// <summary>The most words that are looked for; what follows is passed over.</summary>
    public const int MostWords = 30;

    /// <summary>All rows as they come.</summary>
    public static ListingQuery All { get; } = new("", null, false, ImmutableSortedDictionary<string, string>.Empty);

    /// <summary>The words of the filter.</summary>
    public IReadOnlyList<string> Words => [.. Filter.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries).Take(MostWords)];
}
