using Fralto.Core.History;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;
using Fralto.Store;

namespace Fralto.Runtime.Recording;

/// <summary>What was recorded, to be read: closed chunks, what is open, and what it amounts to.</summary>
public sealed class History(HistoryStore store, HistoryRecorder recorder, TimeProvider clock)
{
    /// <summary>The most chunks that are read for one question: some millions of values.</summary>
    private const int MostChunks = 20_000;

    private long _damaged;

    /// <summary>How many chunks could not be read since Fralto started.</summary>
    public long Damaged => Interlocked.Read(ref _damaged);

    /// <summary>Now, in ticks.</summary>
    public long Now => clock.GetUtcNow().UtcTicks;

    /// <summary>Values of a point in the property's unit, by time, with the newest one before and the first one after.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="from">Where the stretch begins, in ticks.</param>
    /// <param name="to">Where it ends.</param>
    /// <param name="asNow">The chain numbers are to be read with; null for the one that was in force.</param>
    public List<HistorySample> Samples(long equipmentId, long propertyId, long from, long to, Chain? asNow = null)
    {
        // What is open first: what is closed meanwhile is read twice, and not left out.
        var open = recorder.OpenOf(equipmentId, propertyId, out var series, asNow);
        if (series == 0)
            return [];
        var samples = new List<HistorySample>();
        foreach (var chunk in store.Chunks(series, from, to, MostChunks))
            if (recorder.ReadScaled(chunk.Data, chunk.Scaling, samples, asNow) is not null)
                Interlocked.Increment(ref _damaged);
        samples.AddRange(open);
        HistoryMerge.InOrder(samples);
        var first = Aggregation.FirstNotBefore(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(samples), from);
        if (first > 1)
            samples.RemoveRange(0, first - 1);
        var last = Aggregation.FirstNotBefore(System.Runtime.InteropServices.CollectionsMarshal.AsSpan(samples), to + 1);
        if (last + 1 < samples.Count)
            samples.RemoveRange(last + 1, samples.Count - last - 1);
        return samples;
    }

    /// <summary>The limits a point had in a stretch of time, each for as long as it was in force; where nothing is known of then,
    /// none.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="from">Where the stretch begins, in ticks.</param>
    /// <param name="to">Where it ends.</param>
    public IReadOnlyList<(Limit Limit, long From, long To)> Limits(long equipmentId, long propertyId, long from, long to)
    {
        if (recorder.SeriesIdOf(equipmentId, propertyId) is not (> 0 and var series))
            return [];
        var (all, found) = (store.Limits(series), new List<(Limit, long, long)>());
        for (var i = 0; i < all.Count; i++)
        {
            var (begin, end) = (Math.Max(from, all[i].Since), i + 1 < all.Count ? Math.Min(to, all[i + 1].Since) : to);
            if (end <= begin)
                continue;
            foreach (var limit in KeptLimits.Read(all[i].Facts))
                // One that another layer or release left as it was goes on.
                if (found.FindIndex(f => f.Item1 == limit && f.Item3 == begin) is >= 0 and var before)
                    found[before] = (limit, found[before].Item2, end);
                else
                    found.Add((limit, begin, end));
        }
        return found;
    }

