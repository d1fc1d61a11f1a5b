using Fralto.Core.Exchange;

namespace Fralto.Web.Listings;

/// <summary>A listing of any kind of row.</summary>
public interface IListing
{
    /// <summary>A window of it, ordered anew or as it was ordered before.</summary>
    /// <param name="request">What is asked for.</param>
    /// <param name="chosen">The columns this person has chosen, in order; null for the usual ones.</param>
    /// <param name="memory">Where orders are kept.</param>
    ListingShown Show(ListingRequest request, IReadOnlyList<string>? chosen, ListingMemory memory);

    /// <summary>All rows that match, as a table to be given out.</summary>
    /// <param name="request">What is asked for.</param>
    /// <param name="chosen">The columns this person has chosen, in order; null for the usual ones.</param>
    /// <param name="memory">Where orders are kept.</param>
    /// <param name="picked">Only these rows by their places in the order; null for all.</param>
    Table Give(ListingRequest request, IReadOnlyList<string>? chosen, ListingMemory memory, ListingPick? picked);
}
