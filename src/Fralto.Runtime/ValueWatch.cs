using System.Collections.Frozen;
using Fralto.Core.Controllers;
using Fralto.Core.Diagnosis;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Looks every few seconds at what bound values are, so that it can be said where they lie most of the time, and whether the raw
/// numbers suit the signals they are read by.</summary>
/// <remarks>Counts are two small numbers a point; raw numbers are kept of the first instances of a template alone.</remarks>
public sealed class ValueWatch : SnapshotSink
{
    private const int MostInstances = 50;
    private const int MostReadings = 24;
    private const int FewestCounted = 12;

    /// <summary>A value this share of its range beyond its ends is noise of the sensor at zero: common practice, no source.</summary>
    private const double Slack = 0.02;

    /// <summary>Half of what was counted is forgotten at so many: an hour or two are looked back at.</summary>
    private const int Full = 1440;

    private static readonly TimeSpan Between = TimeSpan.FromSeconds(5);
    private static readonly TimeSpan Judged = TimeSpan.FromSeconds(30);

    private readonly ModelWorkspace _workspace;
    private readonly TimeProvider _clock;
    private readonly Dictionary<(long EquipmentId, long PropertyId), Readings> _raw = [];
    private int _looks;
    private long? _lookedAt;
    private long? _judgedAt;
    private PlantModel? _model;
    private List<Group> _groups = [];
    private Counted _counted = new(Plan.Empty, []);
    private FrozenDictionary<(long TemplateId, long PropertyId), FitVerdict> _misfits = FrozenDictionary<(long, long), FitVerdict>.Empty;

    public ValueWatch(PlantRuntime runtime, ModelWorkspace workspace, TimeProvider clock, ILogger<ValueWatch> logger)
        : base(logger)
    {
        (_workspace, _clock) = (workspace, clock);
        runtime.Attach(this);
    }

    /// <summary>How often it has looked.</summary>
    public int Looks => Volatile.Read(ref _looks);

    /// <summary>What raw numbers look like where they do not suit how they are read, by template and property.</summary>
    public IReadOnlyDictionary<(long TemplateId, long PropertyId), FitVerdict> Misfits => Volatile.Read(ref _misfits);

    /// <summary>The share of the last hour or two in which a value lay outside its range, 0 to 1; null while too little of it has been
    /// seen.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="point">The point.</param>
    public double? ShareOutside(Plan plan, int point)
    {
        var counted = Volatile.Read(ref _counted);
        return ReferenceEquals(counted.Plan, plan) && counted.Of[point] is { All: >= FewestCounted } of
            ? (double)of.Outside / of.All
            : null;
    }

    /// <summary>True when a value lies outside its range by more than noise.</summary>
    /// <param name="point">What is known of the point.</param>
    /// <param name="value">The value.</param>
    public static bool IsOutside(PlanPoint point, double value) =>
        point is { Source: PointSource.Tag, States: null, Range: { } range }
        && double.IsFinite(value)
        && range.FractionOf(value) is < -Slack or > 1 + Slack;

    protected override void Look(EngineSnapshot snapshot, EngineSnapshot working)
    {
        if (_lookedAt is { } last && _clock.GetElapsedTime(last) < Between)
            return;
        _lookedAt = _clock.GetTimestamp();
        Count(working);
        Follow(_workspace.Model);
        foreach (var readings in _groups.SelectMany(g => g.Readings))
            readings.Read(working);
        Judge();
        Interlocked.Increment(ref _looks);
    }

    private void Judge()
    {
        if (_judgedAt is { } judged && _clock.GetElapsedTime(judged) < Judged)
            return;
        _judgedAt = _lookedAt;
        Volatile.Write(
            ref _misfits,
            _groups
                .Select(g => (g.Key, Verdict: g.Verdict(_model!)))
                .Where(v => v.Verdict is not null)
                .ToFrozenDictionary(v => v.Key, v => v.Verdict!)
        );
    }

    private void Count(EngineSnapshot working)
    {
        var counted = _counted;
        if (!ReferenceEquals(counted.Plan, working.Plan))
            counted = counted.For(working.Plan);
        for (var i = 0; i < counted.Of.Length; i++)
        {
            var point = working.Plan.Points[i];
            if (point.Source != PointSource.Tag || point.Range is null || working.ValueOf(i) is not { Status.IsBad: false } value)
                continue;
            ref var of = ref counted.Of[i];
            if (of.All >= Full)
                of = ((ushort)(of.All / 2), (ushort)(of.Outside / 2));
            of.All++;
            if (IsOutside(point, value.Value))
                of.Outside++;
        }
        Volatile.Write(ref _counted, counted);
    }

