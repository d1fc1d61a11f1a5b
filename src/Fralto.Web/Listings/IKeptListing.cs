namespace Fralto.Web.Listings;

/// <summary>A listing as it was ordered, of any kind of row.</summary>
public interface IKeptListing
{
    /// <summary>Names the listing.</summary>
    string Name { get; }

    /// <summary>The page it stands on.</summary>
    string Page { get; }
}
