using System.Net;
using System.Net.Sockets;

namespace Fralto.Links.Tests;

/// <summary>A wire between a client and a server that can be cut in the middle of what is said, or go dead without a word.</summary>
internal sealed class Relay : IDisposable
{
    private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
    private readonly int _to;
    private readonly CancellationTokenSource _stop = new();
    private volatile bool _isDead;
    private int _cutAfter = int.MaxValue;

    public Relay(int to)
    {
        _to = to;
        _listener.Start();
        Port = ((IPEndPoint)_listener.LocalEndpoint).Port;
        _ = AcceptAsync();
    }

    public int Port { get; }

    /// <summary>How many connections were cut.</summary>
    public int Cuts { get; private set; }

    /// <summary>True while nothing comes through and nobody is told: connections stay open, as where a cable is pulled.</summary>
    public bool IsDead
    {
        set => _isDead = value;
    }

    /// <summary>Every connection is cut once so many bytes have come from the server; <see cref="int.MaxValue"/> for never.</summary>
    public int CutAfter
    {
        set => Volatile.Write(ref _cutAfter, value);
    }

    public void Dispose()
    {
        _stop.Cancel();
        _listener.Dispose();
        _stop.Dispose();
    }

    private async Task AcceptAsync()
    {
        try
        {
            while (true)
                _ = ServeAsync(await _listener.AcceptTcpClientAsync(_stop.Token));
        }
        catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException)
        {
            // It is over.
        }
    }

    private async Task ServeAsync(TcpClient client)
    {
        using var one = client;
        using var other = new TcpClient();
        try
        {
            await other.ConnectAsync(IPAddress.Loopback, _to, _stop.Token);
            await Task.WhenAny(
                PumpAsync(one.GetStream(), other.GetStream(), isCut: false),
                PumpAsync(other.GetStream(), one.GetStream(), isCut: true)
            );
        }
        catch (Exception e) when (e is OperationCanceledException or SocketException or IOException)
        {
            // One of them is gone, and so is the other.
        }
    }

    private async Task PumpAsync(NetworkStream from, NetworkStream to, bool isCut)
    {
        var buffer = new byte[4096];
        var sent = 0;
        while (true)
        {
            var read = await from.ReadAsync(buffer, _stop.Token);
            if (read == 0)
                return;
            if (_isDead)
                continue;
            var most = isCut ? Volatile.Read(ref _cutAfter) - sent : int.MaxValue;
            await to.WriteAsync(buffer.AsMemory(0, Math.Clamp(most, 0, read)), _stop.Token);
            sent += read;
            if (most >= read)
                continue;
            Cuts++;
            return;
        }
    }
}
