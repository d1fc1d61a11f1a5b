using System.Buffers.Binary;
using System.Collections.Immutable;
using System.IO.Compression;

namespace Fralto.Core.History;

/// <summary>What the values of a minute, an hour or a day amount to.</summary>
/// <param name="Ticks">Where it begins.</param>
/// <param name="Count">How many values came.</param>
/// <param name="GoodSeconds">Seconds that were Good.</param>
/// <param name="UncertainSeconds">Seconds that were Uncertain.</param>
/// <param name="Mean">Mean of what was not Bad, weighted by time; not-a-number for none.</param>
/// <param name="Minimum">Smallest of what was not Bad.</param>
/// <param name="Maximum">Largest of what was not Bad.</param>
/// <param name="First">The value at the start, or the first one after it.</param>
/// <param name="Last">The last value.</param>
public readonly record struct Rollup(
    long Ticks,
    int Count,
    double GoodSeconds,
    double UncertainSeconds,
    double Mean,
    double Minimum,
    double Maximum,
    double First,
    double Last
)
{
    /// <summary>Seconds each state held; empty for what has none.</summary>
    public ImmutableArray<StateTime> States { get; init; } = [];

    /// <summary>How good what held at the end was: 0 Good, 1 Uncertain, 2 Bad or nothing.</summary>
    public byte EndSeverity { get; init; }

    /// <summary>Seconds that were not Bad.</summary>
    public double HeldSeconds => GoodSeconds + UncertainSeconds;

    /// <summary>Nothing is known of a stretch.</summary>
    public static Rollup Nothing(long ticks) =>
        new(ticks, 0, 0, 0, double.NaN, double.NaN, double.NaN, double.NaN, double.NaN) { EndSeverity = 2 };

    /// <summary>What an interval amounts to.</summary>
    public static Rollup Of(in IntervalFacts facts) =>
        new(
            facts.Start,
            facts.Raw,
            facts.GoodSeconds,
            facts.UncertainSeconds,
            facts.HeldMean,
            facts.Lowest,
            facts.Highest,
            !facts.StartBound.Status.IsBad ? facts.StartBound.Number
                : facts.Raw > 0 ? facts.First.Number
                : double.NaN,
            facts.Raw > 0 ? facts.Last.Number
                : facts.StartBound.Status.IsBad ? double.NaN
                : facts.StartBound.Number
        )
        {
            EndSeverity = (byte)Math.Min(2, (facts.Raw > 0 ? facts.Last.Status : facts.StartBound.Status).Value >> 30),
        };

    /// <summary>What a stretch amounts to in which nothing came after this one.</summary>
    /// <param name="ticks">Where it begins.</param>
    /// <param name="length">How long it is.</param>
    public Rollup HeldOn(long ticks, long length)
    {
        var seconds = length / (double)TimeSpan.TicksPerSecond;
        return EndSeverity >= 2 || double.IsNaN(Last)
            ? Nothing(ticks)
            : new(ticks, 0, EndSeverity == 0 ? seconds : 0, EndSeverity == 1 ? seconds : 0, Last, Last, Last, Last, Last)
            {
                EndSeverity = EndSeverity,
                States = States.IsDefaultOrEmpty ? [] : [new((int)Last, seconds)],
            };
    }

    /// <summary>Rollups with those in which nothing came: the value before held on.</summary>
    /// <param name="kept">Those that are kept, by time.</param>
    /// <param name="from">Where the first begins.</param>
    /// <param name="to">Where the last ends.</param>
    /// <param name="step">How long each is.</param>
    /// <param name="before">The newest one before; null for none.</param>
    public static List<Rollup> Filled(IReadOnlyList<Rollup> kept, long from, long to, long step, Rollup? before)
    {
        var (filled, next) = (new List<Rollup>(), 0);
        for (var at = from; at < to; at += step)
        {
            while (next < kept.Count && kept[next].Ticks < at)
                before = kept[next++];
            if (next < kept.Count && kept[next].Ticks == at)
            {
                before = kept[next++];
                filled.Add(before.Value);
            }
            else if (before is { } known)
                filled.Add(known.HeldOn(at, step));
        }
        return filled;
    }

    /// <summary>What several that follow one another amount to together.</summary>
    /// <param name="parts">Them, by time; not none.</param>
    /// <param name="ticks">Where the whole begins.</param>
    public static Rollup Together(ReadOnlySpan<Rollup> parts, long ticks)
    {
        var (count, good, uncertain, area) = (0, 0d, 0d, 0d);
        var (minimum, maximum, first, last) = (double.NaN, double.NaN, double.NaN, double.NaN);
        Dictionary<int, double>? states = null;
        foreach (ref readonly var part in parts)
        {
            count += part.Count;
            good += part.GoodSeconds;
            uncertain += part.UncertainSeconds;
            if (part.HeldSeconds > 0)
                area += part.Mean * part.HeldSeconds;
            if (!(part.Minimum >= minimum) && !double.IsNaN(part.Minimum))
                minimum = part.Minimum;
            if (!(part.Maximum <= maximum) && !double.IsNaN(part.Maximum))
                maximum = part.Maximum;
            if (double.IsNaN(first))
                first = part.First;
            if (!double.IsNaN(part.Last))
                last = part.Last;
            if (!part.States.IsDefaultOrEmpty)
                foreach (var state in part.States)
                {
                    states ??= [];
                    states[state.State] = states.GetValueOrDefault(state.State) + state.Seconds;
                }
        }
        return new(
            ticks,
            count,
            good,
            uncertain,
            good + uncertain > 0 ? area / (good + uncertain) : double.NaN,
            minimum,
            maximum,
            first,
            last
        )
        {
            States = states is null ? [] : [.. states.OrderBy(s => s.Key).Select(s => new StateTime(s.Key, s.Value))],
            EndSeverity = parts.Length == 0 ? (byte)2 : parts[^1].EndSeverity,
        };
    }

    /// <summary>Rolls values up.</summary>
    /// <param name="samples">Values by time, with the ones around.</param>
    /// <param name="start">Where the first begins.</param>
    /// <param name="step">How long each is.</param>
    /// <param name="count">How many.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    /// <param name="hasStates">True to tell the states apart.</param>
    public static Rollup[] Of(ReadOnlySpan<HistorySample> samples, long start, long step, int count, bool isStepped, bool hasStates)
    {
        var rollups = new Rollup[count];
        var from = Aggregation.FirstNotBefore(samples, start);
        for (var i = 0; i < count; i++)
            rollups[i] = Of(samples, ref from, start + i * step, start + (i + 1) * step, isStepped, hasStates);
        return rollups;
    }

    /// <summary>Rolls a stretch up.</summary>
    /// <param name="samples">Values by time, with the ones around.</param>
    /// <param name="from">Index of the first value that is not before it; goes on to the first that is not before its end.</param>
    /// <param name="begin">Where it begins.</param>
    /// <param name="end">Where it ends.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    /// <param name="hasStates">True to tell the states apart.</param>
    public static Rollup Of(ReadOnlySpan<HistorySample> samples, ref int from, long begin, long end, bool isStepped, bool hasStates)
    {
        var first = from;
        var rollup = Of(IntervalFacts.Of(samples, first, begin, end, isStepped, out from));
        return hasStates ? rollup with { States = StatesOf(samples, first, from, begin, end) } : rollup;
    }

    /// <summary>Seconds each state held in a stretch.</summary>
    /// <param name="samples">Values by time.</param>
    /// <param name="from">Index of the first value that is not before the stretch.</param>
    /// <param name="next">Index of the first value that is not before its end.</param>
    /// <param name="start">Where it begins.</param>
    /// <param name="end">Where it ends.</param>
    public static ImmutableArray<StateTime> StatesOf(ReadOnlySpan<HistorySample> samples, int from, int next, long start, long end)
    {
        var states = new SortedDictionary<int, double>();
        for (var i = Math.Max(0, from - 1); i < next; i++)
        {
            if (samples[i].Status.IsBad || double.IsNaN(samples[i].Number) || Math.Abs(samples[i].Number) > int.MaxValue)
                continue;
            var until = i + 1 < samples.Length ? Math.Min(end, samples[i + 1].Ticks) : end;
            var seconds = (until - Math.Max(start, samples[i].Ticks)) / (double)TimeSpan.TicksPerSecond;
            if (seconds > 0)
                states[(int)samples[i].Number] = states.GetValueOrDefault((int)samples[i].Number) + seconds;
        }
        return [.. states.Select(s => new StateTime(s.Key, s.Value))];
    }

    /// <summary>Rollups as they are kept: column by column, and packed.</summary>
    public static byte[] ToBytes(ReadOnlySpan<Rollup> rollups, long step)
    {
        var writer = new ByteWriter();
        writer.Int(rollups.Length);
        foreach (ref readonly var r in rollups)
            writer.Int((int)((r.Ticks - rollups[0].Ticks) / step));
        writer.Int64(rollups.Length == 0 ? 0 : rollups[0].Ticks);
        foreach (ref readonly var r in rollups)
            writer.Int(r.Count);
        foreach (ref readonly var r in rollups)
            writer.Double(r.GoodSeconds);
        foreach (ref readonly var r in rollups)
            writer.Double(r.UncertainSeconds);
        foreach (ref readonly var r in rollups)
            writer.Double(r.Mean);
        foreach (ref readonly var r in rollups)
            writer.Double(r.Minimum);
        foreach (ref readonly var r in rollups)
            writer.Double(r.Maximum);
        foreach (ref readonly var r in rollups)
            writer.Double(r.First);
        foreach (ref readonly var r in rollups)
            writer.Double(r.Last);
        foreach (ref readonly var r in rollups)
            writer.Byte(r.EndSeverity);
        foreach (ref readonly var r in rollups)
        {
            writer.Int(r.States.IsDefault ? 0 : r.States.Length);
            foreach (var state in r.States.IsDefault ? [] : r.States)
            {
                writer.UInt32((uint)state.State);
                writer.Double(state.Seconds);
            }
        }
        var packed = new byte[4 + BrotliEncoder.GetMaxCompressedLength(writer.Written.Length)];
        BinaryPrimitives.WriteInt32LittleEndian(packed, writer.Written.Length);
        return BrotliEncoder.TryCompress(writer.Written, packed.AsSpan(4), out var length, PackedQuality, PackedWindow)
            ? packed[..(4 + length)]
            : throw new InvalidOperationException("There is no room for what is packed.");
    }

    private const int PackedQuality = 1;
    private const int PackedWindow = 16;
    private const int MostBytes = 1 << 24;

    /// <summary>Reads what <see cref="ToBytes"/> wrote.</summary>
    /// <exception cref="InvalidDataException">It is damaged.</exception>
    public static Rollup[] Read(byte[] bytes, long step)
    {
        var size = bytes.Length < 4 ? -1 : BinaryPrimitives.ReadInt32LittleEndian(bytes);
        if (size is < 0 or > MostBytes)
            throw new InvalidDataException("A block of rollups is damaged.");
        var unpacked = new byte[size];
        if (!BrotliDecoder.TryDecompress(bytes.AsSpan(4), unpacked, out var written) || written != size)
            throw new InvalidDataException("A block of rollups is damaged.");
        var reader = new ByteReader(unpacked);
        var count = reader.Int();
        var at = new int[count];
        for (var i = 0; i < count; i++)
            at[i] = reader.Int();
        var begin = reader.Int64();
        var counts = new int[count];
        for (var i = 0; i < count; i++)
            counts[i] = reader.Int();
        var columns = new double[7][];
        for (var c = 0; c < columns.Length; c++)
        {
            columns[c] = new double[count];
            for (var i = 0; i < count; i++)
                columns[c][i] = reader.Double();
        }
        var ends = new byte[count];
        for (var i = 0; i < count; i++)
            ends[i] = reader.Byte();
        var rollups = new Rollup[count];
        for (var i = 0; i < count; i++)
        {
            var states = new StateTime[reader.Int()];
            for (var s = 0; s < states.Length; s++)
                states[s] = new((int)reader.UInt32(), reader.Double());
            rollups[i] = new(
                begin + at[i] * step,
                counts[i],
                columns[0][i],
                columns[1][i],
                columns[2][i],
                columns[3][i],
                columns[4][i],
                columns[5][i],
                columns[6][i]
            )
            {
                States = [.. states],
                EndSeverity = ends[i],
            };
        }
        return rollups;
    }
}
