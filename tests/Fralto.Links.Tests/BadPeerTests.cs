using System.Net;
using System.Net.Sockets;
using Fralto.Core.Controllers;
using Fralto.Core.Modbus;
using Fralto.Core.Mqtt;
using Fralto.Core.Scaling;
using Fralto.Links.Modbus;
using Fralto.Links.Mqtt;
using Microsoft.Extensions.Time.Testing;

namespace Fralto.Links.Tests;

/// <summary>Devices and brokers that answer wrongly, by halves, too much or not at all: each has a time-out, a reason that does not
/// mislead, and is asked ever more seldom.</summary>
public sealed class BadPeerTests
{
    [Fact]
    public async Task A_broker_that_never_answers_subscribe_is_given_up_with_that_reason()
    {
        await using var broker = new RawBroker(RawBroker.Silence);
        await using var heard = Run(broker.Port);
        await Heard.Eventually(
            () =>
                heard.Link.Status is { State: LinkState.Down, Reason: var r }
                && r!.Contains("did not answer SUBSCRIBE within 5 s", StringComparison.Ordinal),
            15,
            () => $"{heard.Link.Status}"
        );
        await heard.IsBad(1, Core.Quality.StatusCode.BadNotConnected, "SUBSCRIBE");
        await Heard.Eventually(() => broker.Connections > 1);
    }

    [Fact]
    public async Task A_broker_that_accepts_and_says_nothing_is_given_up_with_that_reason()
    {
        await using var broker = new RawBroker(RawBroker.Silence, accept: false);
        await using var heard = Run(broker.Port);
        await Heard.Eventually(
            () =>
                heard.Link.Status is { State: LinkState.Down, Reason: var r }
                && r!.Contains("did not answer within 5 s", StringComparison.Ordinal),
            15,
            () => $"{heard.Link.Status}"
        );
    }

    /// <summary>The length of a packet: seven bits a byte, the lowest first (MQTT 3.1.1, section 2.2.3); FF FF FF 7F is
    /// 268,435,455.</summary>
    [Fact]
    [Trait("source", "MQTT 3.1.1, section 2.2.3, table 2.4")]
    public async Task No_room_is_made_for_a_packet_that_is_announced_too_large()
    {
        await using var broker = new RawBroker(
            async (stream, stop) =>
            {
                await stream.WriteAsync(new byte[] { 0x30, 0xFF, 0xFF, 0xFF, 0x7F, 0, 1, (byte)'t' }, stop);
                await RawBroker.Silence(stream, stop);
            }
        );
        var before = GC.GetTotalAllocatedBytes();
        await using var heard = Run(broker.Port);
        await Heard.Eventually(
            () => heard.Link.Status.LastError is { } e && e.Contains("a message on t of 268,435,455 bytes", StringComparison.Ordinal),
            15,
            () => $"{heard.Link.Status}"
        );
        (GC.GetTotalAllocatedBytes() - before).ShouldBeLessThan(100_000_000);
    }

    [Fact]
    public async Task A_message_that_is_too_large_is_passed_over_and_the_next_is_heard()
    {
        await using var broker = await Mosquitto.StartAsync();
        await using var device = await TestPublisher.ConnectAsync(broker.Port);
        await using var heard = Run(broker.Port);
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        await device.SayAsync("t", new string('1', (int)MqttSession.LargestPacket + 1));
        await device.SayAsync("t", "42");
        await heard.Holds(1, 42);
        heard.Link.Status.LastError!.ShouldContain("a message on t of 4,194,308 bytes");
        heard.Link.Status.State.ShouldBe(LinkState.Up);
    }

    [Theory]
    [InlineData(100)]
    [InlineData(127)]
    [InlineData(128)]
    [InlineData(20_000)]
    [InlineData(1_000_000)]
    public async Task Packets_up_to_the_largest_are_taken_whatever_pieces_they_come_in(int length)
    {
        await using var broker = new RawBroker(
            async (stream, stop) =>
            {
                var subscribe = new byte[1000];
                var read = await stream.ReadAsync(subscribe, stop);
                await stream.WriteAsync(new byte[] { 0x90, 3, subscribe[read > 3 ? 2 : 0], subscribe[3], 0 }, stop);
                var payload = new byte[length - 3];
                Array.Fill(payload, (byte)' ');
                payload[^1] = (byte)'7';
                var packet = new List<byte> { 0x30 };
                for (var left = length; ; left >>= 7)
                {
                    packet.Add((byte)((left & 0x7F) | (left > 0x7F ? 0x80 : 0)));
                    if (left <= 0x7F)
                        break;
                }
                byte[] all = [.. packet, 0, 1, (byte)'t', .. payload];
                // One byte after the other where it matters, then in pieces.
                for (var i = 0; i < 8; i++)
                    await stream.WriteAsync(all.AsMemory(i, 1), stop);
                for (var i = 8; i < all.Length; i += 100_003)
                    await stream.WriteAsync(all.AsMemory(i, Math.Min(100_003, all.Length - i)), stop);
                await RawBroker.Silence(stream, stop);
            }
        );
        await using var heard = Run(broker.Port);
        await heard.Holds(1, 7);
    }

