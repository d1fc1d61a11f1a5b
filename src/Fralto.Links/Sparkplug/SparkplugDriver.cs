using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Links.Mqtt;

namespace Fralto.Links.Sparkplug;

/// <summary>Sparkplug B over MQTT.</summary>
public sealed class SparkplugDriver : IProtocolDriver
{
    public Protocol Protocol => Protocol.Sparkplug;

    public ILink Create(LinkSetup setup) => new SparkplugLink(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock, setup.Password);

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        MqttLink.TestAsync((MqttConnection)connection, password, stop);
}
