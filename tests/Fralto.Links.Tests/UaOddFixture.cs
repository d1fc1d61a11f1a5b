using Fralto.Links.OpcUa;
using Fralto.StandIns.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>A server with many variables, and with what servers seldom have.</summary>
public sealed class UaOddFixture : UaFixture
{
    public const int Many = 10_000;

    private readonly string _others = Directory.CreateTempSubdirectory("fralto-ua-").FullName;

    /// <summary>An application the server trusts, but not as a user.</summary>
    internal UaIdentity Visitor { get; private set; } = null!;

    /// <summary>An application the server does not trust.</summary>
    internal UaIdentity Stranger { get; private set; } = null!;

    /// <summary>A link to it that tests use one after the other: starting one costs more than most tests do.</summary>
    internal Heard Shared { get; private set; } = null!;

    public override async ValueTask InitializeAsync()
    {
        await base.InitializeAsync();
        Shared = Run(At(), "odd-ua", everyMs: 500);
    }

    public override async ValueTask DisposeAsync()
    {
        GC.SuppressFinalize(this);
        await Shared.DisposeAsync();
        Directory.Delete(_others, recursive: true);
        await base.DisposeAsync();
    }

    protected override UaServer Make(string directory)
    {
        (Visitor, Stranger) = (new(Path.Combine(_others, "visitor")), new(Path.Combine(_others, "stranger")));
        Put(Identity, "pki");
        Put(Identity, "users");
        Put(Visitor, "pki");
        return new(0, directory, Many, isOdd: true);

        // What its operator does who takes a certificate that is handed to him.
        void Put(UaIdentity identity, string among)
        {
            var trusted = Directory.CreateDirectory(Path.Combine(directory, among, "trusted", "certs"));
            using var own = identity.Certificate();
            File.WriteAllText(Path.Combine(trusted.FullName, $"{own.Thumbprint}.pem"), own.ExportCertificatePem());
        }
    }
}
