using CsCheck;
using Fralto.Core.History;
using Fralto.Core.Quality;

namespace Fralto.Core.Tests;

/// <summary>Aggregates of OPC UA Part 13.</summary>
public class AggregateTests
{
    private const long Noon = 639_000_000_000_000_000;
    private static readonly StatusCode Uncertain = new(0x40000000);

    private static HistorySample At(double seconds, double value, StatusCode? status = null) =>
        new(Noon + (long)(seconds * TimeSpan.TicksPerSecond), value, status ?? StatusCode.Good);

    // All Good; the numbers of Interpolative, Average, Minimum, Maximum, Count and the percentages were also worked out with
    // node-opcua-aggregates
    // 2.182.2, the others by an independent reference of the definitions of OPC UA Part 13, clause 5.4.
    private static readonly HistorySample[] Good =
    [
        At(0, 10),
        At(10, 20),
        At(20, 10),
        At(35, 40),
        At(60, 40),
        At(70, 0),
        At(75, 0),
        At(90, 30),
        At(120, 30),
    ];

    // Of the shape of the first data set in the example annex of Part 13.
    private static readonly HistorySample[] Mixed =
    [
        At(0, double.NaN, StatusCode.BadNoData),
        At(10, 10),
        At(20, 20),
        At(30, 30),
        At(40, double.NaN, new(0x80000000)),
        At(50, 50),
        At(60, 60),
        At(70, 70, Uncertain),
        At(80, 80),
        At(90, 90),
    ];

    [Theory]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    [InlineData("Interpolative", false, 10, 40)]
    [InlineData("Average", false, 20, 17.5)]
    [InlineData("TimeAverage", false, 27.916667, 22.083333)]
    [InlineData("TimeAverage", true, 24.166667, 21.666667)]
    [InlineData("TimeAverage2", true, 24.166667, 21.666667)]
    [InlineData("Total", false, 1675, 1325)]
    [InlineData("Total", true, 1450, 1300)]
    [InlineData("Minimum", false, 10, 0)]
    [InlineData("Maximum", false, 40, 40)]
    [InlineData("Range", false, 30, 40)]
    [InlineData("Count", false, 4, 4)]
    [InlineData("Start", false, 10, 40)]
    [InlineData("End", false, 40, 30)]
    [InlineData("Delta", false, 30, -10)]
    [InlineData("StartBound", false, 10, 40)]
    [InlineData("EndBound", false, 40, 30)]
    [InlineData("DeltaBounds", false, 30, -10)]
    [InlineData("NumberOfTransitions", false, 3, 2)]
    [InlineData("DurationInStateZero", false, 0, 20_000)]
    [InlineData("DurationInStateNonZero", false, 60_000, 40_000)]
    [InlineData("PercentGood", false, 100, 100)]
    [InlineData("PercentBad", false, 0, 0)]
    [InlineData("DurationGood", false, 60_000, 60_000)]
    [InlineData("DurationBad", false, 0, 0)]
    [InlineData("VarianceSample", false, 200, 425)]
    [InlineData("VariancePopulation", false, 150, 318.75)]
    [InlineData("StandardDeviationSample", false, 14.142136, 20.615528)]
    [InlineData("StandardDeviationPopulation", false, 12.247449, 17.853571)]
    [InlineData("WorstQuality", false, 0, 0)]
    public void Two_minutes_of_good_values_by_the_minute(string name, bool isStepped, double first, double second) =>
        ShouldBe(Good, name, isStepped, 60, [first, second]);

