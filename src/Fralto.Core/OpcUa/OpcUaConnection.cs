using Fralto.Core.Controllers;

namespace Fralto.Core.OpcUa;

/// <summary>An OPC UA server.</summary>
/// <param name="Endpoint">Its address: opc.tcp://host:4840/path.</param>
public sealed record OpcUaConnection(string Endpoint) : Connection
{
    /// <summary>The port IANA gives to opc.tcp.</summary>
    public const int AssignedPort = 4840;

    /// <summary>The most values a server keeps between two publishes.</summary>
    public const int MostQueued = 1000;

    /// <summary>How it is secured.</summary>
    public UaSecurity Security { get; init; } = UaSecurity.Usual;

    /// <summary>As whom Fralto comes.</summary>
    public UaLogin Login { get; init; }

    /// <summary>Name of the user; empty for none.</summary>
    public string User { get; init; } = "";

    /// <summary>Time between two samples of the server; zero for as often as it publishes.</summary>
    public TimeSpan Sampling { get; init; }

    /// <summary>How many values the server keeps of a node between two publishes.</summary>
    public int Queue { get; init; } = 1;

    /// <summary>Smallest change that is told, in percent of a node's range; 0 for any.</summary>
    public double Deadband { get; init; }

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.OpcUa;

    /// <inheritdoc/>
    public override string Place => Endpoint;

    /// <inheritdoc/>
    public override string? PasswordPlace =>
        Login == UaLogin.Password
            ? $"{Authority}, {(Security.Mode == "SignAndEncrypt" ? "encrypted" : "encrypted by the server's certificate alone")}"
            : null;

    /// <inheritdoc/>
    public override bool IsTimed => false;

    /// <summary>The host in the address; empty where it is none.</summary>
    public string Host => Uri.TryCreate(Endpoint, UriKind.Absolute, out var uri) ? uri.IdnHost : "";

    /// <summary>Host and port.</summary>
    public string Authority =>
        Uri.TryCreate(Endpoint, UriKind.Absolute, out var uri) ? $"{uri.Host}:{(uri.Port > 0 ? uri.Port : AssignedPort)}" : Endpoint;

    /// <inheritdoc/>
    public override Connection AtPort(int port) =>
        Uri.TryCreate(Endpoint, UriKind.Absolute, out var uri)
            ? this with
            {
                Endpoint = $"opc.tcp://{uri.Host}:{port}{uri.AbsolutePath.TrimEnd('/')}",
            }
            : this;
}
