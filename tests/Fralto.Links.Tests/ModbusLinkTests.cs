using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Modbus;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.Modbus;
using Fralto.StandIns.Modbus;

namespace Fralto.Links.Tests;

/// <summary>The client against the stand-in server and against servers that misbehave, on real loopback sockets.</summary>
public sealed class ModbusLinkTests : IAsyncLifetime
{
    private static readonly TimeSpan Interval = TimeSpan.FromMilliseconds(100);

    /// <summary>Where intervals are counted: a busy machine takes tenths of a second away from nobody's second.</summary>
    private static readonly TimeSpan Slow = TimeSpan.FromSeconds(1);

    private readonly RegisterBank _bank = new(64, 64, 300, 300);
    private readonly SampleMailbox _mailbox = new();
    private readonly ConcurrentDictionary<long, Sample> _newest = new();
    private readonly ConcurrentDictionary<(long Tag, int Element), Sample> _elements = new();
    private readonly CancellationTokenSource _stop = new();
    private readonly List<Task> _running = [];
    private ModbusServer _server = null!;
    private TimeSpan _interval = Interval;

    public async ValueTask InitializeAsync()
    {
        _server = new ModbusServer(0, 1, _bank);
        await _server.OpenAsync();
        _running.Add(
            Task.Run(async () =>
            {
                var batches = new List<SampleBatch>();
                while (!_stop.IsCancellationRequested)
                {
                    _mailbox.Take(int.MaxValue, batches);
                    foreach (var sample in batches.SelectMany(b => b.Samples))
                    {
                        if (sample.Element == 0)
                            _newest[sample.TagId] = sample;
                        _elements[(sample.TagId, sample.Element)] = sample;
                    }
                    batches.Clear();
                    await Task.Delay(2, CancellationToken.None);
                }
            })
        );
    }

    public async ValueTask DisposeAsync()
    {
        await _stop.CancelAsync();
        await Task.WhenAll(_running);
        await _server.DisposeAsync();
        _stop.Dispose();
    }

