using Fralto.Runtime.Listings;

namespace Fralto.Web.Listings;

/// <summary>A listing as it was ordered.</summary>
/// <param name="Name">Names the listing.</param>
/// <param name="Source">What its rows came from.</param>
/// <param name="Rows">All rows.</param>
/// <param name="Order">Those that match, in order.</param>
internal sealed record KeptListing<TRow>(string Name, object Source, IReadOnlyList<TRow> Rows, ListingOrder Order);