    [Theory]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    [InlineData("Interpolative", false, 10, 30, 40, 30)]
    [InlineData("Interpolative", true, 10, 10, 40, 30)]
    [InlineData("Average", false, 13.333333, 40, 13.333333, 30)]
    [InlineData("TimeAverage", false, 16.666667, 39.166667, 14.166667, 30)]
    [InlineData("TimeAverage", true, 13.333333, 35, 13.333333, 30)]
    [InlineData("Total", false, 500, 1175, 425, 900)]
    [InlineData("Total", true, 400, 1050, 400, 900)]
    [InlineData("Minimum", false, 10, 40, 0, 30)]
    [InlineData("Maximum", false, 20, 40, 40, 30)]
    [InlineData("Minimum2", false, 10, 30, 0, 30)]
    [InlineData("Maximum2", false, 30, 40, 40, 30)]
    [InlineData("Range2", false, 20, 10, 40, 0)]
    [InlineData("Minimum2", true, 10, 10, 0, 30)]
    [InlineData("Range2", true, 10, 30, 40, 0)]
    [InlineData("Count", false, 3, 1, 3, 1)]
    [InlineData("Delta", false, 0, 0, -40, 0)]
    [InlineData("DeltaBounds", false, 20, 10, -10, 0)]
    [InlineData("NumberOfTransitions", false, 2, 1, 1, 1)]
    [InlineData("DurationInStateZero", false, 0, 0, 20_000, 0)]
    public void Two_minutes_of_good_values_by_the_half_minute(string name, bool isStepped, double a, double b, double c, double d) =>
        ShouldBe(Good, name, isStepped, 30, [a, b, c, d]);

    [Theory]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    [InlineData("Interpolative", false, double.NaN, 16, 32, 48, 64, 80)]
    [InlineData("Interpolative", true, double.NaN, 10, 30, 30, 60, 80)]
    [InlineData("Average", false, 10, 25, double.NaN, 55, double.NaN, 85)]
    [InlineData("Minimum", false, 10, 20, double.NaN, 50, double.NaN, 80)]
    [InlineData("Maximum", false, 10, 30, double.NaN, 60, double.NaN, 90)]
    [InlineData("Range", false, 0, 10, double.NaN, 10, double.NaN, 10)]
    [InlineData("Count", false, 1, 2, 0, 2, 0, 2)]
    [InlineData("Delta", false, 0, 10, double.NaN, 10, double.NaN, 10)]
    [InlineData("TimeAverage", false, 13, 24, 40, 56, 72, 86.875)]
    [InlineData("TimeAverage", true, 10, 18.75, 30, 50, 66.25, 83.75)]
    [InlineData("DurationBad", false, 10_000, 0, 8_000, 2_000, 0, 0)]
    [InlineData("NumberOfTransitions", false, 0, 2, 0, 2, 1, 2)]
    public void Values_of_mixed_quality(string name, bool isStepped, double a, double b, double c, double d, double e, double f) =>
        ShouldBe(Mixed, name, isStepped, 16, [a, b, c, d, e, f]);

    [Fact]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    public void How_good_a_value_is_and_how_it_came_about_stand_in_its_status()
    {
        StatusCode Of(HistorySample[] samples, string name, int seconds, int at) =>
            Aggregate.Find(name)!.Of(Aggregation.Of(samples, Noon, seconds * TimeSpan.TicksPerSecond, at + 1, false)[at]).Status;
        Of(Good, "Average", 60, 0).Value.ShouldBe(0x0401u);
        Of(Good, "Minimum", 60, 0).Value.ShouldBe(0x0411u, "10 came twice");
        Of(Good, "MaximumActualTime", 60, 0).Value.ShouldBe(0x0400u);
        Of(Good, "Interpolative", 30, 1).Value.ShouldBe(0x0402u);
        Of(Good, "Interpolative", 30, 2).Value.ShouldBe(0u, "a value came at that moment");
        Of(Mixed, "Average", 16, 0).ShouldBe(new(StatusCode.UncertainDataSubNormal.Value | 0x0405), "the archive begins within");
        Of(Mixed, "Average", 16, 2).IsSame(StatusCode.BadNoData).ShouldBeTrue();
        Of(Mixed, "Interpolative", 16, 1).Value.ShouldBe(0x0402u);
        foreach (var at in new[] { 2, 3, 4 })
            Of(Mixed, "Interpolative", 16, at).ShouldBe(new(StatusCode.UncertainDataSubNormal.Value | 0x0402), $"{at * 16} s");
        foreach (var (at, worst) in new[] { (0, 0x809B0000u), (1, 0u), (2, 0x80000000u), (3, 0u), (4, 0x40000000u), (5, 0u) })
            Aggregate
                .Find("WorstQuality")!
                .Of(Aggregation.Of(Mixed, Noon, 16 * TimeSpan.TicksPerSecond, 6, false)[at])
                .Number.ShouldBe(worst);
    }

