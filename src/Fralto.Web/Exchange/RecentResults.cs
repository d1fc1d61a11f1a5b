using System.Security.Cryptography;

namespace Fralto.Web.Exchange;

/// <summary>What a person has been shown and will act on with the next click, so that what is done is what was shown: the newest few, for
/// an hour.</summary>
public sealed class RecentResults<T>(TimeProvider clock)
    where T : class
{
    private const int Most = 8;
    private static readonly TimeSpan KeptFor = TimeSpan.FromHours(1);
    private readonly Lock _lock = new();
    private readonly List<(string Token, T Item, DateTimeOffset Since)> _items = [];

    /// <summary>Keeps something and names it.</summary>
    /// <param name="make">Makes it of its name.</param>
    /// <returns>Its name, which nobody can guess.</returns>
    public string Add(Func<string, T> make)
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        lock (_lock)
        {
            _items.RemoveAll(i => clock.GetUtcNow() - i.Since > KeptFor);
            if (_items.Count == Most)
                _items.RemoveAt(0);
            _items.Add((token, make(token), clock.GetUtcNow()));
        }
        return token;
    }

    /// <summary>What a name stands for; null when it is no longer kept.</summary>
    public T? Find(string? token)
    {
        lock (_lock)
            return _items.FirstOrDefault(i => i.Token == token && clock.GetUtcNow() - i.Since <= KeptFor).Item;
    }

    /// <summary>Keeps something else under a name, if it is still kept.</summary>
    /// <param name="token">The name.</param>
    /// <param name="item">What it stands for from now on.</param>
    public void Replace(string token, T item)
    {
        lock (_lock)
            if (_items.FindIndex(i => i.Token == token) is >= 0 and var at)
                _items[at] = (token, item, clock.GetUtcNow());
    }

    public void Remove(string token)
    {
        lock (_lock)
            _items.RemoveAll(i => i.Token == token);
    }
}
