using System.Runtime.InteropServices;
using Fralto.Core.History;
using Fralto.Store;

namespace Fralto.Runtime.Recording;

/// <summary>Rolls closed chunks up: minutes as they are complete, hours of minutes, days of hours.</summary>
/// <remarks>A minute, hour or day in which nothing came is not kept: the value before it held on.</remarks>
internal sealed class RollupKeeper(HistoryStore store)
{
    private static readonly RollupStep Minute = RollupStep.All[0];

    // By series: what is looked for belongs to one, and there may be many.
    private readonly Dictionary<int, Dictionary<(long Step, long Start), List<Rollup>>> _changed = [];

    /// <summary>Blocks that are not kept as they are now.</summary>
    public IReadOnlyCollection<HistoryBlock> Changed =>
        [
            .. _changed.SelectMany(s =>
                s.Value.Select(b => new HistoryBlock(
                    s.Key,
                    b.Key.Step,
                    b.Key.Start,
                    Rollup.ToBytes(CollectionsMarshal.AsSpan(b.Value), b.Key.Step)
                ))
            ),
        ];

    /// <summary>They are kept.</summary>
    public void Kept() => _changed.Clear();

    /// <summary>Rolls the values of a closed chunk up.</summary>
    /// <param name="series">The series.</param>
    /// <param name="samples">Its values by time, with the newest one before.</param>
    /// <param name="from">Up to where values are rolled up; that of the first value where none is.</param>
    /// <param name="part">What the beginning of the minute amounts to in which that time lies; null for nothing.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    /// <param name="hasStates">True to tell states apart.</param>
    /// <returns>What the minute amounts to in which the last value lies, up to that value.</returns>
    public Rollup? Add(int series, List<HistorySample> samples, long from, Rollup? part, bool isStepped, bool hasStates)
    {
        var span = CollectionsMarshal.AsSpan(samples);
        var last = span[^1].Ticks;
        var index = Aggregation.FirstNotBefore(span, from);
        var touched = new HashSet<long> { Minute.StartOf(from) };
        for (var at = from; at < last; )
        {
            var minute = Minute.StartOf(at);
            var end = Math.Min(minute + Minute.Ticks, last);
            var rollup = Rollup.Of(span, ref index, at, end, isStepped, hasStates);
            if (part is { } before)
                rollup = Rollup.Together([before, rollup], minute);
            part = null;
            if (end == minute + Minute.Ticks)
            {
                if (rollup.Count > 0)
                {
                    Put(series, Minute, rollup with { Ticks = minute });
                    touched.Add(minute);
                }
            }
            else
                part = rollup with { Ticks = minute };
            at = end;
            // From one value on to the next: minutes in which nothing came are passed over.
            if (end == minute + Minute.Ticks && span[index].Ticks is var next && next >= end + Minute.Ticks)
                at = Minute.StartOf(next);
        }
        Sum(series, touched, Minute.StartOf(last));
        return part;
    }

    /// <summary>Rolls a stretch of whole minutes up anew, where something has come late.</summary>
    public void Anew(int series, List<HistorySample> samples, long begin, long end, long rolledTo, bool isStepped, bool hasStates)
    {
        var span = CollectionsMarshal.AsSpan(samples);
        var touched = new HashSet<long>();
        end = Math.Min(end, Minute.StartOf(rolledTo));
        for (var at = begin; at < end; at += Minute.Ticks)
        {
            var next = Aggregation.FirstNotBefore(span, at);
            if (next >= span.Length)
                break;
            at = Math.Max(at, Minute.StartOf(span[next].Ticks));
            if (at >= end)
                break;
            Put(series, Minute, Rollup.Of(span, at, Minute.Ticks, 1, isStepped, hasStates)[0]);
            touched.Add(at);
        }
        Sum(series, touched, Minute.StartOf(rolledTo));
    }

    /// <summary>The rollups of a block as they are now, changed or kept.</summary>
    public List<Rollup> BlockOf(int series, RollupStep step, long start)
    {
        if (_changed.TryGetValue(series, out var its) && its.TryGetValue((step.Ticks, start), out var known))
            return known;
        try
        {
            return store.Blocks(series, step.Ticks, start, start) is [var block] ? [.. Rollup.Read(block.Data, step.Ticks)] : [];
        }
        catch (InvalidDataException)
        {
            // It is made anew of what there is.
            return [];
        }
    }

    /// <summary>Sums up the hours and days that are complete and hold what has changed.</summary>
    private void Sum(int series, IEnumerable<long> touched, long complete)
    {
        for (var i = 1; i < RollupStep.All.Length; i++)
        {
            var (of, step, whole) = (RollupStep.All[i - 1], RollupStep.All[i], new HashSet<long>());
            foreach (var at in touched.Select(step.StartOf).Distinct().Where(t => t + step.Ticks <= complete).ToArray())
            {
                var parts = new List<Rollup>();
                for (var block = of.BlockOf(at); block < at + step.Ticks; block += of.BlockTicks)
                    parts.AddRange(BlockOf(series, of, block).Where(r => r.Ticks >= at && r.Ticks < at + step.Ticks));
                if (parts.Count > 0)
                    Put(
                        series,
                        step,
                        Rollup.Together(
                            CollectionsMarshal.AsSpan(Rollup.Filled(parts, at, at + step.Ticks, of.Ticks, Before(series, of, at))),
                            at
                        )
                    );
            }
        }
    }

    /// <summary>The newest rollup before a time; null for none.</summary>
    private Rollup? Before(int series, RollupStep step, long at)
    {
        for (long? start = step.BlockOf(at); start is { } block; )
        {
            if (BlockOf(series, step, block).FindLast(r => r.Ticks < at) is { Ticks: > 0 } before)
                return before;
            var changed = _changed.TryGetValue(series, out var its)
                ? its.Keys.Where(k => k.Step == step.Ticks && k.Start < block).Select(k => k.Start)
                : [];
            start = changed.Append(store.BlockBefore(series, step.Ticks, block) ?? 0).Max() is > 0 and var earlier ? earlier : null;
        }
        return null;
    }

    private void Put(int series, RollupStep step, Rollup rollup)
    {
        if (!_changed.TryGetValue(series, out var its))
            _changed[series] = its = [];
        var start = step.BlockOf(rollup.Ticks);
        if (!its.TryGetValue((step.Ticks, start), out var block))
            its[(step.Ticks, start)] = block = BlockOf(series, step, start);
        var at = block.Count;
        while (at > 0 && block[at - 1].Ticks > rollup.Ticks)
            at--;
        if (at > 0 && block[at - 1].Ticks == rollup.Ticks)
            block[at - 1] = rollup;
        else
            block.Insert(at, rollup);
    }
}
