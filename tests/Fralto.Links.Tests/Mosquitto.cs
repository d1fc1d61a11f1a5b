using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Fralto.Links.Tests;

/// <summary>Debian's mosquitto, a broker that is not ours, on a port of its own.</summary>
internal sealed class Mosquitto : IAsyncDisposable
{
    private readonly DirectoryInfo _directory = Directory.CreateTempSubdirectory("fralto-mosquitto-");
    private readonly string _program;
    private Process? _process;

    private Mosquitto(string program) => _program = program;

    public int Port { get; } = Ports.ForBroker();

    /// <summary>The certificate of the authority that has signed the broker's, in PEM; empty without TLS.</summary>
    public string Authority { get; private set; } = "";

    public static async Task<Mosquitto> StartAsync(bool tls = false, (string User, string Password)? user = null)
    {
        var broker = new Mosquitto(new[] { "/usr/sbin/mosquitto", "/usr/bin/mosquitto" }.First(File.Exists));
        await broker.ConfigureAsync(tls, user);
        await broker.OpenAsync();
        return broker;
    }

    public async Task OpenAsync()
    {
        _process = Process.Start(
            new ProcessStartInfo(_program, ["-c", Path.Combine(_directory.FullName, "broker.conf")])
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;
        _process.BeginErrorReadLine();
        _process.BeginOutputReadLine();
        for (var tries = 0; ; tries++)
        {
            try
            {
                using var probe = new TcpClient();
                await probe.ConnectAsync(IPAddress.Loopback, Port);
                return;
            }
            catch (SocketException) when (tries < 100)
            {
                await Task.Delay(50);
            }
        }
    }

    public async Task CloseAsync()
    {
        if (_process is null)
            return;
        _process.Kill();
        await _process.WaitForExitAsync();
        _process.Dispose();
        _process = null;
    }

    public async ValueTask DisposeAsync()
    {
        await CloseAsync();
        _directory.Delete(recursive: true);
    }

    private async Task ConfigureAsync(bool tls, (string User, string Password)? user)
    {
        var lines = new List<string> { $"listener {Port} 127.0.0.1", "persistence false", "user root" };
        string At(string name) => Path.Combine(_directory.FullName, name);
        if (user is { } who)
        {
            using var tool = Process.Start("mosquitto_passwd", ["-b", "-c", At("users"), who.User, who.Password]);
            await tool.WaitForExitAsync();
            lines.AddRange(["allow_anonymous false", $"password_file {At("users")}"]);
        }
        else
            lines.Add("allow_anonymous true");
        if (tls)
        {
            using var authorityKey = ECDsa.Create(ECCurve.NamedCurves.nistP256);
            var authorityRequest = new CertificateRequest("CN=Test authority", authorityKey, HashAlgorithmName.SHA256);
            authorityRequest.CertificateExtensions.Add(new X509BasicConstraintsExtension(true, false, 0, true));
            using var authority = authorityRequest.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddDays(2));
            using var key = ECDsa.Create(ECCurve.NamedCurves.nistP256);
            var request = new CertificateRequest("CN=localhost", key, HashAlgorithmName.SHA256);
            var names = new SubjectAlternativeNameBuilder();
            names.AddDnsName("localhost");
            request.CertificateExtensions.Add(names.Build());
            using var certificate = request.Create(
                authority,
                DateTimeOffset.UtcNow.AddDays(-1),
                DateTimeOffset.UtcNow.AddDays(1),
                [1, 2, 3, 4]
            );
            Authority = authority.ExportCertificatePem();
            await File.WriteAllTextAsync(At("server.pem"), certificate.ExportCertificatePem());
            await File.WriteAllTextAsync(At("server.key"), key.ExportPkcs8PrivateKeyPem());
            lines.AddRange([$"certfile {At("server.pem")}", $"keyfile {At("server.key")}"]);
        }
        await File.WriteAllLinesAsync(At("broker.conf"), lines);
    }
}