    [Fact]
    [Trait("source", "brute force: the held value looked up at every tenth of a second")]
    public void Times_and_areas_are_those_of_looking_at_every_moment() =>
        Gen.Select(Gen.Select(Gen.Int[1, 30], Gen.Int[-5, 5], Gen.Int[0, 5]).Array[1, 40], Gen.Int[0, 200], Gen.Int[1, 300], Gen.Bool)
            .Sample(
                (steps, start, length, isStepped) =>
                {
                    var (samples, at) = (new List<HistorySample>(), 0);
                    foreach (var (gap, value, quality) in steps)
                        samples.Add(
                            At(
                                (at += gap) / 10d,
                                quality == 0 ? double.NaN : value,
                                quality == 0 ? StatusCode.BadNotConnected
                                    : quality == 1 ? Uncertain
                                    : StatusCode.Good
                            )
                        );
                    var facts = Aggregation.Of(samples.ToArray(), Noon + start * 1_000_000L, length * 1_000_000L, 1, isStepped)[0];
                    double good = 0,
                        uncertain = 0,
                        zero = 0,
                        area = 0;
                    for (var tenth = start; tenth < start + length; tenth++)
                    {
                        var ticks = Noon + tenth * 1_000_000L;
                        var held = samples.FindLastIndex(s => s.Ticks <= ticks);
                        if (held < 0 || samples[held].Status.IsBad)
                            continue;
                        (good, uncertain) = samples[held].Status.IsGood ? (good + 0.1, uncertain) : (good, uncertain + 0.1);
                        zero += samples[held].Number == 0 ? 0.1 : 0;
                        var next =
                            held + 1 < samples.Count && !samples[held + 1].Status.IsBad && !isStepped ? samples[held + 1] : samples[held];
                        var share =
                            next.Ticks == samples[held].Ticks
                                ? 0
                                : (ticks + 500_000 - samples[held].Ticks) / (double)(next.Ticks - samples[held].Ticks);
                        area += 0.1 * (samples[held].Number + share * (next.Number - samples[held].Number));
                    }
                    facts.GoodSeconds.ShouldBe(good, 1e-6);
                    facts.UncertainSeconds.ShouldBe(uncertain, 1e-6);
                    facts.ZeroSeconds.ShouldBe(zero, 1e-6);
                    facts.HeldArea.ShouldBe(area, 1e-6);
                }
            );

    [Fact]
    public void Every_aggregate_has_a_name_and_a_node_of_its_own()
    {
        Aggregate.All.Select(a => a.Name).Distinct().Count().ShouldBe(Aggregate.All.Count);
        Aggregate.All.Select(a => a.NodeId).Distinct().Count().ShouldBe(Aggregate.All.Count);
        foreach (var aggregate in Aggregate.All)
        foreach (var facts in Aggregation.Of([], Noon, 10, 2, false))
            _ = aggregate.Of(facts);
    }

    private static void ShouldBe(HistorySample[] samples, string name, bool isStepped, int seconds, double[] wanted)
    {
        var facts = Aggregation.Of(samples, Noon, seconds * TimeSpan.TicksPerSecond, wanted.Length, isStepped);
        for (var i = 0; i < wanted.Length; i++)
            if (double.IsNaN(wanted[i]))
                Aggregate.Find(name)!.Of(facts[i]).Status.IsBad.ShouldBeTrue($"{name} of interval {i}");
            else
                Aggregate.Find(name)!.Of(facts[i]).Number.ShouldBe(wanted[i], 1e-6, $"{name} of interval {i}");
    }
}
