using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;

namespace Fralto.Core.Sparkplug;

/// <summary>A broker at which Fralto is a Sparkplug B host application.</summary>
public sealed record SparkplugConnection(string Host, int Port) : MqttConnection(Host, Port)
{
    /// <summary>Group to listen to; empty for all.</summary>
    public string Group { get; init; } = "";

    /// <summary>Identity of this host application, in spBv1.0/STATE/{host id}.</summary>
    public string HostId { get; init; } = "fralto";

    /// <inheritdoc/>
    public override bool IsTimed => false;

    /// <inheritdoc/>
    public override Protocol Protocol => Protocol.Sparkplug;
}
