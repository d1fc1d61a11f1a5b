using Microsoft.AspNetCore.Html;

namespace Fralto.Web.Listings;

/// <summary>What stands in one cell of a listing.</summary>
/// <param name="Text">The text.</param>
public sealed record ListingCell(string Text)
{
    /// <summary>Classes of the cell.</summary>
    public string? Class { get; init; }

    /// <summary>Where the text leads; null for nowhere.</summary>
    public string? Href { get; init; }

    /// <summary>Said on hover, also where the text is cut.</summary>
    public string? Title { get; init; }

    /// <summary>Key of the value that the text follows while the page is open.</summary>
    public string? Value { get; init; }

    /// <summary>What of the value is followed: value, why, reason or age.</summary>
    public string Follows { get; init; } = "value";

    /// <summary>Classes of the followed value.</summary>
    public string? ValueClass { get; init; }

    /// <summary>What stands there in place of the text; null for the text.</summary>
    public IHtmlContent? Content { get; init; }

    public static implicit operator ListingCell(string text) => new(text);
}
