using Fralto.Core.Limits;
using Fralto.Core.Pictures;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class RulerTests
{
    [Fact]
    public void Ticks_carry_both_axes_of_the_same_scale()
    {
        var ruler = Draw([]);
        ruler.Ticks.Select(t => t.Text).ShouldBe(["0", "10", "20", "30", "40", "50", "60", "70", "80", "90", "100", "110", "120"]);
        ruler.RawTicks.Select(t => t.Text).ShouldBe(["0", "5000", "10000", "15000", "20000", "25000", "30000", "32767"]);
        ruler.RawTicks[2].X.ShouldBe(ruler.Left + (ruler.Right - ruler.Left) * 10000 / 32767, 1e-9);
        (ruler.RawTicks[0].X, ruler.RawTicks[^1].X).ShouldBe((ruler.Left, ruler.Right));
        ruler.Ticks[0].X.ShouldBe(ruler.Left);
        ruler.Ticks[^1].X.ShouldBe(ruler.Right);
    }

    [Fact]
    public void The_normal_band_and_the_deadbands_lie_where_the_numbers_say()
    {
        var ruler = Draw([]);
        var perDegree = (ruler.Right - ruler.Left) / 120;
        ruler.Normal.Left.ShouldBe(ruler.Left + 48 * perDegree, 1e-9);
        ruler.Normal.Right.ShouldBe(ruler.Left + 88 * perDegree, 1e-9);
        var high = ruler.Flags.Single(f => f.Limit.Condition == LimitCondition.High);
        high.Deadband.Width.ShouldBe(1.5 * perDegree, 1e-9);
        high.Deadband.Right.ShouldBe(high.X);
        ruler
            .Flags.Single(f => f.Limit.Condition == LimitCondition.Low)
            .Deadband.Left.ShouldBe(ruler.Flags.Single(f => f.Limit.Condition == LimitCondition.Low).X);
    }

    [Fact]
    public void No_two_flags_cover_each_other()
    {
        foreach (var lane in Draw([]).Flags.GroupBy(f => f.Lane))
            lane.OrderBy(f => f.FlagX)
                .Select(f => f.FlagX)
                .Zip(lane.OrderBy(f => f.FlagX).Skip(1).Select(f => f.FlagX), (a, b) => b - a)
                .ShouldAllBe(gap => gap >= Ruler.FlagWidth);
    }

    [Fact]
    public void Names_of_dots_never_touch_even_when_all_values_are_alike()
    {
        var ruler = Draw(Enumerable.Range(1, 40).Select(i => ($"Kiln {i}", 70 + i * 0.01, false)));
        ruler.Dots.Length.ShouldBe(40);
        foreach (var lane in ruler.Dots.Where(d => d.Named).GroupBy(d => d.Lane))
        {
            var ordered = lane.OrderBy(d => d.X).ToArray();
            for (var i = 1; i < ordered.Length; i++)
                (ordered[i].X - 6).ShouldBeGreaterThanOrEqualTo(ordered[i - 1].X + 12 + ordered[i - 1].Name.Length * 7 - 1e-9);
        }
    }

    [Fact]
    public void A_value_beyond_the_range_stands_at_its_end_and_looks_abnormal()
    {
        var ruler = Draw([("Kiln 9", 500, false), ("broken", double.NaN, false)]);
        var dot = ruler.Dots.Single();
        (dot.X, dot.Abnormal, dot.NameLeft).ShouldBe((ruler.Right, true, true));
    }

    [Fact]
    public void A_dot_without_a_name_stands_where_it_covers_no_name() =>
        Draw(Enumerable.Range(1, 40).Select(i => ($"Kiln {i}", 70 + i * 0.01, false)))
            .Dots.Where(d => !d.Named)
            .ShouldAllBe(d => d.Lane == Ruler.DotLanes);

    [Fact]
    public void A_root_has_uneven_raw_ticks_and_a_table_that_rises_and_falls_none()
    {
        Ruler Of(Scale scale) => Ruler.Of([], new Chain(null, scale, UnitConversion.None, new(0, 100)), [], 1010)!;
        var root = Of(new SquareRootScale(Signal.Of(SignalKind.Milliamps), new(0, 100)));
        // A quarter of the differential pressure, 8 mA, is half of the flow.
        root.RawTicks.Single(t => t.Text == "8").X.ShouldBe((root.Left + root.Right) / 2, 1e-9);
        var bent = Of(new TableScale(Signal.Of(SignalKind.Milliamps), new(0, 1), [new(0, 0), new(0.5, 100), new(1, 20)]));
        bent.RawTicks.ShouldBeEmpty();
        bent.WhyNoRaw.ShouldNotBeNull();
    }

    [Fact]
    public void A_flag_reaches_as_far_as_its_neighbours_in_steps_of_the_resolution()
    {
        var ruler = Draw([]);
        ruler.Step.ShouldBe(0.1, 1e-12);
        ruler.Flags.Single(f => f.Limit.Condition == LimitCondition.High).Reach.ShouldBe(new Span(48.1, 94.9));
        ruler.Flags.Single(f => f.Limit.Condition == LimitCondition.LowLow).Reach.ShouldBe(new Span(0, 47.9));
    }

    [Fact]
    public void Without_a_range_there_is_nothing_to_draw() =>
        Ruler.Of([], PlantModel.Empty.ChainOf(PropertyPatch.Empty, null, null), [], 1000).ShouldBeNull();

    [Theory]
    [InlineData(0, 1)]
    [InlineData(-50, 50)]
    [InlineData(0.3, 1.4)]
    [InlineData(0, 65535)]
    [InlineData(1e-6, 2e-6)]
    public void Ticks_are_few_and_inside(double low, double high)
    {
        var ticks = Ruler.TicksOf(new Span(low, high)).ToArray();
        ticks.Length.ShouldBeInRange(5, 14);
        ticks.ShouldAllBe(t => t >= low - 1e-12 && t <= high + 1e-12);
    }

    private static Ruler Draw(IEnumerable<(string, double, bool)> values)
    {
        var facts = PlantBuilder.Celsius(
            (LimitCondition.HighHigh, 95, 1.5, 1),
            (LimitCondition.High, 88, 1.5, 2),
            (LimitCondition.Low, 48, 1, 3),
            (LimitCondition.LowLow, 40, 2, 2)
        );
        return Ruler.Of(
            facts.LimitsInForce,
            PlantModel.Empty.ChainOf(facts, null, null),
            values.Select(v => new RulerValue(v.Item1, v.Item2, v.Item3)),
            1010
        )!;
    }
}
