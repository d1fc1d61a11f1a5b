using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using Fralto.Core.Controllers;
using Fralto.Core.History;
using Fralto.Core.Limits;
using Fralto.Core.Pictures;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Runtime.Recording;

/// <summary>What trends, pages of machines and comparisons need of history, as numbers.</summary>
public sealed class Trends(History history, TagTrends tags)
{
    /// <summary>What is open is looked at value by value for so long; what is longer is summed up.</summary>
    private static readonly long LongestByValue = TimeSpan.FromDays(3).Ticks;

    private const int MostStretches = 600;

    /// <summary>Now, in ticks.</summary>
    public long Now => history.Now;

    /// <summary>The lines of some properties of some instances, instance by instance.</summary>
    /// <param name="model">The model.</param>
    /// <param name="plan">The plan that runs.</param>
    /// <param name="wanted">Instances and properties.</param>
    public static IReadOnlyList<TrendLine> Lines(PlantModel model, Plan plan, IEnumerable<(long EquipmentId, long PropertyId)> wanted)
    {
        var (lines, numbers) = (new List<TrendLine>(), new Dictionary<long, int>());
        foreach (var (equipment, property) in wanted.Distinct())
        {
            if (equipment == OfTags)
            {
                if (model.Tags.GetValueOrDefault(property) is { } tag)
                    lines.Add(LineOf(model, tag, numbers.Count + lines.Count + 1));
                continue;
            }
            if (
                model.Equipment.GetValueOrDefault(equipment) is not { TemplateId: not null } node
                || model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == property) is not { } known
            )
                continue;
            if (!numbers.TryGetValue(equipment, out var number))
                numbers[equipment] = number = numbers.Count + 1;
            var at = plan.PointIndexOf(equipment, property);
            lines.Add(
                new($"{equipment}.{property}", $"{node.Name} {known.Name}", node.Name, known.Name, number, at >= 0 ? plan.Points[at] : null)
            );
        }
        return lines;
    }

    /// <summary>In place of an instance: the property is a tag, which need not be bound.</summary>
    public const long OfTags = 0;

    /// <summary>The raw numbers of a tag as a line: nothing is scaled, nothing has a limit.</summary>
    private static TrendLine LineOf(PlantModel model, Tag tag, int number)
    {
        var controller = model.Controllers.GetValueOrDefault(tag.ControllerId)?.Name ?? "?";
        return new(
            $"{OfTags}.{tag.Id}",
            $"{controller} {tag.Name}",
            controller,
            tag.Name,
            number,
            new(
                OfTags,
                tag.Id,
                $"{controller}/{tag.Name}",
                0,
                model.Units.Find(tag.Unit),
                null,
                tag.Type.IsFloat() ? 2 : 0,
                null,
                [],
                tag.Type == RawType.Text ? PropertyType.Text : PropertyType.Number,
                new(null, null, UnitConversion.None, null)
            )
        );
    }

    private List<HistorySample> Samples(PlanPoint point, long from, long to) =>
        point.EquipmentId == OfTags ? tags.Samples(point.PropertyId) : history.Samples(point.EquipmentId, point.PropertyId, from, to);

    /// <summary>What a line amounts to in equal stretches.</summary>
    public Rollup[] Stretches(TrendLine line, long from, long to, int count) =>
        line.Point is { EquipmentId: OfTags } tag ? StretchesOf(tag.PropertyId, from, Math.Max(1, (to - from) / count), count)
        : line.Point is { } point
            ? history.Stretches(
                point.EquipmentId,
                point.PropertyId,
                from,
                Math.Max(1, (to - from) / count),
                count,
                point.Recording?.IsStepped ?? false,
                line.IsState
            )
        : [];

    /// <summary>A value of a tag holds until the next, and the last until now.</summary>
    private Rollup[] StretchesOf(long tagId, long from, long step, int count)
    {
        var samples = tags.Samples(tagId);
        var known = (int)Math.Clamp((history.Now - from + step - 1) / step, 0, count);
        var stretches = Rollup.Of(CollectionsMarshal.AsSpan(samples), from, step, known, true, false);
        return [.. stretches, .. Enumerable.Range(known, count - known).Select(i => Rollup.Nothing(from + i * step))];
    }

    /// <summary>The limits of a line, each for as long as it was in force.</summary>
    public IReadOnlyList<(Limit Limit, long From, long To)> Limits(TrendLine line, long from, long to) =>
        line.Point is { } point ? history.Limits(point.EquipmentId, point.PropertyId, from, to) : [];

    /// <summary>The states of a line one after the other; short ones between are drawn together where there are very many.</summary>
    public IReadOnlyList<TrendStretch> States(TrendLine line, long from, long to)
    {
        if (line.Point is not { } point)
            return [];
        var stretches = new List<TrendStretch>();
        var end = Math.Min(to, history.Now);
        if (to - from > LongestByValue && point.Type != PropertyType.Text)
        {
            foreach (var rollup in Stretches(line, from, to, MostStretches))
            {
                var (begin, until) = (rollup.Ticks, Math.Min(end, rollup.Ticks + (to - from) / MostStretches));
                if (until <= begin)
                    break;
                var most = rollup.States.IsDefaultOrEmpty ? (StateTime?)null : rollup.States.MaxBy(s => s.Seconds);
                Add(new(begin, until, most is { } s ? point.Text(s.State, null) : null, most?.State ?? double.NaN, null, false));
            }
            return stretches;
        }
        var samples = Samples(point, from, to);
        for (var i = 0; i < samples.Count; i++)
        {
            var (sample, until) = (samples[i], i + 1 < samples.Count ? Math.Min(end, samples[i + 1].Ticks) : end);
            var begin = Math.Max(from, sample.Ticks);
            if (until > begin)
                Add(
                    new(
                        begin,
                        until,
                        sample.Status.IsBad ? null : point.Text(sample.Number, sample.Text),
                        sample.Status.IsBad ? double.NaN : sample.Number,
                        sample.Status.IsGood ? null : sample.Reason ?? sample.Status.Name,
                        sample.Status.IsUncertain
                    )
                );
        }
        return stretches;

        void Add(TrendStretch stretch)
        {
            if (
                stretches.Count > 0
                && stretches[^1] is var last
                && last.To == stretch.From
                && (last.Text, last.Reason, last.IsUncertain) == (stretch.Text, stretch.Reason, stretch.IsUncertain)
            )
                stretches[^1] = last with { To = stretch.To };
            else
                stretches.Add(stretch);
        }
    }

    /// <summary>How long instances were where on a range in the last day, looked at anew once a minute.</summary>
    /// <param name="propertyId">The property.</param>
    /// <param name="equipment">The instances.</param>
    /// <param name="range">The range.</param>
    public TimeOnRange LastDay(long propertyId, IReadOnlyList<long> equipment, Span range)
    {
        var key = (propertyId, equipment.Count == 0 ? 0 : equipment[0], equipment.Count, range);
        var now = history.Now;
        if (_lastDays.TryGetValue(key, out var known) && now - known.At < TimeSpan.TicksPerMinute)
            return known.Time;
        if (_lastDays.Count > MostKept)
            _lastDays.Clear();
        var time = TimeOnRange.Of(
            range,
            equipment
                .Take(MostLookedAt)
                .Select(id => history.Stretches(id, propertyId, now - TimeSpan.TicksPerDay, TimeSpan.TicksPerMinute * 5, 288, false, false))
        );
        _lastDays[key] = (now, time);
        return time;
    }

    private const int MostKept = 200;
    private const int MostLookedAt = 60;

    private readonly ConcurrentDictionary<(long, long, int, Span), (long At, TimeOnRange Time)> _lastDays = new();

    /// <summary>The states of a point until now, looked at anew once a minute.</summary>
    /// <param name="point">The point.</param>
    /// <param name="back">How far back.</param>
    public IReadOnlyList<TrendStretch> Lately(PlanPoint point, TimeSpan back)
    {
        var (key, now) = ((point.EquipmentId, point.PropertyId, back), history.Now);
        if (_lately.TryGetValue(key, out var known) && now - known.At < TimeSpan.TicksPerMinute && ReferenceEquals(known.Point, point))
            return known.States;
        if (_lately.Count > MostKept)
            _lately.Clear();
        var states = States(new("", "", "", "", 1, point), now - back.Ticks, now);
        _lately[key] = (now, point, states);
        return states;
    }

    private readonly ConcurrentDictionary<(long, long, TimeSpan), (long At, PlanPoint Point, IReadOnlyList<TrendStretch> States)> _lately =
        new();

    /// <summary>When a state began, the newest first.</summary>
    /// <param name="line">The line.</param>
    /// <param name="state">The state.</param>
    /// <param name="before">Not after this.</param>
    /// <param name="most">At most so many.</param>
    /// <param name="back">How far back is looked, in ticks.</param>
    public IReadOnlyList<long> Beginnings(TrendLine line, double state, long before, int most, long back)
    {
        if (line.Point is not { } point)
            return [];
        var found = new List<long>();
        var span = TimeSpan.FromHours(6).Ticks;
        for (var to = before; found.Count < most && before - to < back; to -= span)
        {
            var samples = history.Samples(point.EquipmentId, point.PropertyId, to - span, to);
            for (var i = samples.Count - 1; i > 0 && found.Count < most; i--)
                if (
                    samples[i].Ticks > to - span
                    && samples[i].Ticks <= to
                    && samples[i].Number == state
                    && !samples[i].Status.IsBad
                    && samples[i - 1].Number != state
                    // A gap between is no new beginning.
                    && !samples[i - 1].Status.IsBad
                )
                    found.Add(samples[i].Ticks);
            if (samples.Count == 0 || samples[0].Ticks > to)
                continue;
        }
        return found;
    }

    /// <summary>The facts of a window: from the values where they are few enough, else from what they amount to.</summary>
    /// <returns>The facts where they are exact; what they amount to; whether every value was looked at.</returns>
    public (IntervalFacts? Facts, Rollup Rollup) Window(TrendLine line, long from, long to)
    {
        if (line.Point is not { } point)
            return (null, Rollup.Nothing(from));
        to = Math.Min(to, history.Now);
        if (to <= from)
            return (null, Rollup.Nothing(from));
        var isStepped = point.Recording?.IsStepped ?? false;
        if (to - from > LongestByValue && point.EquipmentId != OfTags)
            return (null, history.Stretches(point.EquipmentId, point.PropertyId, from, to - from, 1, isStepped, line.IsState)[0]);
        var samples = CollectionsMarshal.AsSpan(Samples(point, from, to));
        var facts = IntervalFacts.Of(samples, Aggregation.FirstNotBefore(samples, from), from, to, isStepped, out _);
        return (facts, Rollup.Of(samples, from, to - from, 1, isStepped, line.IsState)[0]);
    }
}
