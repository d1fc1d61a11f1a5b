namespace Fralto.Runtime.Listings;

/// <summary>What a column can be chosen by.</summary>
/// <param name="Key">Key of the column.</param>
/// <param name="Title">Its heading.</param>
/// <param name="Chosen">The value that is chosen; null for all.</param>
/// <param name="Values">Its values with how many rows have each, of those that all else lets through.</param>
public sealed record ListingFacet(string Key, string Title, string? Chosen, IReadOnlyList<(string Value, int Count)> Values);
