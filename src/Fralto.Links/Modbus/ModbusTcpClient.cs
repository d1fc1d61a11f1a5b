using System.Globalization;
using System.Net.Sockets;
using Fralto.Core.Modbus;
using Fralto.Core.Quality;

namespace Fralto.Links.Modbus;

/// <summary>One TCP connection to a Modbus server. One request at a time; not for use by several callers at once.</summary>
public sealed class ModbusTcpClient : IDisposable
{
    private readonly TcpClient _tcp;
    private readonly NetworkStream _stream;
    private readonly byte[] _buffer = new byte[2 * (MbapHeader.Size + ModbusLimits.Pdu)];
    private int _filled;
    private ushort _transaction;

    private ModbusTcpClient(TcpClient tcp)
    {
        _tcp = tcp;
        _stream = tcp.GetStream();
    }

    /// <summary>Connects.</summary>
    /// <exception cref="LinkException">Refused, unknown host, unreachable or no answer in time, in words.</exception>
    public static async Task<ModbusTcpClient> ConnectAsync(string host, int port, TimeSpan timeout, CancellationToken stop)
    {
        var where = $"{host}:{port.ToString(CultureInfo.InvariantCulture)}";
        var tcp = new TcpClient { NoDelay = true };
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(timeout);
        try
        {
            await tcp.ConnectAsync(host, port, limit.Token);
            return new ModbusTcpClient(tcp);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            tcp.Dispose();
            throw new LinkException(
                StatusCode.BadNotConnected,
                $"timed out: {where} did not answer the connection within {Millis(timeout)}; check the address and whether the device is on"
            );
        }
        catch (SocketException e)
        {
            tcp.Dispose();
            throw new LinkException(StatusCode.BadNotConnected, Explain(e, host, where), e);
        }
        catch
        {
            tcp.Dispose();
            throw;
        }
    }

    /// <summary>Bytes sent and received.</summary>
    public long Bytes { get; private set; }

    /// <summary>Sends a request and waits for its answer. Late answers to earlier requests are passed over by their transaction
    /// id.</summary>
    /// <exception cref="LinkException">No answer in time, connection lost, or an answer that is not Modbus. Exceptions of the device are
    /// answers, not errors.</exception>
    public async Task<ModbusResponse> AskAsync(int unitId, ModbusRequest request, TimeSpan timeout, CancellationToken stop)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(timeout);
        var (strays, stray, wanted) = (0, (ushort)0, MbapHeader.Size);
        try
        {
            var transaction = ++_transaction;
            var frame = MbapHeader.Frame(transaction, (byte)unitId, request.ToPdu());
            await _stream.WriteAsync(frame, limit.Token);
            Bytes += frame.Length;
            while (true)
            {
                await FillAsync(MbapHeader.Size, limit.Token);
                var header = MbapHeader.Read(_buffer);
                if (!header.IsModbus)
                    throw Garbage("a header that is not Modbus TCP");
                var length = wanted = MbapHeader.Size + header.PduLength;
                await FillAsync(length, limit.Token);
                var response =
                    header.TransactionId == transaction
                        ? ModbusResponse.Parse(_buffer.AsSpan(MbapHeader.Size, header.PduLength), request)
                        : null;
                Drop(length);
                if (header.TransactionId != transaction)
                {
                    (strays, stray, wanted) = (strays + 1, header.TransactionId, MbapHeader.Size);
                    continue;
                }
                if (header.UnitId != (byte)unitId)
                    throw new LinkException(
                        StatusCode.BadDecodingError,
                        $"unit id {header.UnitId} answered instead of {unitId}; check the unit id"
                    );
                return response ?? throw Garbage("an answer that does not fit the question");
            }
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            throw new LinkException(
                StatusCode.BadTimeout,
                _filled > 0 ? $"timed out: only {_filled} of {wanted} bytes of the answer of unit id {unitId} came within {Millis(timeout)}"
                    : strays > 0 && stray < _transaction
                        ? $"timed out: no answer to unit id {unitId} within {Millis(timeout)}, only late ones to earlier questions; "
                            + $"the device is slower than that"
                    : strays > 0
                        ? $"timed out: unit id {unitId} answered with transaction id {stray} instead of {_transaction}; the answer is "
                            + $"to another question"
                    : $"timed out: no answer to unit id {unitId} within {Millis(timeout)}"
            );
        }
        catch (Exception e) when (e is IOException or SocketException or ObjectDisposedException)
        {
            throw new LinkException(StatusCode.BadNotConnected, "connection lost: the device closed it", e);
        }
    }

    public void Dispose() => _tcp.Dispose();

    private static LinkException Garbage(string what) => new(StatusCode.BadDecodingError, $"answers wrongly: the device sent {what}");

    private static string Millis(TimeSpan time) => $"{time.TotalMilliseconds.ToString("0", CultureInfo.InvariantCulture)} ms";

    private static string Explain(SocketException e, string host, string where) =>
        e.SocketErrorCode switch
        {
            SocketError.ConnectionRefused => $"connection refused by {where}: the host is there, but nothing listens on this port",
            SocketError.HostNotFound or SocketError.NoData or SocketError.TryAgain => $"no host is called {host}",
            SocketError.HostUnreachable or SocketError.NetworkUnreachable => $"{host} cannot be reached from here",
            SocketError.TimedOut => $"timed out: {where} did not answer the connection",
            _ => $"cannot connect to {where}: {e.SocketErrorCode}",
        };

    /// <summary>Reads until the buffer holds so many bytes. A partial frame stays in it when time runs out.</summary>
    private async Task FillAsync(int bytes, CancellationToken limit)
    {
        while (_filled < bytes)
        {
            var read = await _stream.ReadAsync(_buffer.AsMemory(_filled), limit);
            if (read == 0)
                throw new LinkException(StatusCode.BadNotConnected, "connection lost: the device closed it");
            _filled += read;
            Bytes += read;
        }
    }

    private void Drop(int bytes)
    {
        _buffer.AsSpan(bytes, _filled - bytes).CopyTo(_buffer);
        _filled -= bytes;
    }
}