    /// <summary>What a point amounts to in equal stretches, one after the other: from what is summed up where they are long, from its
    /// values
    /// where they are short.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="from">Where the first begins, in ticks.</param>
    /// <param name="step">How long each is, in ticks.</param>
    /// <param name="count">How many.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    /// <param name="hasStates">True to tell states apart.</param>
    public Rollup[] Stretches(long equipmentId, long propertyId, long from, long step, int count, bool isStepped, bool hasStates)
    {
        var to = Math.Min(from + step * count, Now);
        // Summed-up steps have to be some times shorter than a stretch, or its edges lie.
        var summed = RollupStep.All.LastOrDefault(s => s.Ticks * 3 <= step);
        var stretches = new Rollup[count];
        for (var i = 0; i < count; i++)
            stretches[i] = Rollup.Nothing(from + i * step);
        var rawFrom = from;
        if (summed is not null && recorder.SeriesIdOf(equipmentId, propertyId) is > 0 and var series)
        {
            rawFrom = Summed(series, summed, from, step, to, stretches);
            if (recorder.LateOf(equipmentId, propertyId) is { } late && late.From < rawFrom)
                PutRight(late, equipmentId, propertyId, rawFrom, step, stretches, isStepped, hasStates);
        }
        if (rawFrom >= to)
            return stretches;
        var samples = Samples(equipmentId, propertyId, rawFrom, to);
        if (samples.Count == 0)
            return stretches;
        // The last value holds until now, and no longer.
        var firstRaw = (int)((rawFrom - from) / step);
        var span = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(samples);
        for (var i = firstRaw; i < count; i++)
        {
            var (begin, end) = (Math.Max(rawFrom, from + i * step), Math.Min(from + (i + 1) * step, to));
            if (end <= begin)
                break;
            var rest = Rollup.Of(span, begin, end - begin, 1, isStepped, hasStates)[0];
            stretches[i] =
                begin > from + i * step ? Rollup.Together([stretches[i], rest], from + i * step) : rest with { Ticks = from + i * step };
        }
        return stretches;
    }

    /// <summary>Works stretches out from values where something has come late that is not summed up yet: it holds until the next
    /// value.</summary>
    private void PutRight(
        (long From, long To) late,
        long equipmentId,
        long propertyId,
        long to,
        long step,
        Rollup[] stretches,
        bool isStepped,
        bool hasStates
    )
    {
        var from = stretches[0].Ticks;
        var first = Math.Max(0, late.From - from) / step;
        var (until, values) = (from + Math.Max(1, (late.To - from) / step + 1) * step, new List<HistorySample>());
        for (var more = step; ; more *= 2)
        {
            until = Math.Min(to, until);
            values = Samples(equipmentId, propertyId, from + first * step, until);
            if (until >= to || values.Exists(s => s.Ticks > late.To && s.Ticks < until))
                break;
            until += more;
        }
        var span = System.Runtime.InteropServices.CollectionsMarshal.AsSpan(values);
        for (var i = first; i < stretches.Length && from + i * step < until; i++)
        {
            var (begin, end) = (from + i * step, Math.Min(from + (i + 1) * step, to));
            stretches[i] = Rollup.Of(span, begin, end - begin, 1, isStepped, hasStates)[0] with { Ticks = begin };
        }
    }

    /// <summary>Fills stretches from what is summed up.</summary>
    /// <returns>Up to where they are filled.</returns>
    private long Summed(int series, RollupStep summed, long from, long step, long to, Rollup[] stretches)
    {
        var kept = new List<Rollup>();
        // With the newest one before: what has not moved for long holds on.
        var first = store.BlockBefore(series, summed.Ticks, summed.BlockOf(from)) ?? summed.BlockOf(from);
        foreach (
            var block in store
                .Blocks(series, summed.Ticks, first, first)
                .Concat(store.Blocks(series, summed.Ticks, Math.Max(first + 1, summed.BlockOf(from)), to))
        )
            try
            {
                kept.AddRange(Rollup.Read(block.Data, summed.Ticks));
            }
            catch (InvalidDataException)
            {
                Interlocked.Increment(ref _damaged);
            }
        if (kept.Count == 0)
            return from;
        var begin = from;
        var end = Math.Min(to, kept[^1].Ticks + summed.Ticks);
        if (end <= begin)
            return from;
        var filled = Rollup.Filled(kept, summed.StartOf(begin), end, summed.Ticks, null);
        var at = 0;
        for (var i = 0; i < stretches.Length && at < filled.Count; i++)
        {
            var until = from + (i + 1) * step;
            var begins = at;
            // One belongs to the stretch in which it begins.
            while (at < filled.Count && filled[at].Ticks < until)
                at++;
            if (at > begins)
                stretches[i] = Rollup.Together(
                    System.Runtime.InteropServices.CollectionsMarshal.AsSpan(filled)[begins..at],
                    from + i * step
                );
        }
        return end;
    }
}
