using Fralto.Core.Controllers;
using Fralto.Core.Diagnosis;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Watches raw values of properties somebody is looking at, so that Fralto can say what they look like. What nobody looks at is
/// let go.</summary>
public sealed class RawWatches : SnapshotSink
{
    private const int MostWatches = 20;
    private const int MostTags = 200;
    private const int MostReadings = 600;
    private static readonly TimeSpan KeepFor = TimeSpan.FromMinutes(1);
    private readonly ModelWorkspace _workspace;
    private readonly TimeProvider _clock;
    private readonly Dictionary<(long TemplateId, long PropertyId), Watch> _watches = [];
    private readonly Lock _lock = new();

    public RawWatches(PlantRuntime runtime, ModelWorkspace workspace, TimeProvider clock, ILogger<RawWatches> logger)
        : base(logger)
    {
        (_workspace, _clock) = (workspace, clock);
        runtime.Attach(this);
    }

    /// <summary>What has been seen of a property of a template's instances, and for how long; the watch begins with the first
    /// call.</summary>
    public (TimeSpan For, IReadOnlyList<RawWatch> Watched) Look(long templateId, long propertyId)
    {
        lock (_lock)
        {
            var now = _clock.GetTimestamp();
            if (!_watches.TryGetValue((templateId, propertyId), out var watch))
            {
                if (_watches.Count >= MostWatches)
                    _watches.Remove(_watches.MinBy(w => w.Value.LookedAt).Key);
                _watches[(templateId, propertyId)] = watch = new(now);
            }
            watch.LookedAt = now;
            var model = _workspace.Model;
            watch.Follow(model, templateId, propertyId);
            return (
                _clock.GetElapsedTime(watch.Since),
                [
                    .. watch.Tags.Select(t => new RawWatch(
                        t.Instance,
                        t.Tag.Id,
                        t.Tag.Type,
                        t.Tag.WordOrder,
                        watch.Seen.TryGetValue((t.Tag.Id, t.Slice), out var seen) ? [.. seen.Raw] : []
                    )),
                ]
            );
        }
    }

    /// <summary>Begins anew, as after a change of the signal or the word order.</summary>
    public void Forget(long propertyId)
    {
        lock (_lock)
            foreach (var key in _watches.Keys.Where(k => k.PropertyId == propertyId).ToArray())
                _watches.Remove(key);
    }

    protected override void Look(EngineSnapshot snapshot, EngineSnapshot working)
    {
        lock (_lock)
        {
            if (_watches.Count == 0)
                return;
            foreach (var key in _watches.Where(w => _clock.GetElapsedTime(w.Value.LookedAt) > KeepFor).Select(w => w.Key).ToArray())
                _watches.Remove(key);
            var model = _workspace.Model;
            foreach (var ((templateId, propertyId), watch) in _watches)
            {
                watch.Follow(model, templateId, propertyId);
                foreach (var (_, tag, slice) in watch.Tags)
                {
                    var index = working.Plan.TagIndexOf(tag.Id) is >= 0 and var first ? first + (slice?.Element ?? 0) : -1;
                    if (index < 0 || index >= working.Plan.Tags.Length)
                        continue;
                    var reading = working.ReadingOf(index);
                    if (!watch.Seen.TryGetValue((tag.Id, slice), out var seen))
                        watch.Seen[(tag.Id, slice)] = seen = new();
                    if (reading.Status.IsBad || reading.Time == seen.Last || !double.IsFinite(reading.Raw))
                        continue;
                    seen.Last = reading.Time;
                    if (seen.Raw.Count >= MostReadings)
                        seen.Raw.Dequeue();
                    seen.Raw.Enqueue(slice?.BitsOf(reading.Raw) ?? reading.Raw);
                }
            }
        }
    }

    private sealed class Watch(long since)
    {
        private PlantModel? _model;

        public long Since { get; } = since;

        public long LookedAt { get; set; }

        public Dictionary<(long TagId, Slice? Slice), Seen> Seen { get; } = [];

        /// <summary>What is watched: the first bound instances in plant order.</summary>
        public IReadOnlyList<(string Instance, Tag Tag, Slice? Slice)> Tags { get; private set; } = [];

        /// <summary>Finds what is to be watched, once for each model.</summary>
        public void Follow(PlantModel model, long templateId, long propertyId)
        {
            if (ReferenceEquals(model, _model))
                return;
            _model = model;
            Tags =
            [
                .. model
                    .Index.FamilyOf(templateId)
                    .SelectMany(t => model.Index.InstancesOf(t.Id))
                    .Select(e => (e.Name, Binding: model.Bindings.GetValueOrDefault((e.Id, propertyId))))
                    .Where(b => b.Binding is not null)
                    .Take(MostTags)
                    .Select(b => (b.Name, model.Tags[b.Binding!.TagId], b.Binding.Slice)),
            ];
        }
    }

    private sealed class Seen
    {
        public DateTimeOffset Last { get; set; }

        public Queue<double> Raw { get; } = new();
    }
}
