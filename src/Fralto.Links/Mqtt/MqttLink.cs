using System.Buffers;
using System.Collections.Concurrent;
using System.Globalization;
using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Mqtt;
using Fralto.Core.Quality;
using MQTTnet.Protocol;

namespace Fralto.Links.Mqtt;

/// <summary>Listens to plain topics of an MQTT broker, and publishes commands.</summary>
public sealed class MqttLink(Controller controller, IReadOnlyList<Tag> tags, SampleMailbox mailbox, TimeProvider clock, string? password)
    : BrokerLink(controller, tags, mailbox, clock),
        IPublisher
{
    private const int MostBrowsed = 20_000;
    private const int LongestStatus = 100;
    private static readonly TimeSpan BrowseFor = TimeSpan.FromSeconds(3);
    private static readonly TimeSpan TellClocksEvery = TimeSpan.FromSeconds(2);

    private readonly MqttConnection _connection = (MqttConnection)controller.Connection;
    private volatile Dictionary<string, Route> _routes = [];
    private string? _death;
    private volatile bool _hasRisen;
    private long _clocksTold;

    /// <summary>Connects once, to say in words whether and why not it works.</summary>
    public static async Task<LinkTest> TestAsync(MqttConnection connection, string? password, CancellationToken stop)
    {
        try
        {
            await using var session = await MqttSession.ConnectAsync(connection, password, "-test", (_, _, _) => { }, null, stop);
            return new(
                true,
                $"{connection.Host}:{connection.Port} is a broker and lets {(connection.User.Length > 0 ? connection.User : "us")} "
                    + $"in, with MQTT {(connection.IsVersion5 ? "5.0" : "3.1.1")}{(connection.UsesTls ? " over TLS" : "")}."
            );
        }
        catch (LinkException e)
        {
            return new(false, $"Failed: {e.Message}.");
        }
    }

    public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop)
    {
        if (write.Tag.WhyReadOnly is { } reason)
            return Task.FromResult(WriteResult.Refused(reason));
        if (write.Slice is not null)
            return Task.FromResult(WriteResult.Refused("a part of a payload cannot be commanded"));
        var payload = Encoding.UTF8.GetBytes(PayloadReader.Write(write));
        return CommandAsync(
            write,
            session =>
                session.PublishAsync(
                    ((TopicAddress)write.Tag.Address).CommandTopic!,
                    payload,
                    MqttQualityOfServiceLevel.AtLeastOnce,
                    false,
                    stop
                ),
            $"the broker has taken it, but {write.Tag.Address} did not say so",
            stop
        );
    }

    public async Task<string?> PublishAsync(string topic, byte[] payload, CancellationToken stop)
    {
        if (Session is not { } session)
            return $"nothing was sent: {Status.Reason ?? "not connected"}";
        try
        {
            return await session.PublishAsync(topic, payload, MqttQualityOfServiceLevel.AtLeastOnce, false, stop);
        }
        catch (LinkException e)
        {
            return e.Message;
        }
    }

    public override async Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop)
    {
        var filter = request.Filter;
        if (TopicAddress.FilterProblem(filter) is { } wrong)
            return new([], wrong);
        var seen = new ConcurrentDictionary<string, byte[]>(StringComparer.Ordinal);
        try
        {
            await using var session = await MqttSession.ConnectAsync(
                _connection,
                password,
                "-browse",
                (topic, payload, _) =>
                {
                    if (seen.Count < MostBrowsed || seen.ContainsKey(topic))
                        seen[topic] = payload.ToArray();
                },
                null,
                stop
            );
            await session.SubscribeAsync([filter], MqttQualityOfServiceLevel.AtMostOnce, stop);
            await Task.Delay(BrowseFor, Clock, stop);
        }
        catch (LinkException e)
        {
            return new([], e.Message);
        }
        var items = seen.Where(t => !t.Key.StartsWith('$'))
            .SelectMany(t => PayloadTree.Of(t.Key, t.Value))
            .OrderBy(i => i.PathText, StringComparer.Ordinal)
            .ToArray();
        // Devices that speak rarely are found by listening on.
        return new(
            items,
            items.Length == 0
                    ? $"Nothing was published to {filter} within {BrowseFor.TotalSeconds:0} s, and the broker keeps nothing there."
                : seen.Count >= MostBrowsed ? $"More than {MostBrowsed} topics; say a narrower filter."
                : null,
            seen.Count >= MostBrowsed ? null : filter
        );
    }

    private protected override Task<MqttSession> ConnectAsync(Action<string, ReadOnlySequence<byte>, bool> received, CancellationToken stop)
    {
        _death = null;
        _hasRisen = false;
        _routes = Routes();
        return MqttSession.ConnectAsync(_connection, password, "", received, null, stop, Note);
    }

    private protected override async Task BeginAsync(MqttSession session, CancellationToken stop)
    {
        if (_connection.StatusTopic.Length > 0)
            await session.SubscribeAsync([_connection.StatusTopic], MqttQualityOfServiceLevel.AtLeastOnce, stop);
        await session.SubscribeAsync(_routes.Keys, MqttQualityOfServiceLevel.AtMostOnce, stop);
        Say(pending =>
        {
            foreach (var (topic, route) in _routes.Where(r => !r.Value.IsHeard))
                AddBad(pending, route.Tags, StatusCode.BadWaitingForInitialData, Now, $"connected; nothing has come on {topic} yet");
            Enter(_death is null ? LinkState.Up : LinkState.Partial, _death);
        });
    }

    private protected override async Task TendAsync(MqttSession session, bool isRetagged, CancellationToken stop)
    {
        if (Clock.GetElapsedTime(_clocksTold) >= TellClocksEvery)
        {
            _clocksTold = Clock.GetTimestamp();
            var words = WordsOfClocks(_routes.Where(r => r.Value.Reader.HasTimes).Select(r => (r.Key, r.Value.Clock)));
            if (words != Status.Clock)
                Set(s => s with { Clock = words });
        }
        if (isRetagged)
        {
            var (before, after) = (_routes, Routes());
            _routes = after;
            await session.UnsubscribeAsync(before.Keys.Where(t => !after.ContainsKey(t) && t != _connection.StatusTopic), stop);
        }
        if (!isRetagged && !_hasRisen)
            return;
        // What the broker keeps is asked for again: a new tag would wait for the next message of a topic that has tags already,
        // and what came before the device was known to live was not taken for its value.
        _hasRisen = false;
        await session.SubscribeAsync(_routes.Keys, MqttQualityOfServiceLevel.AtMostOnce, stop);
    }

    public override TimeSpan ClockOffsetOf(Tag tag) =>
        tag.Address is TopicAddress { TimePointer: not null } at && _routes.TryGetValue(at.Topic, out var route)
            ? route.Clock.Offset
            : TimeSpan.Zero;

    private Dictionary<string, Route> Routes() =>
        Tags.GroupBy(t => ((TopicAddress)t.Address).Topic)
            .ToDictionary(g => g.Key, g => new Route([.. g], Controller), StringComparer.Ordinal);

    protected override void Hear(string topic, ReadOnlySpan<byte> payload, bool isRetained, List<Sample> into)
    {
        if (topic == _connection.StatusTopic)
            HearStatus(payload, into);
        if (!_routes.TryGetValue(topic, out var route))
            return;
        route.IsHeard = true;
        var (first, arrived) = (into.Count, Now);
        route.Reader.Read(payload, arrived, into);
        // What was kept is as old as it is; what comes fresh tells how the source's clock stands.
        if (!isRetained && route.Reader.HasTimes)
            for (var i = first; i < into.Count; i++)
                if (into[i].TimeTicks != arrived)
                    route.Clock.Observe(into[i].TimeTicks, arrived);
        for (var i = first; i < into.Count && _death is null; i++)
            if (into[i].Status.IsBad)
                Note($"{topic}: {into[i].Reason}");
        if (isRetained || _death is not null)
            Doubt(route, into, first, arrived);
    }

    /// <summary>What a dead device has said before is not its value; what the broker had kept is of an age that is not known, or is too old
    /// for a value of now.</summary>
    private void Doubt(Route route, List<Sample> samples, int first, long arrived)
    {
        for (var i = first; i < samples.Count; i++)
        {
            var sample = samples[i];
            if (_death is not null)
                samples[i] = sample with { Raw = double.NaN, Status = StatusCode.BadNoCommunication, Reason = _death, Text = null };
            else if (!sample.Status.IsGood || !route.IsTimed)
                continue;
            else if (sample.TimeTicks == arrived)
                samples[i] = sample with
                {
                    Status = StatusCode.UncertainLastUsableValue,
                    Reason = "kept by the broker; how old it is is not known",
                };
            else if (arrived - sample.TimeTicks - route.Clock.Offset.Ticks > route.StaleAfter.Ticks)
                samples[i] = sample with
                {
                    Status = StatusCode.UncertainLastUsableValue,
                    Reason = string.Create(
                        CultureInfo.InvariantCulture,
                        $"kept by the broker; it is of {new DateTime(sample.TimeTicks):yyyy-MM-dd HH:mm:ss} UTC"
                    ),
                };
        }
    }

    private void HearStatus(ReadOnlySpan<byte> payload, List<Sample> into)
    {
        var said = Encoding.UTF8.GetString(payload[..Math.Min(payload.Length, LongestStatus)]).Trim();
        if (string.Equals(said, _connection.OnlinePayload, StringComparison.OrdinalIgnoreCase))
        {
            _hasRisen = _death is not null;
            _death = null;
        }
        else
        {
            _death ??=
                $"death received at {Clock.GetUtcNow().UtcDateTime.ToString("HH:mm:ss", CultureInfo.InvariantCulture)} UTC: "
                + $"{_connection.StatusTopic} says '{said}'";
            AddBad(into, Tags, StatusCode.BadNoCommunication, Now, _death);
        }
        Enter(_death is null ? LinkState.Up : LinkState.Partial, _death);
    }

    private sealed class Route(Tag[] tags, Controller controller)
    {
        public Tag[] Tags => tags;

        public PayloadReader Reader { get; } = new(tags);

        /// <summary>The clock that gives the topic its times.</summary>
        public SourceClock Clock { get; } = new();

        /// <summary>A value older than this is none of now.</summary>
        public TimeSpan StaleAfter { get; } = tags.Max(controller.StaleAfter);

        /// <summary>True when messages are expected at an interval.</summary>
        public bool IsTimed { get; } = tags.Any(t => controller.IntervalOf(t) > TimeSpan.Zero);

        public bool IsHeard { get; set; }
    }
}
