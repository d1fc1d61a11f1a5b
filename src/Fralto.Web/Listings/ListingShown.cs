using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>A window of a listing, ready to be drawn.</summary>
/// <param name="Name">Names the listing, for what is kept of its columns.</param>
/// <param name="Label">What its rows are, in the plural: tags.</param>
/// <param name="Columns">The columns shown, in order.</param>
/// <param name="Others">The columns that are not shown.</param>
/// <param name="Rows">The rows of the window.</param>
/// <param name="Request">What was asked for.</param>
/// <param name="From">Place of the first row of the window.</param>
/// <param name="Count">How many rows match.</param>
/// <param name="All">How many rows there are.</param>
/// <param name="Facets">What they can be chosen by.</param>
/// <param name="Token">Names the order.</param>
public sealed record ListingShown(
    string Name,
    string Label,
    IReadOnlyList<ListingHeading> Columns,
    IReadOnlyList<ListingHeading> Others,
    IReadOnlyList<ListingRow> Rows,
    ListingRequest Request,
    int From,
    int Count,
    int All,
    IReadOnlyList<ListingFacet> Facets,
    string Token
)
{
    /// <summary>The address of the page it stands on, without what it says itself: "/controllers?at=1".</summary>
    public string Page { get; init; } = "";

    /// <summary>True where rows can be selected.</summary>
    public bool IsSelectable { get; init; }

    /// <summary>Said when there is not one row, filter or not.</summary>
    public string Empty { get; init; } = "";

    /// <summary>The page's address with more said.</summary>
    /// <param name="more">What is said, as in a query.</param>
    public string AddressOf(string more) =>
        more.Length == 0 ? Page : $"{Page}{(Page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}{more}";

    /// <summary>The page's own parameters, for forms.</summary>
    public IEnumerable<(string Key, string Value)> PageFields =>
        Page.Split('?', 2) is [_, var query]
            ? query.Split('&').Select(p => p.Split('=', 2)).Select(p => (Uri.UnescapeDataString(p[0]), Uri.UnescapeDataString(p[^1])))
            : [];
}