    [Fact]
    public async Task Every_function_of_the_client_works_on_the_server()
    {
        using var client = await ModbusTcpClient.ConnectAsync("127.0.0.1", _server.Port, TimeSpan.FromSeconds(2), default);
        async Task<ModbusResponse> Ask(ModbusRequest request) => await client.AskAsync(1, request, TimeSpan.FromSeconds(2), default);
        (await Ask(ModbusRequest.WriteRegister(3, 555))).Exception.ShouldBeNull();
        (await Ask(ModbusRequest.WriteRegisters(4, 1, 2, 3))).Exception.ShouldBeNull();
        (await Ask(ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 3, 4))).Words.ShouldBe([
            (ushort)555,
            (ushort)1,
            (ushort)2,
            (ushort)3,
        ]);
        (await Ask(ModbusRequest.WriteCoil(9, true))).Exception.ShouldBeNull();
        (await Ask(ModbusRequest.WriteCoils(10, false, true))).Exception.ShouldBeNull();
        (await Ask(ModbusRequest.Read(ModbusFunction.ReadCoils, 8, 4))).Bits.ShouldBe([false, true, false, true]);
        _bank.SetBit(RegisterArea.DiscreteInput, 5, true);
        (await Ask(ModbusRequest.Read(ModbusFunction.ReadDiscreteInputs, 4, 2))).Bits.ShouldBe([false, true]);
        _bank.Set(RegisterArea.InputRegister, 0, RawType.UInt16, WordOrder.HighFirst, 10);
        (await Ask(ModbusRequest.Read(ModbusFunction.ReadInputRegisters, 0, 125))).Words[0].ShouldBe((ushort)10);
        (await Ask(ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 299, 2))).Exception.ShouldBe(
            ModbusExceptionCode.IllegalDataAddress
        );
    }

    [Fact]
    public async Task Tags_of_every_type_arrive_as_numbers()
    {
        _bank.Set(RegisterArea.InputRegister, 0, RawType.Float32, WordOrder.LowFirst, 71.5);
        _bank.Set(RegisterArea.HoldingRegister, 10, RawType.Int32, WordOrder.HighFirst, -123456789);
        _bank.Set(RegisterArea.HoldingRegister, 20, RawType.Int16, WordOrder.HighFirst, -5);
        _bank.SetBit(RegisterArea.Coil, 3, true);
        Start(
            Tag(1, RegisterArea.InputRegister, 0, RawType.Float32, WordOrder.LowFirst),
            Tag(2, RegisterArea.HoldingRegister, 10, RawType.Int32, WordOrder.HighFirst),
            Tag(3, RegisterArea.HoldingRegister, 20, RawType.Int16),
            Tag(4, RegisterArea.HoldingRegister, 20, RawType.UInt16),
            Tag(5, RegisterArea.Coil, 3, RawType.Bool),
            Tag(6, RegisterArea.DiscreteInput, 3, RawType.Bool)
        );
        await Eventually(() => IsAnswered(6));
        Enumerable.Range(1, 6).Select(id => _newest[id].Raw).ShouldBe([71.5, -123456789, -5, 65531, 1, 0]);
        _newest.Values.ShouldAllBe(s => s.Status == StatusCode.Good);
    }

    [Fact]
    public async Task Arrays_packed_booleans_text_and_bcd_arrive_by_element()
    {
        foreach (var on in new[] { 0, 33, 63 })
            _bank.SetPackedBool(0, on, WordOrder.LowFirst, true);
        for (var i = 0; i < 3; i++)
            _bank.Set(RegisterArea.HoldingRegister, 10 + 2 * i, RawType.Int32, WordOrder.LowFirstSwapped, 1000 * i - 7);
        _bank.SetText(RegisterArea.InputRegister, 20, 9, "PLC 2.4");
        _bank.Set(RegisterArea.HoldingRegister, 30, RawType.Bcd16, WordOrder.HighFirst, 815);
        _bank.Set(RegisterArea.HoldingRegister, 31, RawType.UInt16, WordOrder.HighFirst, 0x1A23);
        _bank.SetBit(RegisterArea.Coil, 5, true);
        var link = Start(
            Tag(1, RegisterArea.InputRegister, 0, RawType.Bool, WordOrder.LowFirst) with
            {
                Count = 64,
            },
            Tag(2, RegisterArea.HoldingRegister, 10, RawType.Int32, WordOrder.LowFirstSwapped) with
            {
                Count = 3,
            },
            Tag(3, RegisterArea.InputRegister, 20, RawType.Text) with
            {
                Count = 9,
            },
            Tag(4, RegisterArea.HoldingRegister, 30, RawType.Bcd16),
            Tag(5, RegisterArea.HoldingRegister, 31, RawType.Bcd16),
            Tag(6, RegisterArea.Coil, 4, RawType.Bool) with
            {
                Count = 3,
            }
        );
        await Eventually(() => IsAnswered(6));
        Enumerable.Range(0, 64).Where(n => _elements[(1, n)].Raw == 1).ShouldBe([0, 33, 63]);
        Enumerable.Range(0, 3).Select(n => _elements[(2, n)].Raw).ShouldBe([-7, 993, 1993]);
        (_newest[3].Text, _newest[3].Status).ShouldBe(("PLC 2.4", StatusCode.Good));
        _newest[4].Raw.ShouldBe(815);
        _newest[5].Status.ShouldBe(StatusCode.BadDecodingError);
        _newest[5].Reason!.ShouldContain("1A 23 is no BCD");
        Enumerable.Range(0, 3).Select(n => _elements[(6, n)].Raw).ShouldBe([0, 1, 0]);
        link.WordsOf(4).ShouldBe([(ushort)0x0815]);
        link.WordsOf(99).ShouldBeNull();
    }

    [Fact]
    public async Task One_address_the_device_does_not_have_spoils_only_its_own_tag()
    {
        var link = Start(
            Tag(1, RegisterArea.HoldingRegister, 290, RawType.UInt16),
            Tag(2, RegisterArea.HoldingRegister, 298, RawType.UInt16),
            Tag(3, RegisterArea.HoldingRegister, 301, RawType.UInt16)
        );
        await Eventually(() => IsAnswered(3));
        (_newest[1].Status, _newest[2].Status, _newest[3].Status).ShouldBe((StatusCode.Good, StatusCode.Good, StatusCode.BadNodeIdUnknown));
        _newest[3].Reason!.ShouldContain("holding 301: exception 2 illegal data address");
        await Eventually(() => link.Status.State == LinkState.Partial);
    }

    [Fact]
    public async Task A_controller_that_goes_away_makes_its_tags_bad_within_three_intervals_and_comes_back_by_itself()
    {
        _interval = Slow;
        var link = Start(Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        await Eventually(() => IsGood(1) && link.Status.State == LinkState.Up);
        await _server.CloseAsync();
        await Eventually(() => !IsGood(1), 3 * Slow);
        await Eventually(() =>
            link.Status is { State: LinkState.Down, Reason: not null } && link.Status.Reason.Contains("refused", StringComparison.Ordinal)
        );
        _newest[1].Status.ShouldBe(StatusCode.BadNotConnected);
        await _server.OpenAsync();
        await Eventually(() => IsGood(1), TimeSpan.FromSeconds(6));
        link.Status.State.ShouldBe(LinkState.Up);
        link.Status.LastError.ShouldNotBeNull();
    }

    [Fact]
    public async Task A_device_that_answers_too_late_is_bad_until_it_is_quick_again_and_late_answers_are_not_mixed_up()
    {
        var link = Start(Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16), Tag(2, RegisterArea.Coil, 0, RawType.Bool));
        _bank.Set(RegisterArea.HoldingRegister, 0, RawType.UInt16, WordOrder.HighFirst, 4711);
        await Eventually(() => IsGood(1) && IsGood(2));
        _server.Delay = TimeSpan.FromMilliseconds(150);
        await Eventually(() => _newest[1].Status == StatusCode.BadTimeout && _newest[2].Status == StatusCode.BadTimeout);
        _newest[1].Reason!.ShouldContain("no answer to unit id 1");
        _server.Delay = TimeSpan.Zero;
        await Eventually(() => IsGood(1) && IsGood(2), TimeSpan.FromSeconds(6));
        (_newest[1].Raw, _newest[2].Raw).ShouldBe((4711, 0));
        await Eventually(() => link.Status.State == LinkState.Up);
    }

    [Fact]
    public async Task A_device_that_accepts_and_never_answers_is_bad_within_three_intervals()
    {
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        _interval = Slow;
        Start(((IPEndPoint)silent.LocalEndpoint).Port, Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        await Eventually(() => _newest.TryGetValue(1, out var sample) && sample.Status == StatusCode.BadTimeout, 3 * Slow);
    }

    [Fact]
    public async Task One_controller_that_is_gone_or_silent_leaves_the_others_as_they_are()
    {
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        // Long enough that a busy machine makes no poll late and no answer lost.
        _interval = 4 * Interval;
        Start(((IPEndPoint)silent.LocalEndpoint).Port, Tag(8, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        Start(Speak(new byte[300]), Tag(9, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        var healthy = Start(Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        await Eventually(() => _newest.Count == 3 && healthy.Status.Requests > 10, TimeSpan.FromSeconds(15));
        (IsGood(1), IsGood(8), IsGood(9)).ShouldBe((true, false, false));
        healthy.Status.ShouldSatisfyAllConditions(s => s.Errors.ShouldBe(0), s => s.LatePolls.ShouldBeLessThanOrEqualTo(1));
    }

    [Fact]
    public async Task Something_that_is_not_modbus_is_recognised_and_said()
    {
        var port = Speak("HTTP/1.1 400 Bad Request\r\n\r\n"u8.ToArray());
        var link = Start(port, Tag(1, RegisterArea.HoldingRegister, 0, RawType.UInt16));
        await Eventually(() => _newest.TryGetValue(1, out var sample) && sample.Status == StatusCode.BadDecodingError);
        link.Status.Reason!.ShouldContain("not Modbus TCP");
    }

    [Fact]
    public async Task A_connection_test_says_what_is_wrong()
    {
        (await Test(_server.Port, 1)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeTrue(),
            t => t.Message.ShouldContain("unit id 1 gave holding 0")
        );
        (await Test(_server.Port, 9)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeFalse(),
            t => t.Message.ShouldContain("exception 11"),
            t => t.Message.ShouldContain("Check the unit id")
        );
        (await Test(_server.Port, 1, Tag(1, RegisterArea.HoldingRegister, 500, RawType.Int16))).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeFalse(),
            t => t.Message.ShouldContain("refuses holding 500 with exception 2")
        );
        var port = _server.Port;
        await _server.CloseAsync();
        (await Test(port, 1)).ShouldSatisfyAllConditions(t => t.Succeeded.ShouldBeFalse(), t => t.Message.ShouldContain("refused"));
        using var silent = new TcpListener(IPAddress.Loopback, 0);
        silent.Start();
        (await Test(((IPEndPoint)silent.LocalEndpoint).Port, 7)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeFalse(),
            t => t.Message.ShouldContain("no answer to unit id 7 within 2000 ms")
        );
        (await Test(Speak(new byte[40]), 1)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeFalse(),
            t => t.Message.ShouldContain("not Modbus TCP")
        );
    }

    [Fact]
    public async Task A_server_closes_on_a_client_that_does_not_speak_modbus_and_serves_the_others()
    {
        using var nonsense = new TcpClient();
        await nonsense.ConnectAsync("127.0.0.1", _server.Port);
        await nonsense.GetStream().WriteAsync("GET / HTTP/1.1\r\n\r\n"u8.ToArray());
        (await nonsense.GetStream().ReadAsync(new byte[10])).ShouldBe(0);
        (await Test(_server.Port, 1)).Succeeded.ShouldBeTrue();
    }

    private static Tag Tag(long id, RegisterArea area, int offset, RawType type, WordOrder order = WordOrder.HighFirst) =>
        new(id, 1, $"T{id}", new ModbusAddress(area, offset), type, order, "");

    private static Controller Plc(int port, int unitId = 1) => new(1, "plc", new ModbusConnection("127.0.0.1", port, unitId), Interval);

    private static Task<LinkTest> Test(int port, int unitId, Tag? probe = null) =>
        ModbusTcpLink.TestAsync((ModbusConnection)Plc(port, unitId).Connection, probe, default);

    /// <summary>Waits until something holds; a generous limit unless the limit is the point of the test. A tenth of a second is allowed for
    /// scheduling.</summary>
    private static async Task Eventually(Func<bool> holds, TimeSpan? within = null)
    {
        var until = DateTime.UtcNow + (within ?? TimeSpan.FromSeconds(5)) + TimeSpan.FromMilliseconds(100);
        while (!holds())
        {
            if (DateTime.UtcNow > until)
                throw new ShouldAssertException("it did not happen in time");
            await Task.Delay(5);
        }
    }

    /// <summary>True once so many tags have been answered by the device: a busy machine may be late with the first poll.</summary>
    private bool IsAnswered(int tags) =>
        _newest.Count == tags && _newest.Values.All(s => s.Status != StatusCode.BadNotConnected && s.Status != StatusCode.BadTimeout);

    private bool IsGood(long tag) => _newest.TryGetValue(tag, out var sample) && sample.Status == StatusCode.Good;

    private ModbusTcpLink Start(params Tag[] tags) => Start(_server.Port, tags);

    private ModbusTcpLink Start(int port, params Tag[] tags)
    {
        var link = new ModbusTcpLink(Plc(port) with { UpdateInterval = _interval }, tags, _mailbox, TimeProvider.System);
        _running.Add(link.RunAsync(_stop.Token));
        return link;
    }

    /// <summary>A server that says the same bytes to everybody.</summary>
    private int Speak(byte[] bytes)
    {
        var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        _running.Add(
            Task.Run(async () =>
            {
                try
                {
                    while (true)
                    {
                        using var client = await listener.AcceptTcpClientAsync(_stop.Token);
                        await client.GetStream().WriteAsync(bytes, _stop.Token);
                        await client.GetStream().ReadAtLeastAsync(new byte[100], 1, throwOnEndOfStream: false, _stop.Token);
                    }
                }
                catch (Exception e) when (e is OperationCanceledException or IOException or SocketException)
                {
                    listener.Dispose();
                }
            })
        );
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }
}
