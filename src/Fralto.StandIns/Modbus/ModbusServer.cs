using System.Net;
using System.Net.Sockets;
using Fralto.Core.Modbus;

namespace Fralto.StandIns.Modbus;

/// <summary>A Modbus TCP server on the loopback interface, answering from a register bank.</summary>
/// <remarks>Any general Modbus client can be pointed at it. Requests for another unit id answer exception 11, as a gateway does.</remarks>
/// <param name="port">The port to listen on; 0 lets the system choose.</param>
/// <param name="banks">The registers of each unit id.</param>
public sealed class ModbusServer(int port, IReadOnlyDictionary<byte, RegisterBank> banks) : IAsyncDisposable
{
    private const int MostConnections = 32;
    private readonly SemaphoreSlim _switch = new(1);
    private readonly Lock _lock = new();
    private readonly HashSet<TcpClient> _clients = [];
    private CancellationTokenSource? _stop;
    private TcpListener? _listener;
    private Task _accepting = Task.CompletedTask;

    /// <summary>A server of one device.</summary>
    public ModbusServer(int port, byte unitId, RegisterBank bank)
        : this(port, new Dictionary<byte, RegisterBank> { [unitId] = bank }) { }

    /// <summary>The port it listens on; the one the system chose when it was made with 0.</summary>
    public int Port { get; private set; } = port;

    /// <summary>True while it listens.</summary>
    public bool IsOpen => _listener is not null;

    /// <summary>How long it thinks before each answer.</summary>
    public TimeSpan Delay { get; set; }

    /// <summary>Starts listening.</summary>
    public async Task OpenAsync()
    {
        await _switch.WaitAsync();
        try
        {
            if (_listener is not null)
                return;
            var listener = new TcpListener(IPAddress.Loopback, Port);
            listener.Start();
            Port = ((IPEndPoint)listener.LocalEndpoint).Port;
            _stop = new CancellationTokenSource();
            _listener = listener;
            _accepting = AcceptAsync(listener, _stop.Token);
        }
        finally
        {
            _switch.Release();
        }
    }

    /// <summary>Stops listening and closes every connection: the controller is gone.</summary>
    public async Task CloseAsync()
    {
        await _switch.WaitAsync();
        try
        {
            if (_listener is null)
                return;
            await _stop!.CancelAsync();
            _listener.Stop();
            _listener = null;
            lock (_lock)
            {
                foreach (var client in _clients)
                    client.Dispose();
                _clients.Clear();
            }
            await _accepting;
            _stop.Dispose();
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

    private async Task AcceptAsync(TcpListener listener, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
        {
            try
            {
                var client = await listener.AcceptTcpClientAsync(stop);
                lock (_lock)
                {
                    if (stop.IsCancellationRequested || _clients.Count >= MostConnections)
                    {
                        client.Dispose();
                        continue;
                    }
                    _clients.Add(client);
                }
                _ = ServeAsync(client, stop);
            }
            catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException)
            {
                // A connection that fails while it is accepted concerns nobody else; a stop ends the loop.
            }
        }
    }

    private async Task ServeAsync(TcpClient client, CancellationToken stop)
    {
        try
        {
            client.NoDelay = true;
            var stream = client.GetStream();
            var header = new byte[MbapHeader.Size];
            var pdu = new byte[ModbusLimits.Pdu];
            while (true)
            {
                await stream.ReadExactlyAsync(header, stop);
                var mbap = MbapHeader.Read(header);
                if (!mbap.IsModbus)
                    return;
                await stream.ReadExactlyAsync(pdu.AsMemory(0, mbap.PduLength), stop);
                if (Delay > TimeSpan.Zero)
                    await Task.Delay(Delay, stop);
                await stream.WriteAsync(
                    MbapHeader.Frame(mbap.TransactionId, mbap.UnitId, Answer(mbap.UnitId, pdu.AsSpan(0, mbap.PduLength))),
                    stop
                );
            }
        }
        catch (Exception e) when (e is IOException or OperationCanceledException or ObjectDisposedException or SocketException)
        {
            // The client has gone, or the server is closing.
        }
        finally
        {
            lock (_lock)
                _clients.Remove(client);
            client.Dispose();
        }
    }

    private byte[] Answer(byte forUnit, ReadOnlySpan<byte> pdu)
    {
        if (!banks.TryGetValue(forUnit, out var bank))
            return ModbusResponse.RefusalPdu(pdu[0], ModbusExceptionCode.GatewayTargetFailedToRespond);
        return ModbusRequest.TryParse(pdu, out var request) is { } refusal
            ? ModbusResponse.RefusalPdu(pdu[0], refusal)
            : bank.Answer(request!).ToPdu(request!);
    }
}
