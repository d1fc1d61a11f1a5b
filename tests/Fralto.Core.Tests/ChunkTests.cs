using CsCheck;
using Fralto.Core.History;
using Fralto.Core.Quality;

namespace Fralto.Core.Tests;

/// <summary>Values packed into chunks and read again.</summary>
public class ChunkTests
{
    private const long Begin = 639_000_000_000_000_000;

    private static readonly StatusCode[] Qualities =
    [
        StatusCode.Good,
        StatusCode.UncertainEngineeringUnitsExceeded,
        StatusCode.BadNotConnected,
        new(0x80000123),
    ];

    private static readonly double[] Odd =
    [
        0d,
        -0d,
        double.NaN,
        BitConverter.Int64BitsToDouble(0x7FF8_0000_DEAD_BEEF),
        double.PositiveInfinity,
        double.NegativeInfinity,
        double.Epsilon,
        double.MaxValue,
        4_503_599_627_370_496,
        -4_503_599_627_370_497,
    ];

    private static readonly Gen<double> Numbers = Gen.Frequency(
        (3, Gen.Double),
        (3, Gen.Int[-40_000, 40_000].Select(i => (double)i)),
        (1, Gen.Long.Select(BitConverter.Int64BitsToDouble)),
        (1, Gen.Int[0, Odd.Length - 1].Select(i => Odd[i]))
    );

    private static readonly Gen<long> Steps = Gen.Frequency(
        (4, Gen.Const(10_000_000L)),
        (2, Gen.Long[0, 20_000_000].Select(t => t * 10_000)),
        (2, Gen.Long[0, 1_000_000_000_000]),
        (1, Gen.Const(1L))
    );

    private static readonly Gen<HistorySample[]> Series =
        from steps in Steps.Array[1, 900]
        from numbers in Gen.Frequency((2, Numbers.Array[steps.Length]), (1, Gen.Int[-9, 9].Select(i => (double)i).Array[steps.Length]))
        from quality in Gen.Frequency((6, Gen.Const(0)), (1, Gen.Int[0, 3])).Array[steps.Length]
        from text in Gen.Frequency(
            (5, Gen.Int[0, 0].Select(_ => (string?)null)),
            (1, Gen.Int[0, 2].Select(i => (string?)new[] { "", "Drying", "Ä€𝄞" }[i]))
        ).Array[steps.Length]
        from texts in Gen.Bool
        select Of(steps, numbers, quality, texts ? text : new string?[steps.Length]);

    private static HistorySample[] Of(long[] steps, double[] numbers, int[] qualities, string?[] texts)
    {
        var (samples, ticks) = (new HistorySample[steps.Length], Begin);
        for (var i = 0; i < steps.Length; i++)
            samples[i] = new(
                ticks += steps[i],
                texts[i] is null ? numbers[i] : double.NaN,
                Qualities[qualities[i]],
                qualities[i] == 0 ? null : $"reason {qualities[i]}",
                texts[i]
            );
        return samples;
    }

    [Fact]
    public void What_is_packed_comes_back_bit_by_bit() =>
        Series.Sample(
            samples =>
            {
                var (writer, chunks, read) = (new ChunkWriter(), new List<byte[]>(), new List<HistorySample>());
                foreach (var sample in samples)
                    if (!writer.TryAdd(in sample))
                    {
                        chunks.Add(writer.ToBytes());
                        writer.Clear();
                        writer.TryAdd(in sample).ShouldBeTrue();
                    }
                chunks.Add(writer.ToBytes());
                foreach (var chunk in chunks)
                    ChunkReader.Read(chunk, read).ShouldBeNull();
                read.Count.ShouldBe(samples.Length);
                for (var i = 0; i < samples.Length; i++)
                    if (!read[i].IsSame(in samples[i]))
                        read[i].ShouldBe(samples[i], $"value {i}: {BitConverter.DoubleToInt64Bits(samples[i].Number):X}");
            },
            iter: 400
        );

    [Fact]
    public void An_open_chunk_is_read_at_any_time_and_goes_on() =>
        Series.Sample(
            samples =>
            {
                var writer = new ChunkWriter();
                var held = new List<HistorySample>();
                foreach (var sample in samples.Take(60))
                {
                    if (!writer.TryAdd(in sample))
                        break;
                    held.Add(sample);
                    var read = new List<HistorySample>();
                    ChunkReader.Read(writer.ToBytes(), read).ShouldBeNull();
                    read.Count.ShouldBe(held.Count);
                    read[^1].IsSame(held[^1]).ShouldBeTrue();
                }
            },
            iter: 60
        );

    [Fact]
    public void A_byte_that_is_another_one_is_found_and_nothing_of_the_chunk_is_taken()
    {
        var writer = new ChunkWriter();
        for (var i = 0; i < 300; i++)
            writer.TryAdd(new(Begin + i * 10_000_000L, 20.1 + Math.Sin(i / 9d), StatusCode.Good)).ShouldBeTrue();
        var chunk = writer.ToBytes();
        for (var at = 0; at < chunk.Length; at++)
        for (var bit = 0; bit < 8; bit += 3)
        {
            chunk[at] ^= (byte)(1 << bit);
            var read = new List<HistorySample>();
            ChunkReader.Read(chunk, read).ShouldNotBeNull();
            read.ShouldBeEmpty();
            chunk[at] ^= (byte)(1 << bit);
        }
        for (var length = 0; length < chunk.Length; length += 7)
            ChunkReader.Read(chunk.AsSpan(0, length), []).ShouldNotBeNull();
    }

    [Fact]
    public void A_value_that_is_older_or_of_another_kind_needs_another_chunk_and_changes_nothing()
    {
        var writer = new ChunkWriter();
        writer.TryAdd(new(Begin, 4, StatusCode.Good)).ShouldBeTrue();
        writer.TryAdd(new(Begin - 1, 4, StatusCode.Good)).ShouldBeFalse();
        writer.TryAdd(new(Begin + 10_000, 4.5, StatusCode.Good)).ShouldBeFalse();
        writer.TryAdd(new(Begin + 1, 5, StatusCode.Good)).ShouldBeFalse();
        writer.TryAdd(new(Begin + 10_000, 5, StatusCode.Good)).ShouldBeTrue();
        writer.TryAdd(new(Begin + ChunkWriter.LongestSpan + 10_000, 5, StatusCode.Good)).ShouldBeFalse();
        var read = new List<HistorySample>();
        ChunkReader.Read(writer.ToBytes(), read).ShouldBeNull();
        read.Select(s => s.Number).ShouldBe([4, 5]);
    }

    [Theory]
    [InlineData("raw counts of a slow sensor", 1.5)]
    [InlineData("a boolean", 0.3)]
    [InlineData("a counter", 1.5)]
    public void It_is_small(string kind, double most)
    {
        var (writer, bytes, count, random, raw) = (new ChunkWriter(), 0L, 0, new Random(7), 12_000d);
        for (var i = 0; i < 20_000; i++)
        {
            raw =
                kind == "a boolean" ? i / 700 % 2
                : kind == "a counter" ? raw + 3
                : raw + Math.Round(6 * Math.Sin(i / 200d)) + random.Next(-3, 4);
            if (!writer.TryAdd(new(Begin + i * 10_000_000L, raw, StatusCode.Good)))
            {
                bytes += writer.ToBytes().Length;
                writer.Clear();
                writer.TryAdd(new(Begin + i * 10_000_000L, raw, StatusCode.Good)).ShouldBeTrue();
            }
            count++;
        }
        (bytes / (double)count).ShouldBeLessThan(most);
    }
}
