using Fralto.Core.Scaling;

namespace Fralto.Web.Live;

/// <summary>Watches raw values of properties somebody is looking at, so that Fralto can say what they look like. What nobody looks at is let go.</summary>
public sealed class RawWatches : IDisposable
{
    private const int MostWatches = 20;
    private const int MostReadings = 600;
    private static readonly TimeSpan KeepFor = TimeSpan.FromMinutes(1);
    private readonly PlantRuntime _runtime;
    private readonly ModelWorkspace _workspace;
    private readonly TimeProvider _clock;
    private readonly Dictionary<(long TemplateId, long PropertyId), Watch> _watches = [];
    private readonly Lock _lock = new();

    public RawWatches(PlantRuntime runtime, ModelWorkspace workspace, TimeProvider clock)
    {
        (_runtime, _workspace, _clock) = (runtime, workspace, clock);
        _runtime.Published += OnPublished;
    }

    public void Dispose() => _runtime.Published -= OnPublished;

    /// <summary>What has been seen of a property of a template's instances, and for how long; the watch begins with the first call.</summary>
    public (TimeSpan For, IReadOnlyList<RawWatch> Watched) Look(long templateId, long propertyId)
    {
        lock (_lock)
        {
            var now = _clock.GetTimestamp();
            if (!_watches.TryGetValue((templateId, propertyId), out var watch))
            {
                if (_watches.Count >= MostWatches) _watches.Remove(_watches.MinBy(w => w.Value.LookedAt).Key);
                _watches[(templateId, propertyId)] = watch = new(now);
            }
            watch.LookedAt = now;
            var model = _workspace.Model;
            var tags = new List<RawWatch>();
            foreach (var instance in model.Index.FamilyOf(templateId).SelectMany(t => model.Index.InstancesOf(t.Id)))
                if (model.Bindings.TryGetValue((instance.Id, propertyId), out var binding) && model.Tags.TryGetValue(binding.TagId, out var tag))
                    tags.Add(new(instance.Name, tag.Id, tag.Type, tag.WordOrder, watch.Seen.TryGetValue((tag.Id, binding.Slice), out var seen) ? [.. seen.Raw] : []));
            return (_clock.GetElapsedTime(watch.Since), tags);
        }
    }

    /// <summary>Begins anew, as after a change of the signal or the word order.</summary>
    public void Forget(long propertyId)
    {
        lock (_lock)
            foreach (var key in _watches.Keys.Where(k => k.PropertyId == propertyId).ToArray()) _watches.Remove(key);
    }

    private void OnPublished()
    {
        lock (_lock)
        {
            if (_watches.Count == 0) return;
            foreach (var key in _watches.Where(w => _clock.GetElapsedTime(w.Value.LookedAt) > KeepFor).Select(w => w.Key).ToArray()) _watches.Remove(key);
            var (model, snapshot) = (_workspace.Model, _runtime.Snapshot);
            foreach (var ((templateId, propertyId), watch) in _watches)
                foreach (var instance in model.Index.FamilyOf(templateId).SelectMany(t => model.Index.InstancesOf(t.Id)))
                {
                    if (!model.Bindings.TryGetValue((instance.Id, propertyId), out var binding)) continue;
                    var index = snapshot.Plan.TagIndexOf(binding.TagId);
                    if (index < 0 || index + (binding.Slice?.Element ?? 0) >= snapshot.Readings.Length) continue;
                    var reading = snapshot.Readings[index + (binding.Slice?.Element ?? 0)];
                    if (!watch.Seen.TryGetValue((binding.TagId, binding.Slice), out var seen)) watch.Seen[(binding.TagId, binding.Slice)] = seen = new();
                    if (reading.Status.IsBad || reading.Time == seen.Last || !double.IsFinite(reading.Raw)) continue;
                    seen.Last = reading.Time;
                    if (seen.Raw.Count >= MostReadings) seen.Raw.Dequeue();
                    seen.Raw.Enqueue(binding.Slice?.BitsOf(reading.Raw) ?? reading.Raw);
                }
        }
    }

    private sealed class Watch(long since)
    {
        public long Since { get; } = since;

        public long LookedAt { get; set; }

        public Dictionary<(long TagId, Slice? Slice), Seen> Seen { get; } = [];
    }

    private sealed class Seen
    {
        public DateTimeOffset Last { get; set; }

        public Queue<double> Raw { get; } = new();
    }
}
