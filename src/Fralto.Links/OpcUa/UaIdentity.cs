using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Fralto.Links.OpcUa;

/// <summary>Who Fralto is to OPC UA servers, and which of them it trusts: a certificate of its own and those of servers, as
/// files.</summary>
/// <remarks>An application instance certificate as OPC UA Part 6, clause 6.2.2 asks for: its alternative names hold the application's
/// address and the host.</remarks>
public sealed class UaIdentity
{
    private const int KeySize = 2048;
    private static readonly TimeSpan Valid = TimeSpan.FromDays(3650);

    private readonly string _directory;
    private readonly Lock _lock = new();

    /// <param name="directory">Where its files are; made when it is first needed.</param>
    public UaIdentity(string directory) => _directory = Path.GetFullPath(directory);

    /// <summary>Raised when a server is trusted, or no longer.</summary>
    public event Action? TrustChanged;

    /// <summary>The address of this application, as its certificate says it.</summary>
    public static string ApplicationUri => $"urn:{Dns.GetHostName()}:fralto";

    /// <summary>Our certificate, in PEM.</summary>
    public string CertificateFile => Path.Combine(_directory, "own.pem");

    /// <summary>Our private key, in PEM.</summary>
    public string KeyFile => Path.Combine(_directory, "own-key.pem");

    /// <summary>Where the child keeps what its library wants to keep.</summary>
    public string ChildDirectory => Path.Combine(_directory, "child");

    private string TrustedDirectory => Path.Combine(_directory, "trusted");

    /// <summary>Our certificate; made when there is none.</summary>
    public X509Certificate2 Certificate()
    {
        lock (_lock)
        {
            if (!File.Exists(CertificateFile) || !File.Exists(KeyFile))
                Make();
            return X509Certificate2.CreateFromPem(File.ReadAllText(CertificateFile));
        }
    }

    /// <summary>How certificates are compared by people: SHA-256, in pairs.</summary>
    public static string FingerprintOf(byte[] der) =>
        string.Join(':', SHA256.HashData(der).Select(b => b.ToString("X2", System.Globalization.CultureInfo.InvariantCulture)));

    /// <summary>True for the certificate of a server somebody has said to trust.</summary>
    public bool IsTrusted(byte[] der) => File.Exists(FileOf(der));

    /// <summary>Trusts the certificate of a server from now on.</summary>
    /// <exception cref="CryptographicException">It is no certificate.</exception>
    public void Trust(byte[] der)
    {
        using var certificate = X509CertificateLoader.LoadCertificate(der);
        Directory.CreateDirectory(TrustedDirectory);
        var aside = FileOf(der) + ".new";
        File.WriteAllBytes(aside, der);
        File.Move(aside, FileOf(der), overwrite: true);
        TrustChanged?.Invoke();
    }

    /// <summary>Trusts the certificate of a server no longer.</summary>
    public void Distrust(byte[] der)
    {
        if (IsTrusted(der))
            File.Delete(FileOf(der));
        TrustChanged?.Invoke();
    }

    /// <summary>The certificates of servers that are trusted, by whom they name.</summary>
    /// <param name="now">The time, by which they are judged.</param>
    public IReadOnlyList<UaServerCertificate> Trusted(DateTimeOffset now) =>
        Directory.Exists(TrustedDirectory)
            ?
            [
                .. Directory
                    .EnumerateFiles(TrustedDirectory, "*.der")
                    .Select(f => UaServerCertificate.Of(File.ReadAllBytes(f), "", "", this, now))
                    .OrderBy(c => c.Subject, StringComparer.Ordinal)
                    .ThenBy(c => c.Fingerprint, StringComparer.Ordinal),
            ]
            : [];

    private string FileOf(byte[] der) => Path.Combine(TrustedDirectory, Convert.ToHexString(SHA256.HashData(der)) + ".der");

    private void Make()
    {
        Directory.CreateDirectory(_directory);
        using var key = RSA.Create(KeySize);
        var ask = new CertificateRequest($"CN=Fralto on {Dns.GetHostName()}", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        ask.CertificateExtensions.Add(new X509BasicConstraintsExtension(false, false, 0, true));
        ask.CertificateExtensions.Add(
            new X509KeyUsageExtension(
                X509KeyUsageFlags.DigitalSignature
                    | X509KeyUsageFlags.NonRepudiation
                    | X509KeyUsageFlags.KeyEncipherment
                    | X509KeyUsageFlags.DataEncipherment,
                true
            )
        );
        ask.CertificateExtensions.Add(
            new X509EnhancedKeyUsageExtension([new("1.3.6.1.5.5.7.3.2", "client"), new("1.3.6.1.5.5.7.3.1", "server")], false)
        );
        var names = new SubjectAlternativeNameBuilder();
        names.AddUri(new(ApplicationUri));
        names.AddDnsName(Dns.GetHostName());
        ask.CertificateExtensions.Add(names.Build());
        ask.CertificateExtensions.Add(new X509SubjectKeyIdentifierExtension(ask.PublicKey, false));
        // A day back, for servers whose clock is behind.
        var now = DateTimeOffset.UtcNow;
        using var made = ask.CreateSelfSigned(now.AddDays(-1), now + Valid);
        Write(KeyFile, key.ExportPkcs8PrivateKeyPem());
        Write(CertificateFile, made.ExportCertificatePem());
    }

    /// <summary>Nobody but us reads what is written, the key above all.</summary>
    private static void Write(string path, string text)
    {
        var options = new FileStreamOptions { Mode = FileMode.Create, Access = FileAccess.Write };
        if (!OperatingSystem.IsWindows())
            options.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        using var writer = new StreamWriter(path, options);
        writer.Write(text);
    }
}
