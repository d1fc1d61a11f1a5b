using System.Buffers;
using System.Collections.Concurrent;
using System.Text;
using System.Text.Json;
using System.Threading.Channels;
using Fralto.Core.Plant;
using Fralto.Core.Quality;

namespace Fralto.Web.Live;

/// <summary>Live values for open pages: one payload a scope and look, shared by every window that looks at it. It works on a task of its
/// own, and the engine does not wait for it.</summary>
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
    public async IAsyncEnumerable<string> ListenAsync(
        LiveScope scope,
        [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken stop
    )
    {
        // A window that stops reading is let go when its mailbox is full; it asks again and begins with everything.
        var mailbox = Channel.CreateBounded<string>(MostWaiting);
        var group = Join(scope, mailbox.Writer);
        try
        {
            await foreach (var payload in mailbox.Reader.ReadAllAsync(stop))
                yield return payload;
        }
        finally
        {
            lock (group)
                group.Listeners.Remove(mailbox.Writer);
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
                if (group.IsClosed)
                    continue;
                listener.TryWrite(
                    scope.IsOfReleased
                        ? group.Whole(_runtime.Snapshot, _workspace.Released, JsonSerializer.Serialize(_figures.All))
                        : group.Whole(_runtime.WorkingSnapshot, _workspace.Model, JsonSerializer.Serialize(_figures.All))
                );
                group.Listeners.Add(listener);
                return group;
            }
        }
    }

    protected override void Look(EngineSnapshot snapshot, EngineSnapshot working)
    {
        if (_groups.IsEmpty)
            return;
        var (state, figures) = (_workspace.State, JsonSerializer.Serialize(_figures.All));
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
                var payload = group.Scope.IsOfReleased
                    ? group.Changes(snapshot, state.Released, figures)
                    : group.Changes(working, state.Model, figures);
                if (payload is null)
                    continue;
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
        /// <summary>Ages are looked at in turns, a part of them at a time, all of them in about five seconds.</summary>
        private const int Turns = 20;

        private readonly ArrayBufferWriter<byte> _buffer = new();
        private readonly UnitLook _look = UnitLook.Parse(scope.Look);
        private PlantModel? _model;
        private EngineSnapshot _seen = EngineSnapshot.Empty;
        private Followed[] _points = [];
        private Followed[] _tags = [];
        private Dictionary<int, int> _pointAt = [];
        private Dictionary<int, int> _tagAt = [];
        private bool _isOther;
        private int _turn;
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
            foreach (var point in _points)
                entries.Add((point.Key, PointEntry(snapshot, point.Index, model, AgeOf(snapshot, point))));
            foreach (var tag in _tags)
                entries.Add((tag.Key, TagEntry(snapshot, tag.Index, AgeOf(snapshot, tag))));
            return Payload(entries, figures, snapshot.AlarmVersion)!;
        }

        /// <summary>What has changed since the last call; null when nothing has.</summary>
        public string? Changes(EngineSnapshot snapshot, PlantModel model, string figures)
        {
            Follow(snapshot, model);
            var (entries, isOther) = (new List<(string, string)>(), _isOther);
            _isOther = false;
            // Most values are as they were; only those that moved are put into words, and only new words are sent.
            if (!isOther && snapshot.IsRightAfter(_seen))
            {
                foreach (var index in snapshot.ChangedPoints!)
                    if (_pointAt.TryGetValue(index, out var at))
                        Tell(_points[at], snapshot, model, entries);
                foreach (var index in snapshot.ChangedTags!)
                    if (_tagAt.TryGetValue(index, out var at))
                        Tell(_tags[at], snapshot, model, entries);
            }
            else if (isOther || !ReferenceEquals(snapshot, _seen))
            {
                // Some snapshots were passed over: what has changed is found by looking.
                foreach (var point in _points)
                    if (isOther || !snapshot.IsPointAs(_seen, point.Index))
                        Tell(point, snapshot, model, entries);
                foreach (var tag in _tags)
                    if (isOther || HasMoved(snapshot, tag))
                        Tell(tag, snapshot, model, entries);
            }
            _turn = (_turn + 1) % Turns;
            if (TellsAges)
                for (var i = _turn; i < _points.Length; i += Turns)
                    Age(_points[i], snapshot, model, entries);
            for (var i = _turn; i < _tags.Length; i += Turns)
                Age(_tags[i], snapshot, model, entries);
            _seen = snapshot;
            var payload = Payload(
                entries,
                figures == _sentFigures ? null : figures,
                _alarmVersion == snapshot.AlarmVersion ? null : snapshot.AlarmVersion
            );
            (_sentFigures, _alarmVersion) = (figures, snapshot.AlarmVersion);
            return payload;
        }

        private Aged AgeOf(EngineSnapshot snapshot, Followed followed)
        {
            var tag = followed.IsTag ? followed.Index : snapshot.Plan.Points[followed.Index].Tag;
            var read = snapshot.ReadingOf(tag).ReadAt;
            return new(read, runtime.AgeOf(snapshot.Plan.Tags[tag], read));
        }

        private bool HasMoved(EngineSnapshot snapshot, Followed tag)
        {
            for (var i = tag.Index; i < tag.Index + tag.Elements; i++)
                if (!snapshot.IsTagAs(_seen, i))
                    return true;
            return false;
        }

        private void Tell(Followed followed, EngineSnapshot snapshot, PlantModel model, List<(string, string)> entries)
        {
            var age = followed.IsTag || TellsAges ? AgeOf(snapshot, followed) : default;
            followed.Ages(age);
            followed.Take(
                followed.IsTag ? TagEntry(snapshot, followed.Index, age) : PointEntry(snapshot, followed.Index, model, age),
                entries
            );
        }

        private void Age(Followed followed, EngineSnapshot snapshot, PlantModel model, List<(string, string)> entries)
        {
            if (followed.Ages(AgeOf(snapshot, followed)))
                Tell(followed, snapshot, model, entries);
        }

        /// <summary>Puts a payload together out of entries that are JSON already; null when there is nothing in it.</summary>
        private static string? Payload(List<(string Key, string Json)> entries, string? figures, long? alarms)
        {
            if (entries.Count == 0 && figures is null && alarms is null)
                return null;
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
                if (alarms is { } version)
                    json.WriteNumber("alarms", version);
                json.WriteEndObject();
            }
            return Encoding.UTF8.GetString(buffer.WrittenSpan);
        }

        /// <summary>Finds what the scope holds in a plan, once for each; the listeners have to be told all of it then.</summary>
        private void Follow(EngineSnapshot snapshot, PlantModel model)
        {
            if (ReferenceEquals(_seen.Plan, snapshot.Plan) && ReferenceEquals(_model, model))
                return;
            (_seen, _model, _isOther) = (snapshot, model, true);
            var (points, tags) = scope.Select(snapshot, model);
            _points =
            [
                .. points.Select(i => new Followed(
                    i,
                    false,
                    $"{snapshot.Plan.Points[i].EquipmentId}.{snapshot.Plan.Points[i].PropertyId}"
                )),
            ];
            _tags =
            [
                .. tags.Where(i => snapshot.Plan.Tags[i].Element == 0)
                    .Select(i => new Followed(i, true, $"tag.{snapshot.Plan.Tags[i].TagId}", snapshot.Plan.Tags[i].Tag?.Elements ?? 1)),
            ];
            _pointAt = _points.Select((p, at) => (p.Index, at)).ToDictionary(p => p.Index, p => p.at);
            _tagAt = _tags
                .SelectMany((t, at) => Enumerable.Range(t.Index, t.Elements).Select(i => (i, at)))
                .ToDictionary(t => t.i, t => t.at);
        }

        private string PointEntry(EngineSnapshot snapshot, int index, PlantModel model, Aged age)
        {
            var (point, value) = (snapshot.Plan.Points[index], snapshot.ValueOf(index));
            using var json = Begin(ValueText.Of(point, value, _look.Of(point, model.Units)), value.Status, value.Reason);
            if (TellsAges)
                age.Tell(json);
            if (ValueText.Fraction(point, value.Value) is { } fraction)
                json.WriteNumber("at", Math.Round(fraction, 4));
            if (ValueText.WorstExceeded(point, value) is { } limit)
                json.WriteString("alarm", $"{limit.Priority}");
            return End(json);
        }

        private string TagEntry(EngineSnapshot snapshot, int index, Aged age)
        {
            var reading = snapshot.ReadingOf(index);
            var text = snapshot.Plan.Tags[index].Tag is { IsArray: true } tag
                ? ValueText.Raw(tag, snapshot.ReadingsOf(tag))
                : ValueText.Raw(reading);
            using var json = Begin(text, reading.Status, reading.Reason);
            json.WriteString("reason", ValueText.Reason(reading.Status, reading.Reason));
            age.Tell(json);
            return End(json);
        }

        private Utf8JsonWriter Begin(string text, StatusCode status, string? reason)
        {
            _buffer.ResetWrittenCount();
            var json = new Utf8JsonWriter(_buffer);
            json.WriteStartObject();
            json.WriteString("text", text);
            json.WriteString("quality", ValueText.Quality(status));
            json.WriteString("why", ValueText.Why(status, reason));
            return json;
        }

        private string End(Utf8JsonWriter json)
        {
            json.WriteEndObject();
            json.Flush();
            return Encoding.UTF8.GetString(_buffer.WrittenSpan);
        }
    }

    /// <summary>How old a reading is. While it is read again and again it is of now; once it is not, its age is told, and the page counts
    /// on by itself.</summary>
    private readonly record struct Aged(DateTimeOffset ReadAt, TimeSpan? Age)
    {
        public bool IsOfNow => Age < ValueText.OfNow;

        public void Tell(Utf8JsonWriter json)
        {
            if (Age is { } age && !IsOfNow)
                json.WriteNumber("ago", (long)age.TotalSeconds);
            else
                json.WriteString("age", ValueText.Age(Age));
        }
    }

    /// <summary>One value of a scope and what the listeners were told of it last.</summary>
    private sealed class Followed(int index, bool isTag, string key, int elements = 1)
    {
        private static readonly TimeSpan SameRead = TimeSpan.FromSeconds(1);
        private Aged _told;
        private string? _sent;

        public int Index => index;

        public bool IsTag => isTag;

        public string Key => key;

        /// <summary>How many elements an array has, any of which may have moved.</summary>
        public int Elements => elements;

        /// <summary>Notes its age.</summary>
        /// <returns>True when the listeners have to be told.</returns>
        public bool Ages(Aged age)
        {
            if (age.IsOfNow == _told.IsOfNow && (age.IsOfNow || (age.ReadAt - _told.ReadAt).Duration() < SameRead))
                return false;
            _told = age;
            return true;
        }

        public void Take(string entry, List<(string, string)> into)
        {
            if (entry == _sent)
                return;
            _sent = entry;
            into.Add((key, entry));
        }
    }
}
