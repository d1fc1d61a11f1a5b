using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Protocols;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Links.Mqtt;
using Fralto.StandIns.Mqtt;

namespace Fralto.Links.Tests;

/// <summary>Plain MQTT: against the stand-in broker, and against Debian's mosquitto, which knows nothing of us.</summary>
public sealed class MqttLinkTests
{
    [Theory]
    [InlineData("stand-in", false)]
    [InlineData("stand-in", true)]
    [InlineData("mosquitto", false)]
    [InlineData("mosquitto", true)]
    [Trait("source", "Debian mosquitto")]
    public async Task Values_arrive_and_a_command_is_confirmed_by_what_the_device_says_then(string kind, bool version5)
    {
        await using var broker = await Broker.StartAsync(kind);
        await using var device = await TestPublisher.ConnectAsync(broker.Port, null, "fan/set");
        await device.SayAsync("kept", "11", retain: true);
        var fan = Tag(4, "fan | set fan/set", RawType.Bool);
        await using var heard = Run(
            broker.Port,
            Tag(1, "a/b", RawType.Float64),
            Tag(2, "json#/v/1", RawType.Int32),
            Tag(3, "kept", RawType.Float64),
            fan,
            version5: version5
        );
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        await heard.IsBad(1, StatusCode.BadWaitingForInitialData, "nothing has come on a/b yet");
        await heard.Holds(3, 11);
        await device.SayAsync("a/b", "-2.5");
        await device.SayAsync("json", """{"v":[1,42]}""");
        await heard.Holds(1, -2.5);
        await heard.Holds(2, 42);
        var command = heard.Link.WriteAsync(TagWrite.Of(fan, 1, null, out _)!, default);
        await Heard.Eventually(() => !device.Heard.IsEmpty);
        Encoding.UTF8.GetString(device.Heard.First().Payload).ShouldBe("true");
        await device.SayAsync("fan", "on");
        (await command).ShouldBe(WriteResult.Confirmed);
        await heard.Holds(4, 1);
    }

    [Theory]
    [InlineData("stand-in")]
    [InlineData("mosquitto")]
    [Trait("source", "Debian mosquitto")]
    public async Task A_message_is_published_beside_the_tags_and_what_was_not_sent_is_said(string kind)
    {
        IPublisher publisher;
        Heard heard;
        await using (var broker = await Broker.StartAsync(kind))
        {
            await using var listener = await TestPublisher.ConnectAsync(broker.Port, null, "plant/alarms");
            heard = Run(broker.Port, Tag(1, "a/b", RawType.Float64));
            await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
            publisher = heard.Link.ShouldBeAssignableTo<IPublisher>()!;
            (await publisher.PublishAsync("plant/alarms", "Ofen heiß"u8.ToArray(), default)).ShouldBeNull();
            await Heard.Eventually(() => !listener.Heard.IsEmpty);
            Encoding.UTF8.GetString(listener.Heard.First().Payload).ShouldBe("Ofen heiß");
        }
        await using var left = heard;
        await Heard.Eventually(() => heard.Link.Status.State != LinkState.Up);
        (await publisher.PublishAsync("plant/alarms", "again"u8.ToArray(), default)).ShouldNotBeNull();
    }

    [Theory]
    [InlineData(-300, "the clock of probe is 5 min behind")]
    [InlineData(300, "the clock of probe is 5 min ahead")]
    public async Task A_time_is_kept_as_its_source_tells_it_and_a_clock_that_is_off_is_measured_and_said(int off, string says)
    {
        await using var broker = await Broker.StartAsync("stand-in");
        await using var device = await TestPublisher.ConnectAsync(broker.Port, null);
        var (probe, plain) = (Tag(1, "probe#/v | time #/t", RawType.Float64), Tag(2, "plain", RawType.Float64));
        await using var heard = Run(broker.Port, probe, plain);
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        var time = DateTimeOffset.UtcNow.AddSeconds(off);
        await device.SayAsync("probe", $$"""{"v":1,"t":"{{time:O}}"}""");
        await device.SayAsync("plain", "2");
        await heard.Holds(1, 1);
        await heard.Holds(2, 2);
        heard[1]!.Value.TimeTicks.ShouldBe(time.UtcTicks);
        heard.Link.ClockOffsetOf(probe).TotalSeconds.ShouldBe(-off, 5);
        heard.Link.ClockOffsetOf(plain).ShouldBe(TimeSpan.Zero);
        await Heard.Eventually(() => heard.Link.Status.Clock == says, else_: () => heard.Link.Status.Clock ?? "nothing");
    }

