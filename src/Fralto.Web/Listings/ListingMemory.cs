using System.Security.Cryptography;

namespace Fralto.Web.Listings;

/// <summary>The orders of the listings that are open, so that scrolling through one costs only what is shown and nothing moves under the
/// eye: the newest few.</summary>
public sealed class ListingMemory
{
    private const int Most = 64;
    private const int MostOfPage = 12;
    private readonly Lock _lock = new();
    private readonly LinkedList<(string Token, IKeptListing Listing)> _kept = new();

    /// <summary>Keeps a listing as it is ordered.</summary>
    /// <param name="listing">The listing.</param>
    /// <returns>Its name, which nobody can guess.</returns>
    public string Add(IKeptListing listing)
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        lock (_lock)
        {
            _kept.AddFirst((token, listing));
            // A long list that is typed in makes an order a key: of one page only the newest few are worth their room.
            var ofPage = 0;
            for (var node = _kept.First; node is not null; )
            {
                var next = node.Next;
                if (node.Value.Listing.Name == listing.Name && node.Value.Listing.Page == listing.Page && ++ofPage > MostOfPage)
                    _kept.Remove(node);
                node = next;
            }
            if (_kept.Count > Most)
                _kept.RemoveLast();
        }
        return token;
    }

    /// <summary>The rows somebody has selected: as they stood in the order that was shown to him.</summary>
    /// <param name="token">The order's name.</param>
    /// <param name="picked">The places.</param>
    /// <returns>The rows; null when the order is no longer kept.</returns>
    public IReadOnlyList<TRow>? Picked<TRow>(string? token, ListingPick picked) =>
        Find<KeptListing<TRow>>(token) is { } kept
            ? [.. picked.Places(kept.Order.Rows.Length).Select(p => kept.Rows[kept.Order.Rows[p]])]
            : null;

    /// <summary>The newest that is kept of those that something holds of; null when it holds of none.</summary>
    /// <param name="holds">What has to hold.</param>
    public T? Newest<T>(Func<T, bool> holds)
        where T : class
    {
        lock (_lock)
            return _kept.Select(k => k.Listing).OfType<T>().FirstOrDefault(holds);
    }

    /// <summary>What a name stands for; null when it is no longer kept.</summary>
    /// <param name="token">The name.</param>
    public T? Find<T>(string? token)
        where T : class
    {
        lock (_lock)
        {
            var node = _kept.First;
            while (node is not null && node.Value.Token != token)
                node = node.Next;
            if (node is null)
                return null;
            _kept.Remove(node);
            _kept.AddFirst(node);
            return node.Value.Listing as T;
        }
    }
}