    /// <summary>The last length of all, 268,435,455, may be that of a message; one byte more is of no packet (MQTT 3.1.1, section
    /// 2.2.3).</summary>
    [Theory]
    [InlineData(0x80)]
    [InlineData(0xFF)]
    public async Task What_is_no_packet_is_said_to_be_none(byte length)
    {
        await using var broker = new RawBroker(
            async (stream, stop) =>
            {
                await stream.WriteAsync(new byte[] { 0x30, length, length, length, length, 0x01, 0, 0, 0, 0 }, stop);
                await RawBroker.Silence(stream, stop);
            }
        );
        await using var heard = Run(broker.Port);
        await Heard.Eventually(
            () => heard.Link.Status is { State: LinkState.Down, Reason: var r } && r!.Contains("MQTT", StringComparison.Ordinal),
            15,
            () => $"{heard.Link.Status}"
        );
    }

    /// <summary>One that takes every connection and ends it is asked at 0.2, 0.4, 0.8 … 5 s: some sixteen times in a minute, not three
    /// hundred.</summary>
    [Fact]
    public async Task One_that_answers_and_breaks_off_again_and_again_is_asked_ever_more_seldom() =>
        (await BegunAsync(TimeSpan.FromMilliseconds(1), TimeSpan.FromMinutes(1))).ShouldBeInRange(12, 18);

    [Fact]
    public async Task A_connection_that_has_held_is_made_anew_at_once() =>
        (await BegunAsync(TimeSpan.FromSeconds(20), TimeSpan.FromSeconds(210))).ShouldBeInRange(10, 11);

    /// <summary>How often a link begins whose other end answers at once and breaks off after a while.</summary>
    private static async Task<int> BegunAsync(TimeSpan holds, TimeSpan over)
    {
        var clock = new StepClock();
        var link = new Unsteady(holds, clock);
        using var stop = new CancellationTokenSource();
        var running = link.RunAsync(stop.Token);
        var begin = clock.GetUtcNow();
        for (var seen = 1; clock.GetUtcNow() - begin < over; seen++)
        {
            await Heard.Eventually(() => clock.Waits >= seen);
            clock.Advance(clock.Due);
        }
        await stop.CancelAsync();
        await running;
        return link.Begun;
    }

    [Fact]
    public async Task Answers_to_other_questions_and_answers_by_halves_are_told_from_silence()
    {
        await Asked([0, 99, 0, 0, 0, 5, 1, 3, 2, 0, 7], says: "answered with transaction id 99 instead of 1");
        await Asked([0, 1, 0, 0, 0, 5, 1, 3], says: "only 8 of 11 bytes of the answer");
        await Asked([0, 1, 0], says: "only 3 of 7 bytes of the answer");
        await Asked([], says: "no answer to unit id 1");

        static async Task Asked(byte[] answer, string says)
        {
            var listener = new TcpListener(IPAddress.Loopback, 0);
            listener.Start();
            var serving = Task.Run(async () =>
            {
                using var peer = await listener.AcceptTcpClientAsync();
                _ = await peer.GetStream().ReadAsync(new byte[300]);
                await peer.GetStream().WriteAsync(answer);
                _ = await peer.GetStream().ReadAsync(new byte[300]);
            });
            using (
                var client = await ModbusTcpClient.ConnectAsync(
                    "127.0.0.1",
                    ((IPEndPoint)listener.LocalEndpoint).Port,
                    TimeSpan.FromSeconds(2),
                    default
                )
            )
                (
                    await Should.ThrowAsync<LinkException>(() =>
                        client.AskAsync(
                            1,
                            ModbusRequest.Read(ModbusFunction.ReadHoldingRegisters, 0, 1),
                            TimeSpan.FromMilliseconds(300),
                            default
                        )
                    )
                ).Message.ShouldContain(says);
            await serving;
            listener.Stop();
        }
    }

    private static Heard Run(int port) =>
        new(m => new MqttLink(
            new Controller(1, "hub", new MqttConnection("127.0.0.1", port), TimeSpan.Zero),
            [new Tag(1, 1, "t", new TopicAddress("t"), RawType.Float64, WordOrder.HighFirst, "")],
            m,
            TimeProvider.System,
            null
        ));

    /// <summary>A link whose other end answers at once and breaks off after a while.</summary>
    private sealed class Unsteady(TimeSpan holds, TimeProvider clock)
        : Link(new Controller(1, "one", new ModbusConnection("x", 1, 1), TimeSpan.FromSeconds(1)), [], new SampleMailbox(), clock)
    {
        private int _begun;

        public int Begun => Volatile.Read(ref _begun);

        public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop) => throw new NotSupportedException();

        protected override async Task ServeAsync(Action connected, CancellationToken stop)
        {
            Interlocked.Increment(ref _begun);
            connected();
            await Task.Delay(holds, Clock, stop);
            throw new LinkException(Core.Quality.StatusCode.BadNotConnected, "broke off");
        }
    }

    /// <summary>A clock that says when somebody waits and for how long, so that it can be put forward by just that.</summary>
    private sealed class StepClock : FakeTimeProvider
    {
        private int _waits;

        public int Waits => Volatile.Read(ref _waits);

        public TimeSpan Due { get; private set; }

        public override ITimer CreateTimer(TimerCallback callback, object? state, TimeSpan dueTime, TimeSpan period)
        {
            var timer = base.CreateTimer(callback, state, dueTime, period);
            Due = dueTime;
            Interlocked.Increment(ref _waits);
            return timer;
        }
    }
}
