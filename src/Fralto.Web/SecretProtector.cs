using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace Fralto.Web;

/// <summary>Encrypts secrets with the keys of the data directory.</summary>
internal sealed class SecretProtector(IDataProtectionProvider protection) : ISecretProtector
{
    private readonly IDataProtector _protector = protection.CreateProtector("controller-password");

    public string Protect(string secret) => _protector.Protect(secret);

    public string? Unprotect(string kept)
    {
        try
        {
            return _protector.Unprotect(kept);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
