using System.Net;
using System.Net.Sockets;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.Modbus;
using Fralto.StandIns.Modbus;

namespace Fralto.Links.Tests;

/// <summary>Writes with read-back, several unit ids, update classes, and connections that break in nasty ways.</summary>
public sealed class ModbusWriteTests : IAsyncLifetime
{
    private readonly RegisterBank _bank = new(64, 64, 300, 300);
    private ModbusServer _server = null!;

    public async ValueTask InitializeAsync()
    {
        _server = new ModbusServer(0, 1, _bank);
        await _server.OpenAsync();
    }

    public ValueTask DisposeAsync() => _server.DisposeAsync();

    [Theory]
    [InlineData(RawType.Int16, WordOrder.HighFirst, -7)]
    [InlineData(RawType.Float32, WordOrder.LowFirst, 61.5)]
    [InlineData(RawType.Float64, WordOrder.HighFirstSwapped, 1e-9)]
    [InlineData(RawType.Bcd32, WordOrder.HighFirst, 12345678)]
    public async Task A_register_is_written_and_confirmed_when_it_reads_back(RawType type, WordOrder order, double raw)
    {
        var tag = Tag(1, RegisterArea.HoldingRegister, 10, type, order);
        await using var heard = Start(tag);
        await heard.Holds(1, 0);
        (await heard.Link.WriteAsync(TagWrite.Of(tag, raw, null, out _)!, default)).ShouldBe(WriteResult.Confirmed);
        _bank.Read(RegisterArea.HoldingRegister, 10, type, order).ShouldBe(raw);
        await heard.Holds(1, raw);
    }

