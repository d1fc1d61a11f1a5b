using System.Security.Cryptography;
using Fralto.Core.Edits;

namespace Fralto.Web.Exchange;

/// <summary>Files that have been read and wait to be taken in: the newest few, for an hour.</summary>
public sealed class PendingImports(TimeProvider clock)
{
    private const int Most = 8;
    private static readonly TimeSpan KeptFor = TimeSpan.FromHours(1);
    private readonly Lock _lock = new();
    private readonly List<(PendingImport Import, DateTimeOffset Since)> _waiting = [];

    public PendingImport Add(string fileName, string what, Edit edit)
    {
        var import = new PendingImport(Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(12)), fileName, what, edit);
        lock (_lock)
        {
            _waiting.RemoveAll(w => clock.GetUtcNow() - w.Since > KeptFor);
            if (_waiting.Count == Most) _waiting.RemoveAt(0);
            _waiting.Add((import, clock.GetUtcNow()));
        }
        return import;
    }

    /// <summary>The file of a token; null when it is no longer kept.</summary>
    public PendingImport? Find(string? token)
    {
        lock (_lock) return _waiting.FirstOrDefault(w => w.Import.Token == token && clock.GetUtcNow() - w.Since <= KeptFor).Import;
    }

    public void Remove(string token)
    {
        lock (_lock) _waiting.RemoveAll(w => w.Import.Token == token);
    }
}
