using System.Security.Cryptography;
using Fralto.Store;
using Microsoft.AspNetCore.DataProtection;

namespace Fralto.Web.Live;

/// <summary>What is kept for links beside the model: passwords, encrypted, and what tags of memory hold.</summary>
public sealed class LinkKeeping(PlantStore store, IDataProtectionProvider protection, TimeProvider clock)
{
    private readonly IDataProtector _protector = protection.CreateProtector("controller-password");

    /// <summary>The password of a controller; null when it has none, or none that can still be read.</summary>
    public string? Password(long controllerId)
    {
        if (store.Secret(controllerId) is not { } secret) return null;
        try
        {
            return _protector.Unprotect(secret);
        }
        catch (CryptographicException)
        {
            // The keys of another data directory: it has to be typed again.
            return null;
        }
    }

    /// <summary>Keeps the password of a controller; empty forgets it.</summary>
    public void SetPassword(long controllerId, string password) => store.SetSecret(controllerId, password.Length == 0 ? null : _protector.Protect(password));

    /// <summary>What was kept of a tag of memory.</summary>
    public string? Load(long tagId) => store.MemoryValue(tagId);

    /// <summary>Keeps what a tag of memory holds.</summary>
    public void Keep(long tagId, string value) => store.SetMemoryValue(tagId, value, clock.GetUtcNow());
}