    [Fact]
    [Trait("source", "Debian mosquitto")]
    public async Task Tls_and_passwords_are_kept_to_and_failures_say_what_to_do()
    {
        await using var broker = await Mosquitto.StartAsync(tls: true, user: ("ada", "s3cret"));
        var connection = new MqttConnection("localhost", broker.Port)
        {
            UsesTls = true,
            Authority = broker.Authority,
            User = "ada",
        };
        (await MqttLink.TestAsync(connection, "s3cret", default)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeTrue(t.Message),
            t => t.Message.ShouldContain("over TLS")
        );
        (await MqttLink.TestAsync(connection with { IsVersion5 = true }, "wrong", default)).ShouldSatisfyAllConditions(
            t => t.Succeeded.ShouldBeFalse(),
            t => t.Message.ShouldContain("user")
        );
        (await MqttLink.TestAsync(connection with { Authority = "" }, "s3cret", default)).Message.ShouldContain("is not trusted");
        (await MqttLink.TestAsync(connection with { Host = "127.0.0.1" }, "s3cret", default)).Message.ShouldContain("for another host");
        (await MqttLink.TestAsync(connection with { UsesTls = false }, "s3cret", default)).Succeeded.ShouldBeFalse();
        (await MqttLink.TestAsync(new MqttConnection("127.0.0.1", 1), null, default)).Message.ShouldContain("connection refused");
        (await MqttLink.TestAsync(new MqttConnection("no.such.host.invalid", 1883), null, default)).Message.ShouldContain(
            "no host is called"
        );
    }

    [Theory]
    [InlineData("stand-in")]
    [InlineData("mosquitto")]
    public async Task A_broker_that_goes_makes_every_tag_bad_and_one_that_comes_back_is_found(string kind)
    {
        await using var broker = await Broker.StartAsync(kind);
        await using var heard = Run(broker.Port, Tag(1, "a", RawType.Float64));
        await using (var device = await TestPublisher.ConnectAsync(broker.Port))
        {
            await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
            await device.SayAsync("a", "1");
            await heard.Holds(1, 1);
        }
        await broker.CloseAsync();
        await heard.IsBad(1, StatusCode.BadNotConnected, "conn");
        await broker.OpenAsync();
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        await using var again = await TestPublisher.ConnectAsync(broker.Port);
        await again.SayAsync("a", "2");
        await heard.Holds(1, 2);
    }

    [Fact]
    public async Task A_last_will_makes_the_tags_bad_with_its_time_and_life_makes_them_good_again()
    {
        await using var broker = await Broker.StartAsync("mosquitto");
        var device = await TestPublisher.ConnectAsync(broker.Port, ("hub/status", "offline"u8.ToArray()));
        await device.SayAsync("hub/status", "online", retain: true);
        await using var heard = Run(
            broker.Port,
            new MqttConnection("127.0.0.1", broker.Port) { StatusTopic = "hub/status" },
            Tag(1, "hub/v", RawType.Float64)
        );
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        await device.SayAsync("hub/v", "5");
        await heard.Holds(1, 5);
        device.Break();
        await heard.IsBad(1, StatusCode.BadNoCommunication, "death received at");
        heard.Link.Status.State.ShouldBe(LinkState.Partial);
        await using var again = await TestPublisher.ConnectAsync(broker.Port);
        await again.SayAsync("hub/status", "online", retain: true);
        await again.SayAsync("hub/v", "6");
        await heard.Holds(1, 6);
    }

    [Fact]
    public async Task What_a_broker_has_kept_is_uncertain_where_news_come_at_an_interval()
    {
        await using var broker = await Broker.StartAsync("stand-in");
        await using var device = await TestPublisher.ConnectAsync(broker.Port);
        await device.SayAsync("v", "5", retain: true);
        await using var heard = new Heard(m => new MqttLink(
            new(1, "hub", new MqttConnection("127.0.0.1", broker.Port), TimeSpan.FromSeconds(2)),
            [Tag(1, "v", RawType.Float64)],
            m,
            TimeProvider.System,
            null
        ));
        await Heard.Eventually(() => heard[1]?.Status == StatusCode.UncertainLastUsableValue);
        heard[1]!.Value.Reason!.ShouldContain("how old it is is not known");
        await device.SayAsync("v", "6");
        await heard.Holds(1, 6);
    }

