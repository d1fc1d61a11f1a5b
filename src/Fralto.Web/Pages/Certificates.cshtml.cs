using System.Security.Cryptography;
using Fralto.Links.OpcUa;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Our certificate for OPC UA servers, and the servers we trust.</summary>
public sealed class CertificatesModel(UaIdentity identity, TimeProvider clock) : FraltoPage
{
    private const int LongestCertificate = 20_000;

    /// <summary>Our certificate.</summary>
    public UaServerCertificate Own
    {
        get
        {
            using var own = identity.Certificate();
            return UaServerCertificate.Of(own.RawData, "", "", identity, clock.GetUtcNow());
        }
    }

    /// <summary>The servers we trust.</summary>
    public IReadOnlyList<UaServerCertificate> Trusted => identity.Trusted(clock.GetUtcNow());

    public void OnGet() { }

    /// <summary>Our certificate as a file, to hand over.</summary>
    public IActionResult OnGetOwn(bool pem)
    {
        using var own = identity.Certificate();
        return pem
            ? File(System.Text.Encoding.ASCII.GetBytes(own.ExportCertificatePem()), "application/x-pem-file", "fralto.pem")
            : File(own.RawData, "application/pkix-cert", "fralto.der");
    }

    /// <summary>Trusts a server from now on, or no longer.</summary>
    public IActionResult OnPostTrust([FromForm] string? certificate, [FromForm] bool trust)
    {
        byte[] der;
        try
        {
            der = certificate is { Length: > 0 and < LongestCertificate } ? Convert.FromBase64String(certificate) : [];
            if (trust)
                identity.Trust(der);
            else
                identity.Distrust(der);
        }
        catch (Exception e) when (e is FormatException or CryptographicException)
        {
            return BadRequest("What was sent is no certificate.");
        }
        return Partial("_Certificate", UaServerCertificate.Of(der, "", "", identity, clock.GetUtcNow()));
    }
}
