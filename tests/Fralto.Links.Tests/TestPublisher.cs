using System.Buffers;
using System.Collections.Concurrent;
using System.Text;
using MQTTnet;
using MQTTnet.Protocol;

namespace Fralto.Links.Tests;

/// <summary>A device that publishes what a test tells it to.</summary>
internal sealed class TestPublisher : IAsyncDisposable
{
    private readonly IMqttClient _client = new MqttClientFactory().CreateMqttClient();

    /// <summary>What has come on the topics it listens to.</summary>
    public ConcurrentQueue<(string Topic, byte[] Payload)> Heard { get; } = new();

    public static async Task<TestPublisher> ConnectAsync(int port, (string Topic, byte[] Payload)? will = null, params string[] listens)
    {
        var publisher = new TestPublisher();
        publisher._client.ApplicationMessageReceivedAsync += args =>
        {
            publisher.Heard.Enqueue((args.ApplicationMessage.Topic, args.ApplicationMessage.Payload.ToArray()));
            return Task.CompletedTask;
        };
        var options = new MqttClientOptionsBuilder().WithTcpServer("127.0.0.1", port);
        if (will is { } last)
            options = options
                .WithWillTopic(last.Topic)
                .WithWillPayload(last.Payload)
                .WithWillQualityOfServiceLevel(MqttQualityOfServiceLevel.AtLeastOnce);
        await publisher._client.ConnectAsync(options.Build());
        foreach (var topic in listens)
            await publisher._client.SubscribeAsync(topic);
        return publisher;
    }

    public Task SayAsync(string topic, string payload, bool retain = false) => SayAsync(topic, Encoding.UTF8.GetBytes(payload), retain);

    public Task SayAsync(string topic, byte[] payload, bool retain = false) =>
        _client.PublishAsync(
            new MqttApplicationMessage
            {
                Topic = topic,
                PayloadSegment = payload,
                Retain = retain,
                QualityOfServiceLevel = MqttQualityOfServiceLevel.AtLeastOnce,
            }
        );

    /// <summary>Breaks the connection without taking leave, so that the broker says the last will.</summary>
    public void Break() => _client.Dispose();

    public ValueTask DisposeAsync()
    {
        _client.Dispose();
        return ValueTask.CompletedTask;
    }
}
