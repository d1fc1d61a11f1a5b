using System.Collections.Concurrent;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Threading.Channels;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Web.Live;

/// <summary>Live values for open pages: one payload a scope and tick, shared by every window that looks at it.</summary>
public sealed class LiveFeed : IDisposable
{
    private const int MostWaiting = 40;
    private readonly PlantRuntime _runtime;
    private readonly ModelWorkspace _workspace;
    private readonly HeaderFigures _figures;
    private readonly ConcurrentDictionary<LiveScope, Group> _groups = new();

    public LiveFeed(PlantRuntime runtime, ModelWorkspace workspace, HeaderFigures figures)
    {
        (_runtime, _workspace, _figures) = (runtime, workspace, figures);
        _runtime.Published += OnPublished;
    }

    public void Dispose() => _runtime.Published -= OnPublished;

    /// <summary>The payloads of a scope: first everything, then what has changed.</summary>
    public async IAsyncEnumerable<string> ListenAsync(LiveScope scope, [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop)
    {
        // A window that stops reading is let go when its mailbox is full; it asks again and begins with everything.
        var mailbox = Channel.CreateBounded<string>(MostWaiting);
        var group = Join(scope, mailbox.Writer);
        try
        {
            await foreach (var payload in mailbox.Reader.ReadAllAsync(stop)) yield return payload;
        }
        finally
        {
            lock (group) group.Listeners.Remove(mailbox.Writer);
        }
    }

    private Group Join(LiveScope scope, ChannelWriter<string> listener)
    {
        while (true)
        {
            var group = _groups.GetOrAdd(scope, s => new Group(s));
            lock (group)
            {
                // A group nobody listened to may have been taken out a moment ago.
                if (group.IsClosed) continue;
                listener.TryWrite(group.Whole(_runtime.Snapshot, _workspace.Model, _figures.All));
                group.Listeners.Add(listener);
                return group;
            }
        }
    }

    private void OnPublished()
    {
        var snapshot = _runtime.Snapshot;
        var figures = new Lazy<IReadOnlyDictionary<string, string>>(() => _figures.All);
        foreach (var group in _groups.Values)
        {
            lock (group)
            {
                if (group.Listeners.Count == 0)
                {
                    group.IsClosed = true;
                    _groups.TryRemove(KeyValuePair.Create(group.Scope, group));
                    continue;
                }
                if (group.Changes(snapshot, _workspace.Model, figures.Value) is not { } payload) continue;
                foreach (var listener in group.Listeners.Where(l => !l.TryWrite(payload)).ToArray())
                {
                    listener.Complete();
                    group.Listeners.Remove(listener);
                }
            }
        }
    }

    private sealed class Group(LiveScope scope)
    {
        private readonly UnitLook _look = UnitLook.Parse(scope.Look);
        private PlantModel? _model;
        private Plan? _plan;
        private Followed<PointValue>[] _points = [];
        private Followed<TagReading>[] _tags = [];
        private long _alarmVersion = -1;
        private string _sentFigures = "";

        public LiveScope Scope => scope;

        private bool TellsAges => scope.Kind == LiveScopeKind.Check;

        public bool IsClosed { get; set; }

        public List<ChannelWriter<string>> Listeners { get; } = [];

        /// <summary>Everything, for a new listener; what the others have been sent stays as it is.</summary>
        public string Whole(EngineSnapshot snapshot, PlantModel model, IReadOnlyDictionary<string, string> figures)
        {
            Follow(snapshot, model);
            var entries = new JsonObject();
            foreach (var point in _points) entries[point.Key] = PointEntry(snapshot, point.Index, model);
            foreach (var tag in _tags) entries[tag.Key] = TagEntry(snapshot, tag.Index, model);
            return Payload(entries, JsonSerializer.Serialize(figures), snapshot.AlarmVersion).ToJsonString();
        }

        /// <summary>What has changed since the last call; null when nothing has.</summary>
        public string? Changes(EngineSnapshot snapshot, PlantModel model, IReadOnlyDictionary<string, string> figures)
        {
            Follow(snapshot, model);
            var entries = new JsonObject();
            // Most values are as they were; only those that moved are put into words, and only new words are sent.
            foreach (var point in _points)
                if ((TellsAges && point.LookAgain <= Environment.TickCount64) || !Same(point.Seen, snapshot.Values[point.Index])) point.Take(snapshot.Values[point.Index], PointEntry(snapshot, point.Index, model), entries);
            foreach (var tag in _tags)
                if (tag.IsArray || tag.LookAgain <= Environment.TickCount64 || !Same(tag.Seen, snapshot.Readings[tag.Index])) tag.Take(snapshot.Readings[tag.Index], TagEntry(snapshot, tag.Index, model), entries);
            var figuresNow = JsonSerializer.Serialize(figures);
            var payload = Payload(entries, figuresNow == _sentFigures ? null : figuresNow, _alarmVersion == snapshot.AlarmVersion ? null : snapshot.AlarmVersion);
            (_sentFigures, _alarmVersion) = (figuresNow, snapshot.AlarmVersion);
            return payload.Count == 0 ? null : payload.ToJsonString();
        }

        private static bool Same(PointValue? seen, PointValue now) => seen is { } was && was with { Time = now.Time, ReadAt = now.ReadAt } == now;

        private static bool Same(TagReading? seen, TagReading now) => seen is { } was && was with { Time = now.Time, ReadAt = now.ReadAt } == now;

        private static JsonObject Payload(JsonObject entries, string? figures, long? alarms)
        {
            var payload = new JsonObject();
            if (entries.Count > 0) payload["values"] = entries;
            if (figures is not null) payload["figures"] = JsonNode.Parse(figures);
            if (alarms is not null) payload["alarms"] = alarms;
            return payload;
        }

        private void Follow(EngineSnapshot snapshot, PlantModel model)
        {
            if (ReferenceEquals(_plan, snapshot.Plan) && ReferenceEquals(_model, model)) return;
            (_plan, _model) = (snapshot.Plan, model);
            var (points, tags) = scope.Select(snapshot, model);
            _points = [.. points.Select(i => new Followed<PointValue>(i, $"{snapshot.Plan.Points[i].EquipmentId}.{snapshot.Plan.Points[i].PropertyId}"))];
            _tags = [.. tags.Where(i => snapshot.Plan.Tags[i].Element == 0).Select(i => new Followed<TagReading>(i, $"tag.{snapshot.Plan.Tags[i].TagId}", i + 1 < snapshot.Plan.Tags.Length && snapshot.Plan.Tags[i + 1].TagId == snapshot.Plan.Tags[i].TagId))];
        }

        private JsonObject PointEntry(EngineSnapshot snapshot, int index, PlantModel model)
        {
            var (point, value) = (snapshot.Plan.Points[index], snapshot.Values[index]);
            var entry = new JsonObject
            {
                ["text"] = ValueText.Of(point, value, _look.Of(point, model.Units)),
                ["quality"] = ValueText.Quality(value.Status),
                ["why"] = ValueText.Why(value.Status, value.Reason),
            };
            if (TellsAges) entry["age"] = ValueText.Age(value.ReadAt, DateTimeOffset.UtcNow);
            if (ValueText.Fraction(point, value.Value) is { } fraction) entry["at"] = Math.Round(fraction, 4);
            if (ValueText.WorstExceeded(point, value) is { } limit) entry["alarm"] = $"{limit.Priority}";
            return entry;
        }

        private static JsonObject TagEntry(EngineSnapshot snapshot, int index, PlantModel model)
        {
            var reading = snapshot.Readings[index];
            return new()
            {
                ["text"] = model.Tags.GetValueOrDefault(snapshot.Plan.Tags[index].TagId) is { } tag ? ValueText.Raw(tag, snapshot.ReadingsOf(tag)) : ValueText.Raw(reading),
                ["quality"] = ValueText.Quality(reading.Status),
                ["why"] = ValueText.Why(reading.Status, reading.Reason),
                ["reason"] = ValueText.Reason(reading.Status, reading.Reason),
                ["age"] = ValueText.Age(reading.ReadAt, DateTimeOffset.UtcNow),
            };
        }
    }

    /// <summary>One value of a scope and what the listeners were told of it last.</summary>
    private sealed class Followed<T>(int index, string key, bool isArray = false)
        where T : struct
    {
        private const int AgesEvery = 5000;
        private string? _sent;

        public int Index => index;

        public string Key => key;

        /// <summary>True for an array, any element of which may have moved.</summary>
        public bool IsArray => isArray;

        public T? Seen { get; private set; }

        /// <summary>When it is looked at even if nothing moved, since its age has: in milliseconds as the system counts.</summary>
        public long LookAgain { get; private set; }

        public void Take(T now, JsonObject entry, JsonObject into)
        {
            Seen = now;
            LookAgain = Environment.TickCount64 + AgesEvery;
            var text = entry.ToJsonString();
            if (text == _sent) return;
            _sent = text;
            into[key] = entry;
        }
    }
}
