namespace Fralto.Web.Listings;

/// <summary>The heading of a column.</summary>
/// <param name="Key">Names it.</param>
/// <param name="Title">What stands there.</param>
/// <param name="Class">Classes of its cells.</param>
/// <param name="Sorted">"ascending", "descending", "none", or null where it cannot be sorted by.</param>
/// <param name="SortAs">What to sort by when it is pressed.</param>
public sealed record ListingHeading(string Key, string Title, string Class, string? Sorted, string SortAs);
