using System.Buffers;
using System.Text;
using MQTTnet;
using MQTTnet.Exceptions;
using MQTTnet.Protocol;

namespace Fralto.StandIns.Mqtt;

/// <summary>A device that publishes to a broker: it connects by itself, has a last will, and hears commands.</summary>
/// <param name="port">Port of the broker.</param>
/// <param name="clientId">Its identity at the broker.</param>
internal sealed class Publisher(Func<int> port, string clientId) : IAsyncDisposable
{
    private static readonly TimeSpan TryAgainAfter = TimeSpan.FromMilliseconds(500);
    private IMqttClient? _client;
    private DateTime _tryAgainAt;

    /// <summary>What the broker says when this device is gone without taking leave; asked for at each connection.</summary>
    public Func<(string Topic, byte[] Payload, bool Retain)>? Will { get; init; }

    /// <summary>What it listens to.</summary>
    public IReadOnlyList<string> Listens { get; init; } = [];

    /// <summary>A command has come.</summary>
    public Action<string, byte[]> Heard { get; init; } = (_, _) => { };

    /// <summary>True switches the device off: its connection breaks without leave.</summary>
    public bool IsOff { get; private set; }

    /// <summary>Connects when it is not connected and may be.</summary>
    /// <returns>True when it has connected just now.</returns>
    public async Task<bool> ConnectAsync(CancellationToken stop)
    {
        if (IsOff || _client is { IsConnected: true } || DateTime.UtcNow < _tryAgainAt)
            return false;
        _tryAgainAt = DateTime.UtcNow + TryAgainAfter;
        _client?.Dispose();
        var client = new MqttClientFactory().CreateMqttClient();
        client.ApplicationMessageReceivedAsync += args =>
        {
            Heard(args.ApplicationMessage.Topic, args.ApplicationMessage.Payload.ToArray());
            return Task.CompletedTask;
        };
        var options = new MqttClientOptionsBuilder().WithTcpServer("127.0.0.1", port()).WithClientId(clientId).WithCleanSession();
        if (Will?.Invoke() is { } will)
            options = options
                .WithWillTopic(will.Topic)
                .WithWillPayload(will.Payload)
                .WithWillRetain(will.Retain)
                .WithWillQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce);
        try
        {
            await client.ConnectAsync(options.Build(), stop);
            foreach (var topic in Listens)
                await client.SubscribeAsync(topic, MqttQualityOfServiceLevel.AtLeastOnce, stop);
            _client = client;
            return true;
        }
        catch (Exception e) when (e is MqttCommunicationException or OperationCanceledException or InvalidOperationException)
        {
            client.Dispose();
            return false;
        }
    }

    public Task SayAsync(string topic, string text, bool retain = false) => SayAsync(topic, Encoding.UTF8.GetBytes(text), retain);

    public async Task SayAsync(string topic, byte[] payload, bool retain = false)
    {
        if (_client is not { IsConnected: true } client)
            return;
        try
        {
            await client.PublishAsync(
                new MqttApplicationMessage
                {
                    Topic = topic,
                    PayloadSegment = payload,
                    Retain = retain,
                }
            );
        }
        catch (Exception e)
            when (e is MqttCommunicationException or InvalidOperationException or ObjectDisposedException or OperationCanceledException)
        {
            // The broker is gone; connecting is tried again.
        }
    }

    /// <summary>Breaks the connection without taking leave, so that the broker says the last will, and stays off; or lets it connect
    /// again.</summary>
    public void Switch(bool off)
    {
        IsOff = off;
        if (!off)
            return;
        // A client that is thrown away does not send DISCONNECT.
        _client?.Dispose();
        _client = null;
    }

    public async ValueTask DisposeAsync()
    {
        if (_client is { IsConnected: true } client)
        {
            try
            {
                await client.DisconnectAsync();
            }
            catch (Exception e) when (e is MqttCommunicationException or OperationCanceledException)
            {
                // Gone already.
            }
        }
        _client?.Dispose();
    }
}
