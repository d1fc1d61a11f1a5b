using Fralto.StandIns.OpcUa;

namespace Fralto.Links.Tests;

/// <summary>A server with many variables, and with what servers seldom have.</summary>
public sealed class UaOddFixture : UaFixture
{
    public const int Many = 10_000;

    protected override UaServer Make(string directory)
    {
        // Its operator has taken our certificate for that of a user.
        var users = Directory.CreateDirectory(Path.Combine(directory, "users", "trusted", "certs"));
        using var own = Identity.Certificate();
        File.WriteAllText(Path.Combine(users.FullName, "fralto.pem"), own.ExportCertificatePem());
        return new(0, directory, Many, isOdd: true);
    }
}
