using System.Globalization;
using Fralto.Core.Controllers;

namespace Fralto.Core.Mqtt;

/// <summary>A broker that devices publish to.</summary>
/// <remarks>The password is kept apart from the model: it is neither exchanged nor journalled.</remarks>
/// <param name="Host">Host name or IP address.</param>
/// <param name="Port">TCP port; MQTT is assigned 1883, with TLS 8883.</param>
public record MqttConnection(string Host, int Port) : Connection
{
    /// <summary>The port the protocol is assigned.</summary>
    public const int AssignedPort = 1883;

    /// <summary>Longest keep-alive the protocol has, in seconds.</summary>
    public const int LongestKeepAlive = 65535;

    /// <summary>True for MQTT 5.0, false for 3.1.1.</summary>
    public bool IsVersion5 { get; init; }

    /// <summary>True to speak over TLS.</summary>
    public bool UsesTls { get; init; }

    /// <summary>Certificate, in PEM, of the authority that has signed the broker's; empty to trust what this machine trusts.</summary>
    public string Authority { get; init; } = "";

    /// <summary>User name; empty for none.</summary>
    public string User { get; init; } = "";

    /// <summary>Client identifier; empty for one of Fralto's making.</summary>
    public string ClientId { get; init; } = "";

    /// <summary>Seconds between signs of life, 1 to 65535.</summary>
    public int KeepAlive { get; init; } = 15;

    /// <summary>Topic on which the device, or its last will, says whether it lives; empty for none.</summary>
    public string StatusTopic { get; init; } = "";

    /// <summary>The payload of <see cref="StatusTopic"/> that says the device lives; any other says it does not.</summary>
    public string OnlinePayload { get; init; } = "online";

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Mqtt;

    /// <inheritdoc/>
    public override string Place =>
        string.Create(CultureInfo.InvariantCulture, $"{(UsesTls ? "mqtts" : "mqtt")}://{(User.Length > 0 ? User + "@" : "")}{Host}:{Port}");

    /// <inheritdoc/>
    public override string? PasswordPlace =>
        string.Create(CultureInfo.InvariantCulture, $"{(UsesTls ? "mqtts" : "mqtt")}://{Host.ToLowerInvariant()}:{Port}");

    /// <inheritdoc/>
    public override Connection AtPort(int port) => this with { Port = port };
}
