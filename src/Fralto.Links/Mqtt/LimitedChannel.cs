using System.Buffers;
using System.Buffers.Binary;
using System.Globalization;
using System.Net;
using System.Security.Cryptography.X509Certificates;
using System.Text;
using MQTTnet;
using MQTTnet.Adapter;
using MQTTnet.Channel;
using MQTTnet.Diagnostics.Logger;
using MQTTnet.Exceptions;
using MQTTnet.Formatter;
using MQTTnet.Implementations;

namespace Fralto.Links.Mqtt;

/// <summary>A connection to a broker on which no packet is larger than we take: room for a larger one is never made, and what one publisher
/// sends too much of costs the others nothing.</summary>
/// <remarks>
/// Each packet's header is read here before anybody else sees it. A message that is too large is read past and told of; any other packet of
/// that size ends the connection.
/// The length stands in the second to fifth byte of a packet, seven bits in each (MQTT 3.1.1 and 5.0, sections 2.2.3 and 2.1.4).
/// </remarks>
/// <param name="channel">The connection itself.</param>
/// <param name="largest">Bytes after the header that are taken.</param>
/// <param name="passedOver">Is told of each message that was read past.</param>
internal sealed class LimitedChannel(IMqttChannel channel, long largest, Action<string> passedOver) : IMqttChannel
{
    private const int LongestHeader = 5;
    private const int Publish = 3;
    private const int MostTopic = 200;

    // What has been read ahead: many small messages come with one call of the system.
    private readonly byte[] _ahead = new byte[16 * 1024];
    private readonly byte[] _header = new byte[LongestHeader];
    private int _aheadFrom;
    private int _aheadTo;
    private int _headerRead;
    private int _headerGiven;

    // What is left of the packet that is being read.
    private long _left;

    public X509Certificate2? ClientCertificate => channel.ClientCertificate;

    public EndPoint? RemoteEndPoint => channel.RemoteEndPoint;

    public EndPoint? LocalEndPoint => channel.LocalEndPoint;

    public bool IsSecureConnection => channel.IsSecureConnection;

    public Task ConnectAsync(CancellationToken cancellationToken) => channel.ConnectAsync(cancellationToken);

    public Task DisconnectAsync(CancellationToken cancellationToken) => channel.DisconnectAsync(cancellationToken);

    public Task WriteAsync(ReadOnlySequence<byte> buffer, bool isEndOfPacket, CancellationToken cancellationToken) =>
        channel.WriteAsync(buffer, isEndOfPacket, cancellationToken);

    public async Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken)
    {
        while (_headerGiven == _headerRead && _left == 0)
            if (!await BeginAsync(cancellationToken).ConfigureAwait(false))
                return 0;
        if (_headerGiven < _headerRead)
        {
            var given = Math.Min(count, _headerRead - _headerGiven);
            _header.AsSpan(_headerGiven, given).CopyTo(buffer.AsSpan(offset));
            _headerGiven += given;
            return given;
        }
        var read = await TakeAsync(buffer, offset, (int)Math.Min(count, _left), cancellationToken).ConfigureAwait(false);
        _left -= Math.Max(0, read);
        return read;
    }

    /// <summary>Some bytes: those read ahead, else what comes next.</summary>
    private async ValueTask<int> TakeAsync(byte[] into, int offset, int count, CancellationToken stop)
    {
        if (_aheadFrom == _aheadTo)
        {
            if (count >= _ahead.Length)
                return await channel.ReadAsync(into, offset, count, stop).ConfigureAwait(false);
            var read = await channel.ReadAsync(_ahead, 0, _ahead.Length, stop).ConfigureAwait(false);
            if (read <= 0)
                return read;
            (_aheadFrom, _aheadTo) = (0, read);
        }
        var taken = Math.Min(count, _aheadTo - _aheadFrom);
        _ahead.AsSpan(_aheadFrom, taken).CopyTo(into.AsSpan(offset));
        _aheadFrom += taken;
        return taken;
    }

    public void Dispose() => channel.Dispose();

    /// <summary>Reads the header of the next packet, and past the packet when it is too large.</summary>
    /// <returns>False when the connection has ended.</returns>
    private async Task<bool> BeginAsync(CancellationToken stop)
    {
        (_headerRead, _headerGiven) = (0, 0);
        do
        {
            if (await TakeAsync(_header, _headerRead, 1, stop).ConfigureAwait(false) <= 0)
                return false;
            _headerRead++;
        } while (_headerRead < 2 || ((_header[_headerRead - 1] & 0x80) != 0 && _headerRead < LongestHeader));
        if ((_header[_headerRead - 1] & 0x80) != 0)
            throw new MqttProtocolViolationException("a packet's length goes on beyond four bytes");
        _left = 0;
        for (var i = 1; i < _headerRead; i++)
            _left |= (long)(_header[i] & 0x7F) << (7 * (i - 1));
        if (_left <= largest)
            return true;
        if (_header[0] >> 4 != Publish)
            throw new MqttProtocolViolationException(Words("a packet", _left));
        await PassOverAsync(stop).ConfigureAwait(false);
        return true;
    }

    private async Task PassOverAsync(CancellationToken stop)
    {
        var (size, some) = (_left, new byte[ushort.MaxValue]);
        await FillAsync(some, 2, stop).ConfigureAwait(false);
        var topic = BinaryPrimitives.ReadUInt16BigEndian(some);
        await FillAsync(some, topic, stop).ConfigureAwait(false);
        passedOver(Words($"a message on {Encoding.UTF8.GetString(some, 0, Math.Min((int)topic, MostTopic))}", size));
        while (_left > 0)
            await FillAsync(some, (int)Math.Min(_left, some.Length), stop).ConfigureAwait(false);
        (_headerRead, _headerGiven) = (0, 0);
    }

    private async Task FillAsync(byte[] into, int bytes, CancellationToken stop)
    {
        for (var filled = 0; filled < bytes; )
        {
            var read = await TakeAsync(into, filled, bytes - filled, stop).ConfigureAwait(false);
            if (read <= 0)
                throw new MqttCommunicationException("the connection ended in a message that was passed over");
            (filled, _left) = (filled + read, _left - read);
        }
    }

    private string Words(string what, long bytes) =>
        string.Create(CultureInfo.InvariantCulture, $"the broker sends {what} of {bytes:N0} bytes; {largest:N0} is the most that is taken");

    /// <summary>Makes such connections.</summary>
    internal sealed class Factory(long largest, Action<string> passedOver) : IMqttClientAdapterFactory
    {
        public IMqttChannelAdapter CreateClientAdapter(
            MqttClientOptions options,
            MqttPacketInspector packetInspector,
            IMqttNetLogger logger
        ) =>
            new MqttChannelAdapter(
                new LimitedChannel(new MqttTcpChannel(options), largest, passedOver),
                new MqttPacketFormatterAdapter(
                    options.ProtocolVersion,
                    new MqttBufferWriter(options.WriterBufferSize, options.WriterBufferSizeMax)
                ),
                logger
            )
            {
                AllowPacketFragmentation = options.AllowPacketFragmentation,
                PacketInspector = packetInspector,
            };
    }
}