    [Fact]
    public async Task Bits_and_elements_are_written_and_their_neighbours_stay()
    {
        var (word, coil, array, bit) = (
            Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16),
            Tag(2, RegisterArea.Coil, 5, RawType.Bool),
            Tag(3, RegisterArea.HoldingRegister, 20, RawType.Int16) with
            {
                Count = 3,
            },
            Tag(4, RegisterArea.HoldingRegister, 30, RawType.Bool)
        );
        bit = bit with { Address = new ModbusAddress(RegisterArea.HoldingRegister, 30, 7) };
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.UInt16, WordOrder.HighFirst, 0xF00F);
        _bank.Set(RegisterArea.HoldingRegister, 30, RawType.UInt16, WordOrder.HighFirst, 0x0101);
        await using var heard = Start(word, coil, array, bit);
        await heard.Holds(1, 0xF00F);
        (await heard.Link.WriteAsync(TagWrite.Of(word, 5, Slice.Parse(".4-6"), out _)!, default)).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(1, 0xF05F);
        (await heard.Link.WriteAsync(TagWrite.Of(coil, 1, null, out _)!, default)).ShouldBe(WriteResult.Confirmed);
        _bank.Coil(5).ShouldBeTrue();
        (await heard.Link.WriteAsync(TagWrite.Of(array, -2, Slice.Parse("[1]"), out _)!, default)).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(3, -2, 1);
        await heard.Holds(3, 0, 2);
        (await heard.Link.WriteAsync(TagWrite.Of(bit, 1, null, out _)!, default)).ShouldBe(WriteResult.Confirmed);
        _bank.Read(RegisterArea.HoldingRegister, 30, RawType.UInt16, WordOrder.HighFirst).ShouldBe(0x0181);
    }

    [Fact]
    public async Task A_refusal_says_the_controllers_reason_and_nothing_is_sent_where_nobody_is()
    {
        var beyond = Tag(2, RegisterArea.HoldingRegister, 5000, RawType.Int16);
        await using var heard = Start(Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16), beyond);
        await heard.Holds(1, 0);
        var refused = await heard.Link.WriteAsync(TagWrite.Of(beyond, 1, null, out _)!, default);
        (refused.Outcome, refused.Reason).ShouldBe(
            (WriteOutcome.Refused, "exception 2 illegal data address: the device has nothing at this address")
        );
        (
            await heard.Link.WriteAsync(TagWrite.Of(Tag(3, RegisterArea.InputRegister, 0, RawType.Int16), 1, null, out _)!, default)
        ).Reason.ShouldContain("only let read");
        await _server.CloseAsync();
        await heard.IsBad(1, StatusCode.BadNotConnected, "conn");
        (await heard.Link.WriteAsync(TagWrite.Of(beyond, 1, null, out _)!, default)).Reason.ShouldStartWith("nothing was sent");
    }

    [Fact]
    public async Task A_value_that_does_not_stay_is_not_confirmed()
    {
        var tag = Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16);
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.Int16, WordOrder.HighFirst, 5);
        // The device says yes to every write, and its own program holds the register at 5.
        await using var device = new ScriptedDevice(
            (_, pdu) => (Parse(pdu).ReadsWords ? _bank.Answer(Parse(pdu)) : ModbusResponse.Done(Parse(pdu).Function)).ToPdu(Parse(pdu))
        );
        await using var heard = Start(device.Port, tag);
        await heard.Holds(1, 5);
        var result = await heard.Link.WriteAsync(TagWrite.Of(tag, 9, null, out _)!, default);
        result.Outcome.ShouldBe(WriteOutcome.NotConfirmed);
        result.Reason.ShouldContain("reads back as 5");
    }

    [Fact]
    public async Task A_unit_id_that_does_not_answer_is_bad_alone()
    {
        await using var gateway = new ScriptedDevice((unit, pdu) => unit == 1 ? _bank.Answer(Parse(pdu)).ToPdu(Parse(pdu)) : null);
        var silent = Tag(2, RegisterArea.HoldingRegister, 0, RawType.Int16) with
        {
            Address = new ModbusAddress(RegisterArea.HoldingRegister, 0, null, 2),
        };
        await using var heard = Start(gateway.Port, Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16), silent);
        await heard.IsBad(2, StatusCode.BadTimeout, "no answer to unit id 2");
        await heard.Holds(1, 0);
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.Int16, WordOrder.HighFirst, 11);
        await heard.Holds(1, 11);
        heard.Link.Status.State.ShouldBe(LinkState.Partial);
    }

    [Fact]
    public async Task Slow_tags_are_asked_for_seldom_and_fast_ones_often()
    {
        var asked = new System.Collections.Concurrent.ConcurrentDictionary<int, int>();
        await using var device = new ScriptedDevice(
            (_, pdu) =>
            {
                asked.AddOrUpdate(Parse(pdu).Address, 1, (_, n) => n + 1);
                return _bank.Answer(Parse(pdu)).ToPdu(Parse(pdu));
            }
        );
        var controller = Plc(device.Port) with { UpdateClasses = [new("slow", TimeSpan.FromSeconds(1))] };
        await using var heard = new Heard(m => new ModbusTcpLink(
            controller,
            [
                Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16),
                Tag(2, RegisterArea.HoldingRegister, 200, RawType.Int16) with
                {
                    UpdateClass = "slow",
                },
            ],
            m,
            TimeProvider.System
        ));
        await Heard.Eventually(() => asked.GetValueOrDefault(200) >= 3);
        // Ten rounds of the fast one to each of the slow one; a busy machine may skip some, and then both come later.
        ((double)asked[0] / asked[200]).ShouldBeInRange(3, 12);
        heard.Link.Status.RequestsPerPoll.ShouldBe(2);
    }

    [Fact]
    public async Task What_a_slow_tag_is_refused_stays_said_between_its_rounds()
    {
        var controller = Plc(_server.Port) with { UpdateClasses = [new("slow", TimeSpan.FromSeconds(2))] };
        await using var heard = new Heard(m => new ModbusTcpLink(
            controller,
            [
                Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16),
                Tag(2, RegisterArea.HoldingRegister, 9000, RawType.Int16) with
                {
                    UpdateClass = "slow",
                },
            ],
            m,
            TimeProvider.System
        ));
        await heard.IsBad(2, StatusCode.BadNodeIdUnknown, "exception 2");
        var polled = heard.Count;
        await Heard.Eventually(() => heard.Count > polled + 5);
        heard.Link.Status.State.ShouldBe(LinkState.Partial);
    }

    [Fact]
    public async Task Other_tags_are_followed_without_connecting_anew()
    {
        var connections = 0;
        await using var device = new ScriptedDevice((_, pdu) => _bank.Answer(Parse(pdu)).ToPdu(Parse(pdu)), () => connections++);
        await using var heard = Start(device.Port, Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int16));
        await heard.Holds(1, 0);
        heard.Link.Retag([Tag(2, RegisterArea.HoldingRegister, 1, RawType.Int16)]);
        await heard.Holds(2, 0);
        connections.ShouldBe(1);
    }

    /// <summary>Ways for a connection to break; after each the link is back by itself.</summary>
    [Theory]
    [InlineData("cut in mid-frame")]
    [InlineData("half-open: never another byte")]
    [InlineData("wrong transaction id")]
    [InlineData("a length of 65535")]
    [InlineData("a length of 0")]
    [InlineData("fewer registers than asked for")]
    [InlineData("not Modbus at all")]
    public async Task After_every_kind_of_break_the_link_is_back_by_itself(string kind)
    {
        var breaks = false;
        await using var device = new ScriptedDevice((_, pdu) => _bank.Answer(Parse(pdu)).ToPdu(Parse(pdu)))
        {
            Mangle = frame =>
                !breaks
                    ? frame
                    : kind switch
                    {
                        "cut in mid-frame" => frame[..^1],
                        "half-open: never another byte" => [],
                        "wrong transaction id" => [(byte)(frame[0] + 1), .. frame[1..]],
                        "a length of 65535" => [.. frame[..4], 0xFF, 0xFF, .. frame[6..]],
                        "a length of 0" => [.. frame[..4], 0, 0, .. frame[6..]],
                        "fewer registers than asked for" => [.. frame[..4], 0, 5, frame[6], frame[7], 2, 0, 1],
                        _ => "HTTP/1.1 400 Bad Request\r\n\r\n"u8.ToArray(),
                    },
            CutsAfterMangled = kind == "cut in mid-frame",
        };
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.Int32, WordOrder.HighFirst, 77);
        await using var heard = Start(device.Port, Tag(1, RegisterArea.HoldingRegister, 0, RawType.Int32));
        await heard.Holds(1, 77);
        breaks = true;
        await Heard.Eventually(() => heard[1] is { Status.IsBad: true });
        heard[1]!.Value.Reason.ShouldNotBeNullOrWhiteSpace();
        breaks = false;
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.Int32, WordOrder.HighFirst, 78);
        await heard.Holds(1, 78);
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
    }

    private static ModbusRequest Parse(byte[] pdu)
    {
        ModbusRequest.TryParse(pdu, out var request).ShouldBeNull();
        return request!;
    }

    private static Tag Tag(long id, RegisterArea area, int offset, RawType type, WordOrder order = WordOrder.HighFirst) =>
        new(id, 1, $"T{id}", new ModbusAddress(area, offset), type, order, "");

    private static Controller Plc(int port) => new(1, "plc", new ModbusConnection("127.0.0.1", port, 1), TimeSpan.FromMilliseconds(150));

    private Heard Start(params Tag[] tags) => Start(_server.Port, tags);

    private static Heard Start(int port, params Tag[] tags) => new(m => new ModbusTcpLink(Plc(port), tags, m, TimeProvider.System));

    /// <summary>A device that answers as it is told, frame by frame.</summary>
    private sealed class ScriptedDevice : IAsyncDisposable
    {
        private readonly TcpListener _listener = new(IPAddress.Loopback, 0);
        private readonly CancellationTokenSource _stop = new();
        private readonly Func<int, byte[], byte[]?> _answer;
        private readonly Task _accepting;

        public ScriptedDevice(Func<int, byte[], byte[]?> answer, Action? connected = null)
        {
            _answer = answer;
            _listener.Start();
            _accepting = AcceptAsync(connected);
        }

        public int Port => ((IPEndPoint)_listener.LocalEndpoint).Port;

        public Func<byte[], byte[]> Mangle { get; init; } = frame => frame;

        public bool CutsAfterMangled { get; init; }

        public async ValueTask DisposeAsync()
        {
            await _stop.CancelAsync();
            _listener.Stop();
            await _accepting;
            _stop.Dispose();
        }

        private async Task AcceptAsync(Action? connected)
        {
            try
            {
                while (true)
                {
                    var client = await _listener.AcceptTcpClientAsync(_stop.Token);
                    connected?.Invoke();
                    _ = ServeAsync(client);
                }
            }
            catch (Exception e) when (e is OperationCanceledException or SocketException or ObjectDisposedException)
            {
                // The test is over.
            }
        }

        private async Task ServeAsync(TcpClient client)
        {
            using var it = client;
            try
            {
                var stream = client.GetStream();
                var header = new byte[MbapHeader.Size];
                while (true)
                {
                    await stream.ReadExactlyAsync(header, _stop.Token);
                    var mbap = MbapHeader.Read(header);
                    var pdu = new byte[mbap.PduLength];
                    await stream.ReadExactlyAsync(pdu, _stop.Token);
                    if (_answer(mbap.UnitId, pdu) is not { } answer)
                        continue;
                    var frame = MbapHeader.Frame(mbap.TransactionId, mbap.UnitId, answer);
                    var sent = Mangle(frame);
                    await stream.WriteAsync(sent, _stop.Token);
                    if (CutsAfterMangled && !ReferenceEquals(sent, frame))
                        return;
                }
            }
            catch (Exception e) when (e is IOException or OperationCanceledException or SocketException or ObjectDisposedException)
            {
                // The client has gone.
            }
        }
    }
}