    /// <summary>Finds whose raw numbers are read, once for each model; what was read in the same way goes on.</summary>
    private void Follow(PlantModel model)
    {
        if (ReferenceEquals(model, _model))
            return;
        _model = model;
        var groups = new List<Group>();
        foreach (var template in model.Templates.Values)
        {
            if (model.Index.InstanceCountOf(template.Id) == 0)
                continue;
            foreach (var property in model.Index.PropertiesOf(template.Id))
            {
                if (!property.TakesTag || property.Facts.StateListId is not null || property.Declaration.Type != PropertyType.Number)
                    continue;
                var readings = new List<Readings>();
                foreach (var node in model.Index.InstancesOf(template.Id).Take(MostInstances))
                    if (
                        model.Bindings.GetValueOrDefault((node.Id, property.Id)) is { } binding
                        && model.Tags.GetValueOrDefault(binding.TagId) is { } tag
                        && node.Patches.GetValueOrDefault(property.Id) is null or { Scale: null, ScaleId: null, Unit: null, Range: null }
                    )
                        readings.Add(
                            _raw.GetValueOrDefault((node.Id, property.Id)) is { } known && known.IsOf(tag, binding.Slice)
                                ? known.Called(node.Name)
                                : new(node.Id, node.Name, tag, binding.Slice)
                        );
                if (readings.Count > 0)
                    groups.Add(new((template.Id, property.Id), property, readings));
            }
        }
        _groups = groups;
        _raw.Clear();
        foreach (var group in groups)
        foreach (var readings in group.Readings)
            _raw[(readings.EquipmentId, group.Key.PropertyId)] = readings;
    }

    /// <summary>How often each point of a plan was looked at, and how often it lay outside its range.</summary>
    private sealed record Counted(Plan Plan, (ushort All, ushort Outside)[] Of)
    {
        /// <summary>The same for another plan: what is measured alike there goes on, all else begins anew.</summary>
        public Counted For(Plan next)
        {
            var of = new (ushort, ushort)[next.Points.Length];
            for (var i = 0; i < of.Length; i++)
            {
                var point = next.Points[i];
                if (
                    point.Source == PointSource.Tag
                    && Plan.PointIndexOf(point.EquipmentId, point.PropertyId) is >= 0 and var was
                    && Plan.Points[was] is var before
                    && before.Range == point.Range
                    && (ReferenceEquals(before.Chain, point.Chain) || before.Chain.Equals(point.Chain))
                    && next.Tags[point.Tag].IsReadAs(Plan.Tags[before.Tag])
                )
                    of[i] = Of[was];
            }
            return new(next, of);
        }
    }

    private sealed record Group((long TemplateId, long PropertyId) Key, ResolvedProperty Property, IReadOnlyList<Readings> Readings)
    {
        /// <summary>What speaks against how the property is read; null for nothing.</summary>
        public FitVerdict? Verdict(PlantModel model) =>
            SignalFit
                .Judge(model, Property, [.. Readings.Select(r => r.Watched)])
                .FirstOrDefault(v => v.Kind is FitKind.WordOrder or FitKind.Signal or FitKind.Outside);
    }

    /// <summary>The last raw numbers of one instance's tag.</summary>
    private sealed class Readings(long equipmentId, string name, Tag tag, Slice? slice)
    {
        private string _name = name;
        private readonly Queue<double> _raw = [];
        private DateTimeOffset _last;

        public long EquipmentId => equipmentId;

        public RawWatch Watched => new(_name, tag.Id, tag.Type, tag.WordOrder, [.. _raw]);

        /// <summary>The same for an instance that is called otherwise by now.</summary>
        public Readings Called(string by)
        {
            _name = by;
            return this;
        }

        public bool IsOf(Tag other, Slice? part) =>
            part == slice && (other.Id, other.Address, other.Type, other.WordOrder) == (tag.Id, tag.Address, tag.Type, tag.WordOrder);

        public void Read(EngineSnapshot working)
        {
            if (working.Plan.TagIndexOf(tag.Id) is not (>= 0 and var first) || first + (slice?.Element ?? 0) >= working.Plan.Tags.Length)
                return;
            var reading = working.ReadingOf(first + (slice?.Element ?? 0));
            if (reading.Status.IsBad || reading.Time == _last || !double.IsFinite(reading.Raw))
                return;
            _last = reading.Time;
            if (_raw.Count >= MostReadings)
                _raw.Dequeue();
            _raw.Enqueue(slice?.BitsOf(reading.Raw) ?? reading.Raw);
        }
    }
}
