using System.Security.Cryptography;
using Fralto.Links;

namespace Fralto.Web.Live;

/// <summary>What browsing has listed lately, so that what is chosen is what was shown: the newest few, for an hour.</summary>
public sealed class Browsings(TimeProvider clock)
{
    private const int Most = 8;
    private static readonly TimeSpan KeptFor = TimeSpan.FromHours(1);
    private readonly Lock _lock = new();
    private readonly List<(string Token, BrowseResult Result, DateTimeOffset Since)> _kept = [];

    /// <summary>Keeps a list and names it.</summary>
    public string Add(BrowseResult result)
    {
        var token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12));
        lock (_lock)
        {
            if (_kept.Count == Most) _kept.RemoveAt(0);
            _kept.Add((token, result, clock.GetUtcNow()));
        }
        return token;
    }

    /// <summary>The list of a name; null when it is no longer kept.</summary>
    public BrowseResult? Find(string? token)
    {
        lock (_lock) return _kept.FirstOrDefault(k => k.Token == token && clock.GetUtcNow() - k.Since <= KeptFor).Result;
    }
}
