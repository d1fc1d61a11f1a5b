using System.Net;
using System.Net.Sockets;

namespace Fralto.Links.Tests;

/// <summary>A broker that does what no broker should: each connection is answered byte by byte as a test says.</summary>
internal sealed class RawBroker : IAsyncDisposable
{
    private static readonly byte[] ConnAck = [0x20, 2, 0, 0];
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly CancellationTokenSource _stop = new();
    private readonly Task _serving;
    private int _connections;

    /// <param name="serve">Is given each connection after CONNECT was read and accepted; what it returns from closes it.</param>
    /// <param name="accept">False leaves also CONNECT without an answer.</param>
    public RawBroker(Func<NetworkStream, CancellationToken, Task> serve, bool accept = true)
    {
        _listener.Start();
        _serving = Task.Run(() => ServeAsync(serve, accept));
    }

    public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;

    /// <summary>Connections made so far.</summary>
    public int Connections => Volatile.Read(ref _connections);

    /// <summary>Says nothing, but stays.</summary>
    public static Task Silence(NetworkStream stream, CancellationToken stop) => Task.Delay(Timeout.Infinite, stop);

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        _listener.Stop();
        await _serving;
        _stop.Dispose();
    }

    private async Task ServeAsync(Func<NetworkStream, CancellationToken, Task> serve, bool accept)
    {
        var open = new List<Task>();
        while (!_stop.IsCancellationRequested)
        {
            try
            {
                var client = await _listener.AcceptTcpClientAsync(_stop.Token);
                Interlocked.Increment(ref _connections);
                open.Add(AnswerAsync(client, serve, accept));
            }
            catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException)
            {
                break;
            }
        }
        await Task.WhenAll(open);
    }

    private async Task AnswerAsync(TcpClient client, Func<NetworkStream, CancellationToken, Task> serve, bool accept)
    {
        using var its = client;
        try
        {
            var stream = client.GetStream();
            _ = await stream.ReadAsync(new byte[1000], _stop.Token);
            if (accept)
                await stream.WriteAsync(ConnAck, _stop.Token);
            await serve(stream, _stop.Token);
        }
        catch (Exception e) when (e is OperationCanceledException or IOException or SocketException)
        {
            // The test is over, or the link has left.
        }
    }
}
