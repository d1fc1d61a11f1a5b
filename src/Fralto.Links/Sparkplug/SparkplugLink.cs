using System.Buffers;
using System.Globalization;
using System.Text;
using Fralto.Core.Controllers;
using Fralto.Core.Quality;
using Fralto.Core.Sparkplug;
using Fralto.Links.Mqtt;
using Fralto.Sparkplug.Wire;
using Google.Protobuf;
using MQTTnet;
using MQTTnet.Protocol;

namespace Fralto.Links.Sparkplug;

/// <summary>A Sparkplug B 3.0 host application: births say what there is, data what it is now, deaths that it is gone.</summary>
public sealed class SparkplugLink(
    Controller controller,
    IReadOnlyList<Tag> tags,
    SampleMailbox mailbox,
    TimeProvider clock,
    string? password
) : BrokerLink(controller, tags, mailbox, clock)
{
    private const string Rebirth = "Node Control/Rebirth";
    private const int LargestPayload = 4 * 1024 * 1024;

    /// <summary>A node is not asked for a rebirth again sooner than this; one that does not answer waits twice as long each time.</summary>
    private static readonly long AskAgainAfter = TimeSpan.FromSeconds(5).Ticks;

    private const int MostDoublings = 6;

    /// <summary>Rebirths asked for in a second, of all nodes together: a broker that speaks of many that are none costs the network no
    /// more.</summary>
    private const int MostAsks = 20;

    /// <summary>The end of the year 9999, in milliseconds since 1970; nothing later is a time.</summary>
    private const ulong LatestTime = 253_402_300_799_999;

    /// <summary>The most edge nodes that are followed.</summary>
    private const int MostNodes = 5000;

    private static readonly long Settling = TimeSpan.FromSeconds(1).Ticks;

    private readonly SparkplugConnection _connection = (SparkplugConnection)controller.Connection;
    private readonly Dictionary<(string Group, string Node), EdgeNode> _nodes = [];
    private readonly HashSet<(string Group, string Node)> _toAsk = [];
    private readonly long _begun = clock.GetUtcNow().ToUnixTimeMilliseconds();
    private Dictionary<(string Source, string Metric), Tag[]> _routes = [];
    private long _rebirths;
    private long _historical;
    private bool _isChanged;
    private long _settlesAt;
    private long _asksSince;
    private int _asks;
    private bool _isCrowded;

    /// <summary>Time that nobody can set: what is paced is paced by it.</summary>
    private long Ticks => Clock.Moment().Ticks;

    public override TimeSpan ClockOffsetOf(Tag tag)
    {
        lock (Gate)
            return tag.Address is MetricAddress at && _nodes.TryGetValue((at.Group, at.Node), out var node)
                ? node.Clock.Offset
                : TimeSpan.Zero;
    }

    public override async Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop)
    {
        if (Session is null)
            return new([], Status.Reason ?? "not connected");
        // Nodes that have not been heard of since we connected announce themselves when they are asked, or with their next message.
        await Task.Delay(TimeSpan.FromSeconds(1), Clock, stop);
        lock (Gate)
        {
            var items = _nodes
                .Values.Where(n => n.IsBorn)
                .SelectMany(n => n.Metrics)
                .Select(m => m.Item)
                .OfType<SourceItem>()
                .Where(i => i.Path is not [.., "bdSeq"] && !i.PathText.Contains("Node Control/", StringComparison.Ordinal))
                .OrderBy(i => i.PathText, StringComparer.Ordinal)
                .ToArray();
            return new(
                items,
                items.Length > 0
                    ? null
                    : $"Connected, but no edge node {(_connection.Group.Length > 0 ? $"of the group {_connection.Group} " : "")}has "
                        + $"announced itself yet. Nodes do when they connect, or with their next message."
            );
        }
    }

    public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop)
    {
        if (write.Slice is not null || write.Tag.Address is MetricAddress { Element: not null })
            return Task.FromResult(WriteResult.Refused("a part of a metric cannot be commanded"));
        var address = (MetricAddress)write.Tag.Address;
        EdgeNode.BornMetric? born;
        lock (Gate)
            born = _nodes.TryGetValue((address.Group, address.Node), out var node) && node.IsBorn ? node.Find(address) : null;
        if (born is null)
            return Task.FromResult(WriteResult.Refused($"nothing was sent: {address.Source} has not announced {address.Metric}"));
        var metric = new Metric { Timestamp = (ulong)Clock.GetUtcNow().ToUnixTimeMilliseconds() };
        if (born.Alias is { } alias)
            metric.Alias = alias;
        else
            metric.Name = born.Name;
        SparkplugValues.Write(metric, born.Datatype, write);
        return CommandAsync(
            write,
            session =>
                session.PublishAsync(
                    SparkplugTopic.Command(address.Group, address.Node, address.Device),
                    Payload(metric),
                    MqttQualityOfServiceLevel.AtMostOnce,
                    false,
                    stop
                ),
            $"it was sent, but {address} did not say so",
            stop
        );
    }

    private protected override Task<MqttSession> ConnectAsync(Action<string, ReadOnlySequence<byte>, bool> received, CancellationToken stop)
    {
        lock (Gate)
        {
            _nodes.Clear();
            _toAsk.Clear();
            Route();
        }
        var will = new MqttApplicationMessage
        {
            Topic = SparkplugTopic.State(_connection.HostId),
            PayloadSegment = State(false),
            QualityOfServiceLevel = MqttQualityOfServiceLevel.AtLeastOnce,
            Retain = true,
        };
        return MqttSession.ConnectAsync(_connection, password, "", received, will, stop, Note);
    }

    private protected override async Task BeginAsync(MqttSession session, CancellationToken stop)
    {
        Say(pending =>
        {
            foreach (var tag in Tags)
                AddBad(
                    pending,
                    [tag],
                    StatusCode.BadWaitingForInitialData,
                    Now,
                    $"connected; {((MetricAddress)tag.Address).Source} has not announced itself yet"
                );
            _isChanged = true;
            _settlesAt = Ticks + Settling;
        });
        await session.SubscribeAsync(
            [$"{SparkplugTopic.Namespace}/{(_connection.Group.Length > 0 ? _connection.Group : "+")}/#"],
            MqttQualityOfServiceLevel.AtMostOnce,
            stop
        );
        await session.PublishAsync(
            SparkplugTopic.State(_connection.HostId),
            State(true),
            MqttQualityOfServiceLevel.AtLeastOnce,
            true,
            stop
        );
        lock (Gate)
            foreach (var tag in Tags)
                Ask((MetricAddress)tag.Address is var a ? (a.Group, a.Node) : default);
        await TendAsync(session, false, stop);
    }

    private protected override async Task TendAsync(MqttSession session, bool isRetagged, CancellationToken stop)
    {
        (string Group, string Node)[] ask;
        lock (Gate)
        {
            if (isRetagged)
            {
                Route();
                Catch();
            }
            if (_asksSince == 0 || Ticks - _asksSince >= TimeSpan.TicksPerSecond)
                (_asksSince, _asks) = (Ticks, 0);
            ask =
            [
                .. _toAsk
                    .Where(n =>
                        !_nodes.TryGetValue(n, out var known)
                        || Ticks - known.AskedAt > AskAgainAfter << Math.Min(known.AskedInVain, MostDoublings)
                    )
                    .Take(MostAsks - _asks),
            ];
            _asks += ask.Length;
            foreach (var key in ask)
            {
                _toAsk.Remove(key);
                var node = NodeOf(key);
                (node.AskedInVain, node.AskedAt) = (node.IsBorn || node.AskedAt == 0 ? 0 : node.AskedInVain + 1, Ticks);
                _rebirths++;
            }
        }
        foreach (var (group, node) in ask)
            await session.PublishAsync(
                SparkplugTopic.Command(group, node, null),
                Payload(
                    new Metric
                    {
                        Name = Rebirth,
                        Datatype = 11,
                        BooleanValue = true,
                    }
                ),
                MqttQualityOfServiceLevel.AtMostOnce,
                false,
                stop
            );
        lock (Gate)
        {
            // Right after connecting births come one by one; what is not there yet is said when it has had its time.
            if ((ask.Length == 0 && !_isChanged) || Ticks < _settlesAt)
                return;
            _isChanged = false;
            Report();
        }
    }

    private protected override async Task EndAsync(MqttSession session)
    {
        try
        {
            await session
                .PublishAsync(
                    SparkplugTopic.State(_connection.HostId),
                    State(false),
                    MqttQualityOfServiceLevel.AtLeastOnce,
                    true,
                    CancellationToken.None
                )
                .WaitAsync(TimeSpan.FromSeconds(1));
        }
        catch (Exception e) when (e is LinkException or TimeoutException)
        {
            // The broker says it in our place: it is our last will.
        }
    }

    protected override void Hear(string topic, ReadOnlySpan<byte> payload, bool isRetained, List<Sample> into)
    {
        if (SparkplugTopic.Parse(topic) is not { } at || at.Message is "NCMD" or "DCMD")
            return;
        if (_nodes.Count >= MostNodes && !_nodes.ContainsKey(at.NodeKey))
        {
            if (!_isCrowded)
                Note(
                    $"more than {MostNodes} edge nodes speak; {at.Group}/{at.Node} and those after it are not followed. Give the "
                        + $"controller a group"
                );
            _isCrowded = true;
            return;
        }
        if (payload.Length > LargestPayload)
        {
            Note($"{topic}: the payload has {payload.Length} bytes; {LargestPayload} are read");
            return;
        }
        Payload message;
        try
        {
            message = global::Fralto.Sparkplug.Wire.Payload.Parser.ParseFrom(payload);
        }
        catch (InvalidProtocolBufferException e)
        {
            Note($"{topic}: the payload is no Sparkplug message: {e.Message}");
            return;
        }
        var node = NodeOf(at.NodeKey);
        if (message.HasTimestamp && message.Timestamp is > 0 and <= LatestTime && at.Message is "NBIRTH" or "DBIRTH" or "NDATA" or "DDATA")
            node.Clock.Observe(TicksOf(message.Timestamp), Now);
        switch (at.Message)
        {
            case "NBIRTH":
                node.Bear(message, at.Source);
                node.AskedInVain = 0;
                AddBad(
                    into,
                    _routes.Where(r => r.Key.Source.StartsWith(at.Source + "/", StringComparison.Ordinal)).SelectMany(r => r.Value),
                    StatusCode.BadWaitingForInitialData,
                    Now,
                    "the edge node was born again; its device has not announced itself yet"
                );
                HearBirth(at, message, node, into);
                break;
            case "DBIRTH" when node.IsBorn:
                if (!node.Follows(message))
                    Gap(at, message);
                node.BearDevice(message, at.Source);
                HearBirth(at, message, node, into);
                break;
            case "NDATA" or "DDATA" when node.IsBorn:
                if (!node.Follows(message))
                    Gap(at, message);
                HearData(at, message, node, into);
                break;
            case "NDEATH":
                // A death of an earlier session comes late and says nothing of this one.
                var number = message.Metrics.FirstOrDefault(m => m.Name == "bdSeq") is { } metric
                    ? metric.ValueCase == Metric.ValueOneofCase.LongValue
                        ? metric.LongValue
                        : metric.IntValue
                    : (ulong?)null;
                if (node.IsBorn && node.BdSeq is { } born && number is { } its && its != born)
                    return;
                node.Die();
                Bury(
                    at,
                    _routes.Where(r => r.Key.Source == at.Source || r.Key.Source.StartsWith(at.Source + "/", StringComparison.Ordinal)),
                    into
                );
                break;
            case "DDEATH" when node.IsBorn:
                if (!node.Follows(message))
                    Gap(at, message);
                node.Living.Remove(at.Source);
                Bury(at, _routes.Where(r => r.Key.Source == at.Source), into);
                break;
            default:
                Ask(at.NodeKey);
                break;
        }
        if (at.Message is not ("NDATA" or "DDATA"))
            _isChanged = true;
    }

    private static byte[] Payload(Metric metric) =>
        SparkplugValues.Bytes(new Payload { Timestamp = (ulong)DateTimeOffset.UtcNow.ToUnixTimeMilliseconds(), Metrics = { metric } });

    private byte[] State(bool online) =>
        Encoding.UTF8.GetBytes(
            string.Create(CultureInfo.InvariantCulture, $"{{\"online\":{(online ? "true" : "false")},\"timestamp\":{_begun}}}")
        );

    private EdgeNode NodeOf((string Group, string Node) key)
    {
        if (!_nodes.TryGetValue(key, out var node))
            _nodes[key] = node = new();
        return node;
    }

    private void Ask((string Group, string Node) key) => _toAsk.Add(key);

    private void Gap(SparkplugTopic at, Payload message)
    {
        Note($"messages of {at.Group}/{at.Node} are missing before number {message.Seq}; a rebirth was asked for");
        Ask(at.NodeKey);
    }

    private void Route() =>
        _routes = Tags.GroupBy(t => ((MetricAddress)t.Address).Source is var s ? (s, ((MetricAddress)t.Address).Metric) : default)
            .ToDictionary(g => g.Key, g => g.ToArray());

    /// <summary>Gives tags that have come later what is known already; nodes that are not known are asked.</summary>
    private void Catch() =>
        Say(pending =>
        {
            foreach (var tag in Tags)
            {
                var address = (MetricAddress)tag.Address;
                if (!_nodes.TryGetValue((address.Group, address.Node), out var node) || !node.IsBorn)
                    Ask((address.Group, address.Node));
                else if (!node.Living.Contains(address.Source))
                    AddBad(pending, [tag], StatusCode.BadNoCommunication, Now, $"{address.Source} is not there");
                else if (node.Find(address) is not { Newest: var (metric, at) } born)
                    AddBad(
                        pending,
                        [tag],
                        StatusCode.BadNodeIdUnknown,
                        Now,
                        $"the birth of {address.Source} has no metric {address.Metric}"
                    );
                else
                    SparkplugValues.Read(metric, born.Datatype, tag, at, pending);
            }
        });

    private void HearBirth(SparkplugTopic at, Payload message, EdgeNode node, List<Sample> into)
    {
        foreach (var (key, its) in _routes.Where(r => r.Key.Source == at.Source && node.Find((MetricAddress)r.Value[0].Address) is null))
            AddBad(into, its, StatusCode.BadNodeIdUnknown, Now, $"the birth of {at.Source} has no metric {key.Metric}");
        HearData(at, message, node, into);
    }

    private void HearData(SparkplugTopic at, Payload message, EdgeNode node, List<Sample> into)
    {
        foreach (var metric in message.Metrics)
        {
            if (node.Find(at.Source, metric) is not { } born)
            {
                if (!metric.HasName || !metric.Name.StartsWith("_types_/", StringComparison.Ordinal))
                    Ask(at.NodeKey);
                continue;
            }
            var when = TimeOf(metric, message);
            if (metric.IsHistorical)
            {
                _historical++;
                _isChanged = true;
                HearHistorical(born, metric, when);
                continue;
            }
            if (metric.ValueCase != Metric.ValueOneofCase.TemplateValue)
            {
                Hear(born, metric, when, into);
                continue;
            }
            foreach (var (path, leaf) in EdgeNode.Leaves(born.Name, metric))
                if (node.Find(new MetricAddress(at.Group, at.Node, at.Device, path)) is { } member)
                    Hear(member, leaf, when, into);
        }
    }

    /// <summary>A value of the past is no value of now: it goes by a way of its own to what keeps history.</summary>
    private void HearHistorical(EdgeNode.BornMetric born, Metric metric, long when)
    {
        if (!_routes.TryGetValue((born.Source, born.Name), out var its))
            return;
        var past = new List<Sample>();
        foreach (var tag in its)
            SparkplugValues.Read(metric, born.Datatype, tag, when, past);
        Post([.. past], isHistorical: true);
    }

    private void Hear(EdgeNode.BornMetric born, Metric metric, long when, List<Sample> into)
    {
        born.Update(metric, when);
        if (!_routes.TryGetValue((born.Source, born.Name), out var its))
            return;
        foreach (var tag in its)
            SparkplugValues.Read(metric, born.Datatype, tag, when, into);
    }

    private long TimeOf(Metric metric, Payload message)
    {
        var milliseconds =
            metric.HasTimestamp ? metric.Timestamp
            : message.HasTimestamp ? message.Timestamp
            : 0;
        return milliseconds is 0 or > LatestTime ? Now : TicksOf(milliseconds);
    }

    private static long TicksOf(ulong milliseconds) => DateTime.UnixEpoch.Ticks + (long)milliseconds * TimeSpan.TicksPerMillisecond;

    private void Bury(SparkplugTopic at, IEnumerable<KeyValuePair<(string Source, string Metric), Tag[]>> routes, List<Sample> into) =>
        AddBad(
            into,
            routes.SelectMany(r => r.Value),
            StatusCode.BadNoCommunication,
            Now,
            $"death received at {Clock.GetUtcNow().UtcDateTime.ToString("HH:mm:ss", CultureInfo.InvariantCulture)} UTC from {at.Source}"
        );

    private void Report()
    {
        // Where a whole edge node is away its devices need not be named.
        var wanted = Tags.Select(t => (MetricAddress)t.Address)
            .Select(a => _nodes.TryGetValue((a.Group, a.Node), out var node) && node.IsBorn ? a.Source : $"{a.Group}/{a.Node}")
            .ToHashSet(StringComparer.Ordinal);
        var living = _nodes.Values.SelectMany(n => n.Living).ToHashSet(StringComparer.Ordinal);
        var missing = wanted.Where(s => !living.Contains(s)).Order(StringComparer.Ordinal).ToArray();
        Enter(
            missing.Length == 0 ? LinkState.Up : LinkState.Partial,
            missing.Length == 0
                ? null
                : $"{string.Join(", ", missing.Take(3))}{(missing.Length > 3 ? $" and {missing.Length - 3} more" : "")} "
                    + $"{(missing.Length == 1 ? "is" : "are")} not there"
        );
        Set(s =>
            s with
            {
                Clock = WordsOfClocks(_nodes.Where(n => n.Value.IsBorn).Select(n => ($"{n.Key.Group}/{n.Key.Node}", n.Value.Clock))),
                Remark =
                    $"{Count(_nodes.Values.Count(n => n.IsBorn), "edge node")} and "
                    + $"{Count(living.Count(l => l.Count(c => c == '/') == 2), "device")} live; {Count(_rebirths, "rebirth")} asked "
                    + $"for; {Count(_historical, "historical value")} passed over",
            }
        );
    }

    private static string Count(long count, string one) => count == 1 ? $"1 {one}" : $"{count} {one}s";
}
