using System.Text.Json;
using System.Text.Json.Nodes;
using System.Threading.Channels;
using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.OpcUa;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Links.OpcUa;

/// <summary>An OPC UA server: nodes are subscribed, and a child process speaks to it.</summary>
/// <remarks>The child is kept while the server is gone, and started again when it ends. Whatever breaks, a session is begun anew and every
/// node subscribed anew, so that what a server forgot, or numbers otherwise since, does no harm.</remarks>
public sealed class OpcUaLink : Link, ITypeSource, INodeTree
{
    /// <summary>The publishing interval where none is said.</summary>
    private static readonly TimeSpan UsualInterval = TimeSpan.FromSeconds(1);

    private static readonly TimeSpan ReadBackEvery = TimeSpan.FromMilliseconds(100);
    private static readonly TimeSpan AnswersWithin = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan BrowsesWithin = TimeSpan.FromSeconds(60);

    /// <summary>Nodes subscribed in one question to the child.</summary>
    private const int NodesAnAsk = 2000;

    /// <summary>Nodes that one answer of browsing lists.</summary>
    private const int NodesABrowse = 200_000;

    private readonly OpcUaConnection _connection;
    private readonly UaIdentity _identity;
    private readonly string? _password;
    private readonly Action<string> _log;
    private readonly Channel<bool> _stir = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite }
    );
    private readonly Lock _gate = new();
    private readonly SourceClock _clock = new();
    private readonly Dictionary<Subscribed, int> _handles = [];
    private readonly Dictionary<int, StatusCode> _refused = [];
    private volatile Followed?[] _followed = [];
    private volatile UaChild? _child;
    private volatile string? _lost;
    private volatile bool _isOpen;
    private volatile byte[]? _shown;
    private Task _written = Task.CompletedTask;
    private int _nextHandle;

    public OpcUaLink(LinkSetup setup, UaIdentity identity)
        : base(setup.Controller, setup.Tags, setup.Mailbox, setup.Clock) =>
        (_connection, _identity, _password, _log) = ((OpcUaConnection)setup.Controller.Connection, identity, setup.Password, setup.Log);

    public override TimeSpan ClockOffsetOf(Tag tag) => _clock.Offset;

    public override void Retag(IReadOnlyList<Tag> tags)
    {
        base.Retag(tags);
        _stir.Writer.TryWrite(true);
    }

    public override Task<WriteResult> WriteAsync(TagWrite write, CancellationToken stop)
    {
        // One after the other: bits of a word are put into what it holds now.
        lock (_gate)
        {
            var result = InTurnAsync(_written, write, stop);
            _written = result;
            return result;
        }
    }

    private async Task<WriteResult> InTurnAsync(Task before, TagWrite write, CancellationToken stop)
    {
        await before.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        if (!_isOpen || _child is not { } child)
            return WriteResult.Refused($"nothing was sent: {Status.Reason ?? "not connected"}");
        var address = (NodeAddress)write.Tag.Address;
        if (address.Member is not null)
            return WriteResult.Refused("a member of a structure cannot be written");
        var element = address.Element ?? (write.Tag.IsArray ? write.Element : (int?)null);
        try
        {
            var raw = write.Raw;
            if (write.Slice is { FirstBit: not null })
            {
                var (now, status) = await UaSession.ReadAsync(child, address, stop);
                if (element is { } at && now.ValueKind == JsonValueKind.Array && at < now.GetArrayLength())
                    now = now[at];
                if (status.IsBad || NodeValue.Number(now) is not { } word)
                    return WriteResult.Refused(
                        $"nothing was sent: the word it is part of cannot be read, {UaStatusText.Words(status) ?? "it is no number"}"
                    );
                raw = write.Into(word);
            }
            var said = await child.AskAsync(
                "write",
                new()
                {
                    ["node"] = address.Node,
                    ["value"] = write.Text is { } text ? text : Written(raw, write.Tag.Type),
                    ["element"] = element,
                },
                ReadBackWithin,
                stop
            );
            CountRequest(2);
            var (back, held) = (said.GetProperty("value"), new StatusCode(said.GetProperty("status").GetUInt32()));
            // A server may say that it has taken a value and show it a scan of its device later.
            for (var written = Clock.GetTimestamp(); ; )
            {
                if (element is { } one && back.ValueKind == JsonValueKind.Array && one < back.GetArrayLength())
                    back = back[one];
                if (!held.IsBad && Holds(back, write.Text, raw, write.Tag.Type))
                    return WriteResult.Confirmed;
                if (Clock.GetElapsedTime(written) > ReadBackWithin)
                    break;
                await Task.Delay(ReadBackEvery, Clock, stop);
                (back, held) = await UaSession.ReadAsync(child, address, stop);
                CountRequest();
            }
            return WriteResult.NotConfirmed(
                held.IsBad
                    ? $"it was sent, but cannot be read back: {UaStatusText.Words(held)}"
                    : $"it was sent, but the server holds {NodeValue.Words(back)}"
            );
        }
        catch (LinkException e)
        {
            CountError();
            return e.Status == StatusCode.BadTimeout ? WriteResult.NotConfirmed(e.Message) : WriteResult.Refused(e.Message);
        }
    }

    public override async Task<BrowseResult> BrowseAsync(BrowseRequest request, CancellationToken stop)
    {
        if (!_isOpen || _child is not { } child)
            return new([], Status.Reason ?? "not connected");
        var ask = new JsonObject { ["most"] = NodesABrowse };
        if (request.Continuation is { } continuation)
            ask["on"] = long.TryParse(continuation, out var left) ? left : 0;
        else
        {
            var from = request.Filter is "" or "#" ? "" : request.Filter;
            if (from.Length > 0 && NodeAddress.Parse(from, out var wrong) is null)
                return new([], wrong);
            ask["from"] = from.Length > 0 ? NodeAddress.Parse(from, out _)!.Node : "";
        }
        var items = new List<SourceItem>();
        try
        {
            var browsing = child.AskAsync("browse", ask, BrowsesWithin, stop, part =>
            {
                foreach (var node in part.EnumerateArray())
                    items.AddRange(BrowsedNode.ItemsOf(node));
                request.Found?.Invoke(items.Count);
            });
            var number = ask["id"]!.GetValue<long>();
            await using var enough = request.Enough.Register(() =>
                _ = child.AskAsync("enough", new() { ["browse"] = number }, AnswersWithin, stop)
            );
            var said = await browsing;
            var on = said.GetProperty("on").ValueKind == JsonValueKind.Number ? said.GetProperty("on").GetRawText() : null;
            return Sorted(
                items.Count == 0 && on is null ? "The server lists no variables there."
                    : said.TryGetProperty("tooDeep", out var deep) && deep.GetBoolean()
                        ? "What stands more than 200 levels deep was not looked at; browse below a node further down."
                    : null,
                on
            );
        }
        catch (LinkException e)
        {
            return Sorted(e.Message, null);
        }

        BrowseResult Sorted(string? problem, string? on) => new([.. items.OrderBy(i => i.PathText, StringComparer.Ordinal)], problem, on);
    }

    public async Task<NodeLevel> LevelAsync(string node, CancellationToken stop)
    {
        if (node.Length > 0 && NodeAddress.Parse(node, out var wrong) is null)
            throw new LinkException(StatusCode.BadConfigurationError, wrong!);
        var said = await AskAsync("level", new() { ["node"] = node.Length > 0 ? NodeAddress.Parse(node, out _)!.Node : "i=85" }, stop);
        return new(
            [.. said.GetProperty("above").EnumerateArray().Select(o => new NodeObject(Address(o), Text(o, "name")))],
            [
                .. said.GetProperty("objects")
                    .EnumerateArray()
                    .Select(o => new NodeObject(
                        Address(o),
                        Text(o, "name"),
                        o.GetProperty("objects").GetInt32(),
                        o.GetProperty("variables").GetInt32()
                    )),
            ],
            said.GetProperty("more").GetInt32()
        );

        static string Address(JsonElement of) => NodeAddress.OfNode(Text(of, "node"))?.ToString() ?? Text(of, "node");

        static string Text(JsonElement of, string name) => of.GetProperty(name).GetString()!;
    }

    public async Task<IReadOnlyList<ServerType>> TypesAsync(CancellationToken stop)
    {
        var said = await AskAsync("types", [], stop);
        return
        [
            .. said.GetProperty("types")
                .EnumerateArray()
                .Select(t => new ServerType(
                    t.GetProperty("node").GetString()!,
                    t.GetProperty("name").GetString()!,
                    t.GetProperty("objects").GetInt32()
                ))
                .OrderBy(t => t.Name, StringComparer.Ordinal),
        ];
    }

    public async Task<TypeLibrary> LibraryAsync(string node, CancellationToken stop) =>
        ServerLibrary.Of(await AskAsync("structure", new() { ["node"] = node }, stop));

    private async Task<JsonElement> AskAsync(string op, JsonObject ask, CancellationToken stop) =>
        _isOpen && _child is { } child
            ? await child.AskAsync(op, ask, BrowsesWithin, stop)
            : throw new LinkException(StatusCode.BadNotConnected, Status.Reason ?? "not connected");

    protected override async Task ServeAsync(Action connected, CancellationToken stop)
    {
        if (_child is null or { IsGone: true })
        {
            await EndChildAsync();
            _child = UaChild.Start(Controller.Name, Hear, _log);
        }
        var child = _child;
        try
        {
            _lost = null;
            _handles.Clear();
            _refused.Clear();
            _followed = [];
            _nextHandle = 0;
            var offer = await UaSession.OpenAsync(child, _connection, _password, _identity, Clock, stop);
            _shown = _connection.Security.IsSecured ? offer.Certificate?.Der : null;
            _identity.TrustChanged += Judge;
            connected();
            _isOpen = true;
            while (true)
            {
                await FollowAsync(child, stop);
                var stirred = _stir.Reader.WaitToReadAsync(stop).AsTask();
                await Task.WhenAny(stirred, child.Gone);
                stop.ThrowIfCancellationRequested();
                if (child.IsGone)
                    throw new LinkException(StatusCode.BadNotConnected, $"the OPC UA client ended: {child.LastWords}");
                if (_lost is { } why)
                    throw new LinkException(StatusCode.BadNotConnected, why);
                _stir.Reader.TryRead(out _);
            }
        }
        finally
        {
            _identity.TrustChanged -= Judge;
            _isOpen = false;
            if (stop.IsCancellationRequested)
                await EndChildAsync();
        }
    }

    /// <summary>Ends the connection to a server that is no longer trusted.</summary>
    private void Judge()
    {
        if (_shown is not { } shown || _identity.IsTrusted(shown))
            return;
        _lost = "the server's certificate is no longer trusted";
        _stir.Writer.TryWrite(true);
    }

    protected override void Lost() => _isOpen = false;

    private async Task EndChildAsync()
    {
        if (Interlocked.Exchange(ref _child, null) is { } child)
            await child.DisposeAsync();
    }

    /// <summary>Subscribes what is not yet, and lets go of what no tag asks for any more.</summary>
    private async Task FollowAsync(UaChild child, CancellationToken stop)
    {
        var wanted = Tags.GroupBy(AskedFor).ToDictionary(g => g.Key, g => g.ToArray());
        var gone = _handles.Where(h => !wanted.ContainsKey(h.Key)).ToArray();
        var added = new List<(int Handle, Subscribed Its)>();
        var fresh = new List<Tag>();
        var followed = _followed;
        foreach (var (key, tags) in wanted)
        {
            if (!_handles.TryGetValue(key, out var handle))
            {
                _handles[key] = handle = _nextHandle++;
                added.Add((handle, key));
            }
            if (handle >= followed.Length)
                Array.Resize(ref followed, Math.Max(64, Math.Max(handle + 1, followed.Length * 2)));
            var before = followed[handle]?.Tags ?? [];
            fresh.AddRange(tags.Except(before));
            if (!tags.SequenceEqual(before))
                followed[handle] = new(tags) { Newest = followed[handle]?.Newest };
        }
        foreach (var (key, handle) in gone)
        {
            _handles.Remove(key);
            _refused.Remove(handle);
            followed[handle] = null;
        }
        _followed = followed;
        var bad = new List<Sample>();
        AddBad(bad, fresh, StatusCode.BadWaitingForInitialData, Now, "connected; no value has come yet");
        Post([.. bad]);
        // What a node held when it was told last is news to a tag that follows it only now.
        foreach (var handle in _handles.Values)
            if (followed[handle] is { Newest: { } newest } its && its.Tags.Any(fresh.Contains))
                Hear([newest]);
        if (gone.Length > 0)
        {
            var handles = new JsonArray();
            foreach (var (_, handle) in gone)
                handles.Add(handle);
            await child.AskAsync("drop", new() { ["handles"] = handles }, AnswersWithin, stop);
        }
        var unfiltered = 0;
        foreach (var group in added.GroupBy(a => a.Its.Interval))
        foreach (var some in group.Chunk(NodesAnAsk))
        {
            var items = new JsonArray();
            foreach (var (handle, its) in some)
                items.Add(new JsonArray(handle, its.Node, its.Sampling.TotalMilliseconds, its.Queue, its.Deadband));
            var said = await child.AskAsync(
                "follow",
                new() { ["interval"] = group.Key.TotalMilliseconds, ["items"] = items },
                AnswersWithin,
                stop
            );
            foreach (var refused in said.GetProperty("refused").EnumerateArray())
                Refuse(refused[0].GetInt32(), new(refused[1].GetUInt32()));
            unfiltered += said.GetProperty("unfiltered").GetInt32();
        }
        if (unfiltered > 0)
            Note($"{unfiltered} nodes are followed without a deadband: they say no range, or the server knows none");
        Enter(
            _refused.Count > 0 ? LinkState.Partial : LinkState.Up,
            _refused.Count > 0
                ? $"{_refused.Count} of {_handles.Count} nodes are refused; of the first, "
                    + $"{_followed[_refused.First().Key]?.Tags[0].Name}, {UaStatusText.Words(_refused.First().Value)}"
                : null
        );
    }

    private void Refuse(int handle, StatusCode status)
    {
        _refused[handle] = status;
        var bad = new List<Sample>();
        AddBad(bad, _followed[handle]?.Tags ?? [], status, Now, UaStatusText.Words(status) ?? status.Name);
        Post([.. bad]);
    }

    /// <summary>What is asked of the server for a tag: what its update class says, else the connection.</summary>
    private Subscribed AskedFor(Tag tag)
    {
        var its = Controller.ClassOf(tag);
        var interval = Controller.IntervalOf(tag) is { Ticks: > 0 } some ? some : UsualInterval;
        return new(
            ((NodeAddress)tag.Address).Node,
            interval,
            its?.Sampling ?? (_connection.Sampling > TimeSpan.Zero ? _connection.Sampling : interval),
            its?.Queue ?? _connection.Queue,
            its?.Deadband ?? _connection.Deadband
        );
    }

    /// <summary>Takes what the child says unasked.</summary>
    private void Hear(JsonElement said)
    {
        if (said.TryGetProperty("data", out var data))
        {
            CountRequest();
            CountBytes(data.GetRawText().Length);
            Hear(data.EnumerateArray());
        }
        else if (said.TryGetProperty("lost", out var why))
        {
            _lost = why.GetString();
            _stir.Writer.TryWrite(true);
        }
        else if (said.TryGetProperty("overtaken", out var overtaken))
            Note($"{overtaken.GetInt64()} values were overtaken by newer ones before they were taken");
    }

    private void Hear(IEnumerable<JsonElement> changes)
    {
        var samples = new List<Sample>();
        var (followed, arrived) = (_followed, Now);
        foreach (var change in changes)
        {
            var handle = change[0].GetInt32();
            if (handle >= followed.Length || followed[handle] is not { } its)
                continue;
            var status = new StatusCode(change[2].GetUInt32());
            var at = change[3].ValueKind == JsonValueKind.Number ? TicksOf(change[3].GetDouble(), arrived) : arrived;
            // The first value of a node may be of long ago; what comes after it is news.
            if (its.Newest is not null && change[3].ValueKind == JsonValueKind.Number && status.IsGood)
                _clock.Observe(at, arrived);
            its.Newest = change.Clone();
            foreach (var tag in its.Tags)
                NodeValue.Read(tag, change[1], status, at, samples);
        }
        Post([.. samples]);
        if (WordsOfClocks([("the server", _clock)]) is var clock && clock != Status.Clock)
            Set(s => s with { Clock = clock });
    }

    /// <summary>A time in ms since 1970 in UTC ticks; the time of arrival for one no calendar has.</summary>
    private static long TicksOf(double milliseconds, long arrived) =>
        milliseconds is > -62_135_596_800_000 and < 253_402_300_800_000
            ? DateTimeOffset.UnixEpoch.Ticks + (long)(milliseconds * TimeSpan.TicksPerMillisecond)
            : arrived;

    /// <summary>A number for the child: 64-bit integers as text, which JSON would round.</summary>
    private static JsonNode Written(double raw, RawType type) =>
        type is RawType.Int64 ? ((long)raw).ToString(System.Globalization.CultureInfo.InvariantCulture)
        : type is RawType.UInt64 ? ((ulong)raw).ToString(System.Globalization.CultureInfo.InvariantCulture)
        : double.IsFinite(raw) ? raw
        : raw.ToString(System.Globalization.CultureInfo.InvariantCulture);

    private static bool Holds(JsonElement back, string? text, double raw, RawType type)
    {
        if (text is not null)
            return back.ValueKind == JsonValueKind.String && back.GetString() == text;
        if (NodeValue.Number(back) is not { } held)
            return false;
        return held.Equals(raw) || Math.Abs(held - raw) <= (type is RawType.Float32 or RawType.Float64 ? 1e-6 * Math.Abs(raw) : 0);
    }

    /// <summary>A node, how often changes of it are sent, and how the server samples it.</summary>
    private readonly record struct Subscribed(string Node, TimeSpan Interval, TimeSpan Sampling, int Queue, double Deadband);

    /// <summary>A subscribed node: the tags it is of, and what it held when it was told last.</summary>
    private sealed class Followed(Tag[] tags)
    {
        public Tag[] Tags => tags;

        public JsonElement? Newest { get; set; }
    }
}
