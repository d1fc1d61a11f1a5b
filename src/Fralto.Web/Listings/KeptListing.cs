using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>A listing as it was ordered.</summary>
/// <param name="Name">Names the listing.</param>
/// <param name="Page">The page it stands on.</param>
/// <param name="Source">What its rows came from.</param>
/// <param name="Rows">All rows.</param>
/// <param name="Cache">What is the same for as long as the rows are.</param>
/// <param name="Order">Those that match, in order.</param>
public sealed record KeptListing<TRow>(
    string Name,
    string Page,
    object Source,
    IReadOnlyList<TRow> Rows,
    ListingCache Cache,
    ListingOrder Order
) : IKeptListing;
