using Fralto.Core.History;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime.Recording;

/// <summary>Raw values of tags somebody looks at, from then on: a tag need not be bound to be seen as a curve. What nobody looks at is
/// let go.</summary>
public sealed class TagTrends : SnapshotSink
{
    private const int MostTags = 40;
    private const int MostValues = 36_000;
    private static readonly TimeSpan KeepFor = TimeSpan.FromMinutes(15);

    private readonly TimeProvider _clock;
    private readonly Dictionary<long, Watch> _watches = [];
    private readonly Lock _lock = new();

    public TagTrends(PlantRuntime runtime, TimeProvider clock, ILogger<TagTrends> logger)
        : base(logger)
    {
        _clock = clock;
        runtime.Attach(this);
    }

    /// <summary>What a tag has held since it was looked at first, oldest first; looking begins with the first call.</summary>
    public List<HistorySample> Samples(long tagId)
    {
        lock (_lock)
        {
            if (!_watches.TryGetValue(tagId, out var watch))
            {
                if (_watches.Count >= MostTags)
                    _watches.Remove(_watches.MinBy(w => w.Value.LookedAt).Key);
                _watches[tagId] = watch = new();
            }
            watch.LookedAt = _clock.GetTimestamp();
            return [.. watch.Values];
        }
    }

    protected override void Look(EngineSnapshot snapshot, EngineSnapshot working)
    {
        lock (_lock)
        {
            if (_watches.Count == 0)
                return;
            foreach (var id in _watches.Where(w => _clock.GetElapsedTime(w.Value.LookedAt) > KeepFor).Select(w => w.Key).ToArray())
                _watches.Remove(id);
            foreach (var (id, watch) in _watches)
            {
                if (working.Reading(id) is not { } reading)
                    continue;
                if (reading.Time.UtcTicks == watch.Told && watch.Values.Count > 0)
                    continue;
                watch.Told = reading.Time.UtcTicks;
                // A source whose clock was set back goes on where it was.
                var sample = new HistorySample(
                    Math.Max(reading.Time.UtcTicks, watch.Last + 1),
                    reading.Status.IsBad || reading.Text is not null ? double.NaN : reading.Raw,
                    reading.Status,
                    reading.Reason,
                    reading.Text
                );
                watch.Last = sample.Ticks;
                if (watch.Values.Count >= MostValues)
                    watch.Values.Dequeue();
                watch.Values.Enqueue(sample);
            }
        }
    }

    private sealed class Watch
    {
        public long LookedAt { get; set; }

        /// <summary>Time of the newest value.</summary>
        public long Last { get; set; }

        /// <summary>The time its source gave it.</summary>
        public long Told { get; set; }

        public Queue<HistorySample> Values { get; } = [];
    }
}
