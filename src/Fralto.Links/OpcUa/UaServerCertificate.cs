using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Fralto.Core.Quality;

namespace Fralto.Links.OpcUa;

/// <summary>The certificate a server shows, and what speaks against it (checks of OPC UA Part 4, clause 6.1.3, table 100).</summary>
/// <param name="Der">The certificate itself.</param>
/// <param name="Subject">Whom it names.</param>
/// <param name="From">First moment it is valid.</param>
/// <param name="Until">Last moment it is valid.</param>
/// <param name="Fingerprint">SHA-256 of it, in pairs.</param>
/// <param name="IsTrusted">True when somebody has said to trust it.</param>
/// <param name="Problem">What makes it unusable; null when nothing does.</param>
/// <param name="Status">The status for that problem, or for a certificate that is not trusted; Good when it can be used.</param>
/// <param name="Remarks">What somebody should know before he trusts it: names it does not hold.</param>
public sealed record UaServerCertificate(
    byte[] Der,
    string Subject,
    DateTimeOffset From,
    DateTimeOffset Until,
    string Fingerprint,
    bool IsTrusted,
    string? Problem,
    StatusCode Status,
    IReadOnlyList<string> Remarks
)
{
    private static readonly StatusCode TimeInvalid = new(0x80140000),
        Untrusted = new(0x801A0000),
        Invalid = new(0x80120000);

    /// <summary>Judges a certificate.</summary>
    /// <param name="der">The certificate; of a chain the first.</param>
    /// <param name="host">The host Fralto was told to go to.</param>
    /// <param name="applicationUri">The address the server says its application has.</param>
    /// <param name="identity">Whom we trust.</param>
    /// <param name="now">The time.</param>
    public static UaServerCertificate Of(byte[] der, string host, string applicationUri, UaIdentity identity, DateTimeOffset now)
    {
        X509Certificate2 certificate;
        try
        {
            certificate = X509CertificateLoader.LoadCertificate(First(der));
        }
        catch (CryptographicException e)
        {
            return new(der, "", default, default, UaIdentity.FingerprintOf(der), false, $"it cannot be read: {e.Message}", Invalid, []);
        }
        using (certificate)
        {
            var (from, until) = (new DateTimeOffset(certificate.NotBefore), new DateTimeOffset(certificate.NotAfter));
            var own = certificate.RawData;
            var isTrusted = identity.IsTrusted(own);
            string? problem = null;
            if (now < from)
                problem = $"it is not valid before {Words(from)}; is the server's clock, or ours, right?";
            else if (now > until)
                problem = $"it ran out on {Words(until)}; give the server a new one";
            else if (certificate.GetRSAPublicKey() is not { KeySize: >= 1024 })
                problem = "its key is no RSA key of at least 1024 bits";
            var remarks = new List<string>();
            var (uris, hosts) = NamesOf(certificate);
            if (host.Length > 0 && !hosts.Any(h => Same(h, host)))
                remarks.Add(
                    hosts.Count == 0
                        ? $"it names no host, so it is not said to be that of {host}"
                        : $"it names {string.Join(", ", hosts)}, not {host}"
                );
            if (applicationUri.Length > 0 && !uris.Contains(applicationUri, StringComparer.Ordinal))
                remarks.Add(
                    $"it is of {(uris.Count > 0 ? string.Join(", ", uris) : "no application")}, while the server says it is "
                        + applicationUri
                );
            return new(
                own,
                certificate.Subject,
                from,
                until,
                UaIdentity.FingerprintOf(own),
                isTrusted,
                problem,
                problem is null
                    ? isTrusted
                        ? StatusCode.Good
                        : Untrusted
                    : problem.Contains("valid before", StringComparison.Ordinal)
                    || problem.StartsWith("it ran out", StringComparison.Ordinal)
                        ? TimeInvalid
                        : Invalid,
                remarks
            );
        }
    }

    private static string Words(DateTimeOffset at) => at.UtcDateTime.ToString("yyyy-MM-dd HH:mm 'UTC'", CultureInfo.InvariantCulture);

    /// <summary>The first certificate of a chain: they stand one behind the other.</summary>
    private static byte[] First(byte[] der)
    {
        if (der is not [0x30, 0x82, var high, var low, ..])
            return der;
        var length = 4 + (high << 8 | low);
        return length < der.Length ? der[..length] : der;
    }

    private static (List<string> Uris, List<string> Hosts) NamesOf(X509Certificate2 certificate)
    {
        var (uris, hosts) = (new List<string>(), new List<string>());
        foreach (var extension in certificate.Extensions)
        {
            if (extension.Oid?.Value != "2.5.29.17")
                continue;
            // Kinds of names: RFC 5280, section 4.2.1.6.
            var reader = new System.Formats.Asn1.AsnReader(extension.RawData, System.Formats.Asn1.AsnEncodingRules.DER).ReadSequence();
            while (reader.HasData)
            {
                var tag = reader.PeekTag();
                switch (tag.TagValue)
                {
                    case 2:
                        hosts.Add(reader.ReadCharacterString(System.Formats.Asn1.UniversalTagNumber.IA5String, tag));
                        break;
                    case 6:
                        uris.Add(reader.ReadCharacterString(System.Formats.Asn1.UniversalTagNumber.IA5String, tag));
                        break;
                    case 7:
                        if (reader.ReadOctetString(tag) is { Length: 4 or 16 } address)
                            hosts.Add(new IPAddress(address).ToString());
                        break;
                    default:
                        reader.ReadEncodedValue();
                        break;
                }
            }
        }
        return (uris, hosts);
    }

    private static bool Same(string named, string host) =>
        named.Equals(host, StringComparison.OrdinalIgnoreCase)
        || named.Split('.')[0].Equals(host, StringComparison.OrdinalIgnoreCase)
        || IsLoopback(host) && named.Split('.')[0].Equals(Dns.GetHostName().Split('.')[0], StringComparison.OrdinalIgnoreCase);

    private static bool IsLoopback(string host) =>
        host.Equals("localhost", StringComparison.OrdinalIgnoreCase)
        || IPAddress.TryParse(host, out var address) && IPAddress.IsLoopback(address);
}
