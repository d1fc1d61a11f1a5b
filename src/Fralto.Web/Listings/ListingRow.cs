namespace Fralto.Web.Listings;

/// <summary>One row of a window.</summary>
/// <param name="Place">Its place in the order, from 0.</param>
/// <param name="Key">What it stands for.</param>
/// <param name="Class">Its classes.</param>
/// <param name="Cells">Its cells, one a column.</param>
public sealed record ListingRow(int Place, string Key, string Class, IReadOnlyList<ListingCell> Cells);
