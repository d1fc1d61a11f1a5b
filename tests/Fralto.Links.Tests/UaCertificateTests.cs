using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Fralto.Links.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>What speaks against the certificate of a server (OPC UA Part 4, clause 6.1.3), and who we are.</summary>
public sealed class UaCertificateTests : IDisposable
{
    private static readonly DateTimeOffset Now = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-ua-").FullName;

    private UaIdentity Identity => new(_directory);

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    private static byte[] Made(double from = -1, double until = 365, string? host = "pump-house", string uri = "urn:server")
    {
        using var key = RSA.Create(2048);
        var ask = new CertificateRequest("CN=server", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        var names = new SubjectAlternativeNameBuilder();
        names.AddUri(new(uri));
        if (host is not null)
            names.AddDnsName(host);
        names.AddIpAddress(System.Net.IPAddress.Parse("10.0.0.7"));
        ask.CertificateExtensions.Add(names.Build());
        using var made = ask.CreateSelfSigned(Now.AddDays(from), Now.AddDays(until));
        return made.RawData;
    }

    private UaServerCertificate Judged(byte[] der, string host = "pump-house") =>
        UaServerCertificate.Of(der, host, "urn:server", Identity, Now);

    [Fact]
    public void One_that_is_sound_is_used_once_it_is_trusted()
    {
        var der = Made();
        var before = Judged(der);
        (before.Problem, before.IsTrusted, before.Status.Value).ShouldBe((null, false, 0x801A0000u));
        before.Remarks.ShouldBeEmpty();
        before.Fingerprint.Replace(":", "", StringComparison.Ordinal).ShouldBe(Convert.ToHexString(SHA256.HashData(der)));
        Identity.Distrust(der);
        Identity.Trust(der);
        var after = Judged(der);
        (after.IsTrusted, after.Status.IsGood).ShouldBe((true, true));
        Identity.Trusted(Now).Single().Fingerprint.ShouldBe(after.Fingerprint);
        Identity.Distrust(der);
        Judged(der).IsTrusted.ShouldBeFalse();
        Identity.Trusted(Now).ShouldBeEmpty();
    }

    [Theory]
    [InlineData(-30, -1, "it ran out on 2026-05-31 12:00 UTC")]
    [InlineData(1, 30, "it is not valid before 2026-06-02 12:00 UTC")]
    public void One_outside_its_time_is_not_used_even_when_it_is_trusted(double from, double until, string says)
    {
        var der = Made(from, until);
        Identity.Trust(der);
        var judged = Judged(der);
        judged.Problem!.ShouldContain(says);
        judged.Status.Value.ShouldBe(0x80140000u);
    }

    [Theory]
    [InlineData("pump-house", true)]
    [InlineData("PUMP-HOUSE", true)]
    [InlineData("10.0.0.7", true)]
    [InlineData("10.0.0.8", false)]
    [InlineData("pump", false)]
    public void A_host_it_does_not_name_is_said(string host, bool isNamed) => (Judged(Made(), host).Remarks.Count == 0).ShouldBe(isNamed);

    [Fact]
    public void Another_application_than_the_server_says_it_is_is_said() =>
        Judged(Made(uri: "urn:other")).Remarks.Single().ShouldBe("it is of urn:other, while the server says it is urn:server");

    [Fact]
    public void What_is_no_certificate_is_said_and_cannot_be_trusted()
    {
        Judged([1, 2, 3]).Problem!.ShouldStartWith("it cannot be read");
        Should.Throw<CryptographicException>(() => Identity.Trust([1, 2, 3]));
        Identity.Trusted(Now).ShouldBeEmpty();
    }

    [Fact]
    public void Of_a_chain_the_first_counts()
    {
        var der = Made();
        Judged([.. der, .. Made()]).Fingerprint.ShouldBe(Judged(der).Fingerprint);
    }

    [Fact]
    public void Ours_names_our_application_is_made_once_and_its_key_is_for_us_alone()
    {
        using var ours = Identity.Certificate();
        using var again = Identity.Certificate();
        again.Thumbprint.ShouldBe(ours.Thumbprint);
        UaServerCertificate.Of(ours.RawData, "", UaIdentity.ApplicationUri, Identity, DateTimeOffset.UtcNow).Remarks.ShouldBeEmpty();
        if (!OperatingSystem.IsWindows())
            File.GetUnixFileMode(Identity.KeyFile).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }
}
