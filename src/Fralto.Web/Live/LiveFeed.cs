using System.Buffers;
using System.Collections.Concurrent;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Threading.Channels;
using Fralto.Core.Plant;

namespace Fralto.Web.Live;

/// <summary>Live values for open pages: one payload a scope and look, shared by every window that looks at it. It works on a task of its own, and the engine does not wait for it.</summary>
public sealed class LiveFeed : SnapshotSink
{
    private const int MostWaiting = 40;
    private readonly PlantRuntime _runtime;
    private readonly ModelWorkspace _workspace;
    private readonly HeaderFigures _figures;
    private readonly ConcurrentDictionary<LiveScope, Group> _groups = new();

    public LiveFeed(PlantRuntime runtime, ModelWorkspace workspace, HeaderFigures figures, ILogger<LiveFeed> logger)
        : base(logger)
    {
        (_runtime, _workspace, _figures) = (runtime, workspace, figures);
        _runtime.Attach(this);
    }

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
            var group = _groups.GetOrAdd(scope, s => new Group(s, _runtime));
            lock (group)
            {
                // A group nobody listened to may have been taken out a moment ago.
                if (group.IsClosed) continue;
                listener.TryWrite(group.Whole(_runtime.Snapshot, _workspace.Model, JsonSerializer.Serialize(_figures.All)));
                group.Listeners.Add(listener);
                return group;
            }
        }
    }

    protected override void Look(EngineSnapshot snapshot)
    {
        if (_groups.IsEmpty) return;
        var (model, figures) = (_workspace.Model, JsonSerializer.Serialize(_figures.All));
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
                if (group.Changes(snapshot, model, figures) is not { } payload) continue;
                foreach (var listener in group.Listeners.Where(l => !l.TryWrite(payload)).ToArray())
                {
                    listener.Complete();
                    group.Listeners.Remove(listener);
                }
            }
        }
    }

    private sealed class Group(LiveScope scope, PlantRuntime runtime)
    {
        private readonly UnitLook _look = UnitLook.Parse(scope.Look);
        private PlantModel? _model;
        private EngineSnapshot _seen = EngineSnapshot.Empty;
        private Followed[] _points = [];
        private Followed[] _tags = [];
        private long _alarmVersion = -1;
        private string _sentFigures = "";

        public LiveScope Scope => scope;

        private bool TellsAges => scope.Kind == LiveScopeKind.Check;

        public bool IsClosed { get; set; }

        public List<ChannelWriter<string>> Listeners { get; } = [];

        /// <summary>Everything, for a new listener; what the others have been sent stays as it is.</summary>
        public string Whole(EngineSnapshot snapshot, PlantModel model, string figures)
        {
            Follow(snapshot, model);
            var entries = new List<(string, string)>(_points.Length + _tags.Length);
            foreach (var point in _points) entries.Add((point.Key, PointEntry(snapshot, point.Index, model)));
            foreach (var tag in _tags) entries.Add((tag.Key, TagEntry(snapshot, tag.Index, model)));
            return Payload(entries, figures, snapshot.AlarmVersion)!;
        }

        /// <summary>What has changed since the last call; null when nothing has.</summary>
        public string? Changes(EngineSnapshot snapshot, PlantModel model, string figures)
        {
            var isOther = Follow(snapshot, model);
            var (entries, now) = (new List<(string, string)>(), Environment.TickCount64);
            // Most values are as they were; only those that moved are put into words, and only new words are sent.
            foreach (var point in _points)
                if (isOther || !snapshot.IsPointAs(_seen, point.Index) || (TellsAges && point.LookAgain <= now)) point.Take(PointEntry(snapshot, point.Index, model), now, entries);
            foreach (var tag in _tags)
                if (isOther || tag.LookAgain <= now || HasMoved(snapshot, tag)) tag.Take(TagEntry(snapshot, tag.Index, model), now, entries);
            _seen = snapshot;
            var payload = Payload(entries, figures == _sentFigures ? null : figures, _alarmVersion == snapshot.AlarmVersion ? null : snapshot.AlarmVersion);
            (_sentFigures, _alarmVersion) = (figures, snapshot.AlarmVersion);
            return payload;
        }

        private bool HasMoved(EngineSnapshot snapshot, Followed tag)
        {
            for (var i = tag.Index; i < tag.Index + tag.Elements; i++)
                if (!snapshot.IsTagAs(_seen, i)) return true;
            return false;
        }

        /// <summary>Puts a payload together out of entries that are JSON already; null when there is nothing in it.</summary>
        private static string? Payload(List<(string Key, string Json)> entries, string? figures, long? alarms)
        {
            if (entries.Count == 0 && figures is null && alarms is null) return null;
            var buffer = new ArrayBufferWriter<byte>();
            using (var json = new Utf8JsonWriter(buffer))
            {
                json.WriteStartObject();
                if (entries.Count > 0)
                {
                    json.WriteStartObject("values");
                    foreach (var (key, text) in entries)
                    {
                        json.WritePropertyName(key);
                        json.WriteRawValue(text, skipInputValidation: true);
                    }
                    json.WriteEndObject();
                }
                if (figures is not null)
                {
                    json.WritePropertyName("figures");
                    json.WriteRawValue(figures, skipInputValidation: true);
                }
                if (alarms is { } version) json.WriteNumber("alarms", version);
                json.WriteEndObject();
            }
            return Encoding.UTF8.GetString(buffer.WrittenSpan);
        }

        /// <summary>Finds what the scope holds in a plan, once for each.</summary>
        /// <returns>True when it is another than before.</returns>
        private bool Follow(EngineSnapshot snapshot, PlantModel model)
        {
            if (ReferenceEquals(_seen.Plan, snapshot.Plan) && ReferenceEquals(_model, model)) return false;
            (_seen, _model) = (snapshot, model);
            var (points, tags) = scope.Select(snapshot, model);
            _points = [.. points.Select(i => new Followed(i, $"{snapshot.Plan.Points[i].EquipmentId}.{snapshot.Plan.Points[i].PropertyId}"))];
            _tags = [.. tags.Where(i => snapshot.Plan.Tags[i].Element == 0).Select(i => new Followed(i, $"tag.{snapshot.Plan.Tags[i].TagId}", snapshot.Plan.Tags[i].Tag?.Elements ?? 1))];
            return true;
        }

        private string PointEntry(EngineSnapshot snapshot, int index, PlantModel model)
        {
            var (point, value) = (snapshot.Plan.Points[index], snapshot.ValueOf(index));
            var entry = new JsonObject
            {
                ["text"] = ValueText.Of(point, value, _look.Of(point, model.Units)),
                ["quality"] = ValueText.Quality(value.Status),
                ["why"] = ValueText.Why(value.Status, value.Reason),
            };
            if (TellsAges) entry["age"] = ValueText.Age(runtime.AgeOf(snapshot.Plan.Tags[point.Tag], value.ReadAt));
            if (ValueText.Fraction(point, value.Value) is { } fraction) entry["at"] = Math.Round(fraction, 4);
            if (ValueText.WorstExceeded(point, value) is { } limit) entry["alarm"] = $"{limit.Priority}";
            return entry.ToJsonString();
        }

        private string TagEntry(EngineSnapshot snapshot, int index, PlantModel model)
        {
            var reading = snapshot.ReadingOf(index);
            return new JsonObject
            {
                ["text"] = model.Tags.GetValueOrDefault(snapshot.Plan.Tags[index].TagId) is { } tag ? ValueText.Raw(tag, snapshot.ReadingsOf(tag)) : ValueText.Raw(reading),
                ["quality"] = ValueText.Quality(reading.Status),
                ["why"] = ValueText.Why(reading.Status, reading.Reason),
                ["reason"] = ValueText.Reason(reading.Status, reading.Reason),
                ["age"] = ValueText.Age(runtime.AgeOf(snapshot.Plan.Tags[index], reading.ReadAt)),
            }.ToJsonString();
        }
    }

    /// <summary>One value of a scope and what the listeners were told of it last.</summary>
    private sealed class Followed(int index, string key, int elements = 1)
    {
        private const int AgesEvery = 5000;
        private string? _sent;

        public int Index => index;

        public string Key => key;

        /// <summary>How many elements an array has, any of which may have moved.</summary>
        public int Elements => elements;

        /// <summary>When it is looked at even if nothing moved, since its age has: in milliseconds as the system counts.</summary>
        public long LookAgain { get; private set; }

        public void Take(string entry, long now, List<(string, string)> into)
        {
            LookAgain = now + AgesEvery;
            if (entry == _sent) return;
            _sent = entry;
            into.Add((key, entry));
        }
    }
}
