using System.Collections.Immutable;
using Fralto.Core.Diagnosis;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

public sealed class SignalFitTests
{
    private static readonly Span Anywhere = new(double.NegativeInfinity, double.PositiveInfinity);

    [Fact]
    public void Half_the_span_unused_and_the_other_half_used_up_is_the_wrong_signal()
    {
        var verdict = Judge(
            new LinearScale(Signal.Of(SignalKind.Counts16), new(0, 100)),
            new(0, 100),
            Anywhere,
            Sweep("Steep", RawType.Int16, 6100, 31900)
        )[0];
        verdict.Signal!.Kind.ShouldBe(SignalKind.Counts15);
        verdict.Words.ShouldContain(
            "between 6,100 and 31,900: fits 4…20 mA as 0…32767 counts better than the 4…20 mA as 0…65535 counts you set"
        );
    }

    [Fact]
    public void Values_beyond_the_signal_ask_for_a_wider_one()
    {
        var verdict = Judge(
            new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 100)),
            new(0, 100),
            new(0, 95),
            Sweep("Silo", RawType.UInt16, 36000, 60000)
        )[0];
        verdict.Signal!.Kind.ShouldBe(SignalKind.Counts16);
    }

    [Fact]
    public void What_stands_still_tells_nothing_of_the_signal()
    {
        Judge(
                new LinearScale(Signal.Of(SignalKind.Counts16), new(0, 100)),
                new(0, 100),
                Anywhere,
                Watch("A", 8000, 8100, 8050, 8020, 8040, 8060)
            )
            .ShouldAllBe(v => v.Signal == null);
        var still = Judge(
            new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 100)),
            new(0, 100),
            Anywhere,
            Watch("A", 0, 0, 0, 0, 0, 0)
        );
        still.ShouldContain(v => v.Kind == FitKind.Constant && v.Words == "always 0: A");
    }

    [Theory]
    [InlineData(WordOrder.HighFirst, WordOrder.LowFirst)]
    [InlineData(WordOrder.LowFirst, WordOrder.HighFirst)]
    [InlineData(WordOrder.HighFirst, WordOrder.LowFirstSwapped)]
    public void Huge_and_tiny_by_turns_is_the_wrong_word_order(WordOrder set, WordOrder right)
    {
        var random = new Random(4);
        var raw = Enumerable
            .Range(0, 40)
            .Select(_ =>
            {
                var words = new ushort[2];
                RawCodec.TryWrite(20 + random.NextDouble() * 25, RawType.Float32, right, words).ShouldBeTrue();
                return RawCodec.Read(words, RawType.Float32, set);
            })
            .Where(double.IsFinite)
            .ToImmutableArray();
        var verdict = Judge(null, new(0, 50), Anywhere, new RawWatch("Kiln 3", 7, RawType.Float32, set, raw))[0];
        (verdict.Kind, verdict.Order).ShouldBe((FitKind.WordOrder, right));
        verdict.TagIds.ShouldBe([7L]);
        verdict.Words.ShouldContain($"as {right.Letters()} instead of {set.Letters()}");
    }

    [Fact]
    public void The_right_order_and_the_right_signal_are_left_alone()
    {
        var scale = new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 100));
        Judge(scale, new(0, 100), new(5, 95), Sweep("Steep", RawType.Int16, 3000, 30000)).Single().Kind.ShouldBe(FitKind.Fits);
        Judge(null, new(0, 50), Anywhere, Watch("Kiln", 20.5, 30.25, 44, 41, 22, 39)).Single().Kind.ShouldBe(FitKind.Fits);
    }

    [Fact]
    public void Counts_without_a_scale_are_no_values_of_the_range()
    {
        var verdict = Judge(null, new(0, 120), new(12, 88), Sweep("Box", RawType.Int16, 6000, 22000))[0];
        verdict.Signal.ShouldNotBeNull();
        verdict.Words.ShouldContain("no values of 0…120");
    }

    [Fact]
    public void A_broken_wire_is_named_and_proposes_nothing()
    {
        var verdicts = Judge(
            new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 100)),
            new(0, 100),
            Anywhere,
            [.. Sweep("Steep", RawType.Int16, 6000, 30000), Watch("Steep 5", -1638, -1639, -1638, -1637, -1638, -1640)]
        );
        verdicts.ShouldContain(v => v.Kind == FitKind.Outside && v.Words.Contains("Steep 5 3.2 mA"));
        verdicts.ShouldAllBe(v => v.Signal == null && v.Order == null);
    }

    [Fact]
    public void Silence_is_said() =>
        Judge(null, new(0, 1), Anywhere, new RawWatch("Kiln 9", 1, RawType.Float32, WordOrder.HighFirst, []))
            .Single()
            .Words.ShouldBe("no good reading: Kiln 9");

    private static RawWatch[] Sweep(string name, RawType type, double low, double high) =>
        [
            .. Enumerable
                .Range(0, 4)
                .Select(n => new RawWatch(
                    $"{name} {n + 1}",
                    n + 1,
                    type,
                    WordOrder.HighFirst,
                    [.. Enumerable.Range(0, 20).Select(i => low + (high - low) * (n * 20 + i) / 79)]
                )),
        ];

    private static RawWatch Watch(string name, params double[] raw) =>
        new(name, 1, raw.All(r => r == Math.Floor(r)) ? RawType.Int16 : RawType.Float32, WordOrder.HighFirst, [.. raw]);

    private static ImmutableArray<FitVerdict> Judge(Scale? scale, Span range, Span normal, params RawWatch[] watched) =>
        SignalFit.Judge(scale, (s, raw) => s?.ToEngineering(raw) ?? raw, range, normal, watched);
}
