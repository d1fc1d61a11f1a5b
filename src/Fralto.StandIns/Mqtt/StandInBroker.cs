using System.Net;
using MQTTnet.Server;

namespace Fralto.StandIns.Mqtt;

/// <summary>An MQTT broker on the loopback interface; any broker can take its place.</summary>
public sealed class StandInBroker(int port) : IAsyncDisposable
{
    private readonly SemaphoreSlim _switch = new(1);
    private MqttServer? _server;

    /// <summary>The port it listens on.</summary>
    public int Port { get; private set; } = port;

    /// <summary>True while it listens.</summary>
    public bool IsOpen => _server is not null;

    public async Task OpenAsync()
    {
        await _switch.WaitAsync();
        try
        {
            if (_server is not null)
                return;
            if (Port == 0)
                Port = FreePort();
            var options = new MqttServerOptionsBuilder()
                .WithDefaultEndpoint()
                .WithDefaultEndpointBoundIPAddress(IPAddress.Loopback)
                .WithDefaultEndpointBoundIPV6Address(IPAddress.None)
                .WithDefaultEndpointPort(Port)
                .WithMaxPendingMessagesPerClient(20_000)
                .Build();
            var server = new MqttServerFactory().CreateMqttServer(options);
            await server.StartAsync();
            _server = server;
        }
        finally
        {
            _switch.Release();
        }
    }

    /// <summary>Stops listening, closes every connection and forgets what was kept: the broker is gone.</summary>
    public async Task CloseAsync()
    {
        await _switch.WaitAsync();
        try
        {
            if (_server is null)
                return;
            await _server.StopAsync();
            _server.Dispose();
            _server = null;
        }
        finally
        {
            _switch.Release();
        }
    }

    public async ValueTask DisposeAsync()
    {
        await CloseAsync();
        _switch.Dispose();
    }

    private static int FreePort()
    {
        var probe = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        var port = ((IPEndPoint)probe.LocalEndpoint).Port;
        probe.Stop();
        return port;
    }
}
