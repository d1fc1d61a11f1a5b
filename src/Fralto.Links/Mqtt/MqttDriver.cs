using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;

namespace Fralto.Links.Mqtt;

/// <summary>MQTT with plain payloads.</summary>
public sealed class MqttDriver : IProtocolDriver
{
    public Protocol Protocol => Protocol.Mqtt;

    public ILink Create(LinkSetup setup) => new MqttLink(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock, setup.Password);

    public Task<LinkTest> TestAsync(Connection connection, string? password, Tag? probe, CancellationToken stop) =>
        MqttLink.TestAsync((MqttConnection)connection, password, stop);
}
