using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>A column with how its cells look.</summary>
/// <param name="Key">Names it in addresses.</param>
/// <param name="Title">Its heading.</param>
/// <param name="Text">What stands in it.</param>
public sealed record CellColumn<TRow>(string Key, string Title, Func<TRow, string> Text) : ListingColumn<TRow>(Key, Title, Text)
{
    /// <summary>The cell of a row; null for its text alone.</summary>
    public Func<TRow, ListingCell>? Cell { get; init; }

    /// <summary>Classes of all its cells and its heading.</summary>
    public string? Class { get; init; }

    /// <summary>True for numbers: they stand at the right.</summary>
    public bool IsRight { get; init; }

    /// <summary>Widths its cells like to have: narrow, middle or wide.</summary>
    public string Width { get; init; } = "middle";
}
