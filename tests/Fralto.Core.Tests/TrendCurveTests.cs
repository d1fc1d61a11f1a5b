using CsCheck;
using Fralto.Core.History;
using Fralto.Core.Pictures;
using Fralto.Core.Quality;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Curves, axes and what stands out, as numbers to draw.</summary>
public class TrendCurveTests
{
    private const long Noon = 639_000_000_000_000_000;

    private static Rollup[] Stretches(int count, params (double At, double Value, bool IsBad)[] samples) =>
        Rollup.Of(
            [
                .. samples.Select(s => new HistorySample(
                    Noon + (long)(s.At * TimeSpan.TicksPerSecond),
                    s.IsBad ? double.NaN : s.Value,
                    s.IsBad ? StatusCode.BadNotConnected : StatusCode.Good
                )),
            ],
            Noon,
            TimeSpan.TicksPerSecond,
            count,
            false,
            false
        );

    [Fact]
    public void No_spike_is_lost_however_many_values_share_a_place()
    {
        var samples = Enumerable
            .Range(0, 10_000)
            .Select(i =>
                (
                    i / 100d,
                    i == 4321 ? 90d
                    : i == 7777 ? -40
                    : 20d,
                    false
                )
            )
            .ToArray();
        var curve = TrendCurve.Of(Stretches(100, samples), 100, 800, new Span(-50, 100), 160, 10);
        curve.Span.ShouldBe(new Span(-40, 90));
        var points = curve.Pieces.ShouldHaveSingleItem().Points;
        points.Min(p => p.Y).ShouldBe(160 - 150 * (90 + 50) / 150d, 0.01);
        points.Max(p => p.Y).ShouldBe(160 - 150 * (-40 + 50) / 150d, 0.01);
        points.Select(p => p.X).ShouldBeInOrder();
    }

    [Fact]
    public void A_gap_is_a_gap_and_never_bridged()
    {
        var curve = TrendCurve.Of(Stretches(30, (0, 10, false), (10, 0, true), (20, 30, false)), 30, 300, new Span(0, 40), 160, 10);
        curve.Pieces.Count.ShouldBe(2);
        curve.Pieces[0].Points[^1].X.ShouldBeLessThan(100);
        curve.Pieces[1].Points[0].X.ShouldBeGreaterThan(200);
        curve.Gaps.ShouldBe([new Span(100, 200)]);
        TrendCurve
            .Of(Stretches(30, (0, 10, false)), 12, 300, new Span(0, 40), 160, 10)
            .Pieces[0]
            .Points[^1]
            .X.ShouldBe(115, "nothing is drawn beyond now");
    }

    [Fact]
    public void An_axis_holds_what_is_drawn_and_ends_at_round_numbers() =>
        Gen.Select(Gen.Double[-1e6, 1e6], Gen.Double[0, 1e5])
            .Sample(
                (low, width) =>
                {
                    var axis = TrendCurve.AxisOf([new(low, low + width)], null);
                    axis.Low.ShouldBeLessThanOrEqualTo(low);
                    axis.High.ShouldBeGreaterThanOrEqualTo(low + width);
                    var marks = TrendCurve.MarksOf(axis);
                    marks.Count.ShouldBeInRange(2, 12);
                    marks.ShouldAllBe(m => m >= axis.Low - axis.Width * 1e-9 && m <= axis.High + axis.Width * 1e-9);
                    marks.ShouldBeInOrder();
                }
            );

    [Fact]
    public void One_among_many_that_are_alike_is_odd_and_none_where_all_are_apart()
    {
        OddOnes
            .Scores([20, 20.1, 19.9, 20.2, 35, double.NaN], 0.1)
            .Select(s => s > OddOnes.Odd)
            .ShouldBe([false, false, false, false, true, false]);
        OddOnes.Scores([1, 2, 3, 4, 5, 6, 7, 8], 0.1).ShouldAllBe(s => s < OddOnes.Odd);
        OddOnes.Scores([1, 100], 0.1).ShouldAllBe(s => s == 0);
    }

    [Fact]
    public void What_layers_say_of_recording_is_folded_field_by_field_and_amounts_to_a_rule()
    {
        var template = new RecordingPatch
        {
            DeadbandPercent = 1,
            Every = 60,
            KeepDays = 30,
        };
        var instance = new RecordingPatch { Deadband = 0.5, While = "Phase=3" };
        var rule = RecordingRule.Of(template.With(instance), new Span(0, 200), isNumber: true, isStepped: false).ShouldNotBeNull();
        (rule.Deadband, rule.Every, rule.While, rule.WhileValue, rule.KeepDays).ShouldBe((0.5, 60, "Phase", 3, 30));
        RecordingRule.Of(null, new Span(0, 200), true, false)!.Deadband.ShouldBe(0.2, "0.1 % of the range where nothing is said");
        RecordingRule.Of(null, new Span(0, 200), true, true)!.Deadband.ShouldBe(0);
        RecordingRule.Of(template.With(new() { Off = true }), null, true, false).ShouldBeNull();
        (rule with { KeepCount = 1000, KeepDays = 100 }).Reach(144).ShouldBe(6.94, 0.01, "1,000 values at 10 min");
        RecordingText.Of(template.With(instance)).ShouldBe("deadband 0.5, every 60 s, while Phase=3, kept 30 days");
    }

    [Fact]
    public void What_is_summed_up_is_kept_as_it_is_and_damage_is_found()
    {
        var rollups = Stretches(30, (0, 10, false), (10, 0, true), (20, -30.5, false))
            .Select((r, i) => i % 3 == 0 ? r with { States = [new(-2, 1.5), new(7, 58)] } : r)
            .ToArray();
        var bytes = Rollup.ToBytes(rollups, TimeSpan.TicksPerSecond);
        var read = Rollup.Read(bytes, TimeSpan.TicksPerSecond);
        read.Length.ShouldBe(rollups.Length);
        for (var i = 0; i < read.Length; i++)
        {
            read[i].States.ShouldBe(rollups[i].States);
            (read[i] with { States = [] }).ShouldBe(rollups[i] with { States = [] });
        }
        for (var length = 0; length < bytes.Length; length++)
            Should.Throw<InvalidDataException>(() => Rollup.Read(bytes[..length], TimeSpan.TicksPerSecond));
    }
}