    [Fact]
    public async Task Garbage_on_one_topic_harms_no_other_and_is_counted()
    {
        await using var broker = await Broker.StartAsync("stand-in");
        await using var device = await TestPublisher.ConnectAsync(broker.Port);
        await using var heard = Run(broker.Port, Tag(1, "good", RawType.Float64), Tag(2, "bad#/v", RawType.Float64));
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        byte[][] garbage =
        [
            [0xFF, 0xFE, 0x00],
            [.. Enumerable.Repeat((byte)'[', 64 * 1024)],
            Encoding.UTF8.GetBytes($"{{\"v\":\"{new string('x', 64 * 1024)}\"}}"),
            [],
        ];
        foreach (var payload in garbage)
        {
            await device.SayAsync("bad", payload);
            await Heard.Eventually(() => heard[2] is { Status.IsBad: true });
            await device.SayAsync("good", "1");
            await heard.Holds(1, 1);
        }
        await Heard.Eventually(() => heard.Link.Status.Errors >= garbage.Length - 1);
        await device.SayAsync("bad", """{"v":3}""");
        await heard.Holds(2, 3);
    }

    [Fact]
    public async Task A_command_nobody_carries_out_is_not_confirmed()
    {
        await using var broker = await Broker.StartAsync("stand-in");
        var tag = Tag(1, "fan | set fan/set", RawType.Bool);
        await using var heard = Run(broker.Port, tag);
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        var result = await heard.Link.WriteAsync(TagWrite.Of(tag, 1, null, out _)!, default);
        (result.Outcome, result.Reason).ShouldBe(
            (WriteOutcome.NotConfirmed, "the broker has taken it, but fan | set fan/set did not say so within 3 s")
        );
    }

    [Fact]
    public async Task Other_tags_are_followed_and_topics_are_found_by_listening()
    {
        await using var broker = await Broker.StartAsync("stand-in");
        await using var device = await TestPublisher.ConnectAsync(broker.Port);
        await device.SayAsync("silo/S01", """{"level":{"m":1.5},"on":true}""", retain: true);
        await device.SayAsync("other/x", "1", retain: true);
        await using var heard = Run(broker.Port, Tag(1, "a", RawType.Float64));
        await Heard.Eventually(() => heard.Link.Status.State == LinkState.Up);
        var found = await heard.Link.BrowseAsync(new("silo/#"), default);
        found.Items.Select(i => $"{i.Address} {i.Type} {i.Value}").ShouldBe(["silo/S01#/level/m Float64 1.5", "silo/S01#/on Bool true"]);
        await device.SayAsync("silo/S01", """{"level":{"m":2.5}}""", retain: true);
        await device.SayAsync("silo/S02", "7", retain: true);
        var further = found.With(await heard.Link.BrowseAsync(new("silo/#", found.Continuation.ShouldNotBeNull()), default));
        further
            .Items.Select(i => $"{i.Address} {i.Value}")
            .ShouldBe(
                ["silo/S01#/level/m 2.5", "silo/S01#/on true", "silo/S02 7"],
                "what has come since is added, what was said again is new"
            );
        heard.Link.Retag([Tag(2, "silo/S01#/level/m", RawType.Float64)]);
        await heard.Holds(2, 2.5);
    }

    private static Tag Tag(long id, string address, RawType type) =>
        new(id, 1, $"T{id}", Protocol.Mqtt.Rules().ReadAddress(address, out _)!, type, WordOrder.HighFirst, "");

    private static Heard Run(int port, Tag one, Tag two, Tag three, Tag four, bool version5) =>
        Run(port, new MqttConnection("127.0.0.1", port) { IsVersion5 = version5 }, one, two, three, four);

    private static Heard Run(int port, params Tag[] tags) => Run(port, new MqttConnection("127.0.0.1", port), tags);

    private static Heard Run(int port, MqttConnection connection, params Tag[] tags) =>
        new(m => new MqttLink(new(port, "hub", connection, TimeSpan.Zero), tags, m, TimeProvider.System, null));

    /// <summary>Either broker, behind one face.</summary>
    private sealed class Broker(StandInBroker? standIn, Mosquitto? mosquitto) : IAsyncDisposable
    {
        public int Port => standIn?.Port ?? mosquitto!.Port;

        public static async Task<Broker> StartAsync(string kind)
        {
            if (kind == "mosquitto")
                return new(null, await Mosquitto.StartAsync());
            var broker = new StandInBroker(0);
            await broker.OpenAsync();
            return new(broker, null);
        }

        public Task OpenAsync() => standIn?.OpenAsync() ?? mosquitto!.OpenAsync();

        public Task CloseAsync() => standIn?.CloseAsync() ?? mosquitto!.CloseAsync();

        public ValueTask DisposeAsync() => standIn?.DisposeAsync() ?? mosquitto!.DisposeAsync();
    }
}
