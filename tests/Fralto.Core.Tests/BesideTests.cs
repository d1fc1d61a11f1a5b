using CsCheck;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Review;

namespace Fralto.Core.Tests;

/// <summary>An engine beside another: it stands as one that had its plan put in, and neither moves the other.</summary>
public sealed class BesideTests
{
    private static readonly DateTimeOffset Begin = new(2026, 6, 1, 6, 0, 0, TimeSpan.Zero);

    private static PlantBuilder Plant(double high) =>
        PlantBuilder
            .Kiln((LimitCondition.High, high, 2, 2))
            .Do(b => new SaveProperty(
                b["Kiln"],
                null,
                "Mean",
                "Mean",
                PropertyKind.Calculated,
                PropertyType.Number,
                new()
                {
                    Unit = "CEL",
                    Range = new(0, 120),
                    Formula = "mean(AirOn last 10 min)",
                }
            ));

    [Fact]
    public void It_begins_as_one_whose_plan_was_put_in_and_goes_on_the_same_on_the_same_samples() =>
        Gen.Select(Gen.Int[20, 110].Array[5, 60], Gen.Int[70, 100], Gen.Int[0, 40])
            .Sample(
                (values, otherHigh, at) =>
                {
                    var (plant, other) = (Plant(88), Plant(otherHigh));
                    var (plan, otherPlan) = (Planner.Compile(plant.Model).Plan, Planner.Compile(other.Model).Plan);
                    var (engine, swapped) = (new PlantEngine(plan), new PlantEngine(plan));
                    PlantEngine? beside = null;
                    for (var i = 0; i < values.Length; i++)
                    {
                        var now = Moment.At(Begin.AddSeconds(20 * i));
                        if (i == at % values.Length)
                        {
                            beside = engine.Beside(PlanMap.Between(engine.Plan, otherPlan), now);
                            swapped.Swap(PlanMap.Between(swapped.Plan, otherPlan), now);
                        }
                        Sample[] sample = [new(plant["TT11"], values[i] / 120.0 * 32767, StatusCode.Good, now.UtcTicks)];
                        foreach (var one in new[] { engine, swapped, beside })
                        {
                            one?.Step(sample, now);
                            one?.Advance(now);
                        }
                    }
                    for (var point = 0; point < otherPlan.Points.Length; point++)
                        Same(beside!.ValueOf(point), swapped.ValueOf(point));
                    beside!.Alarms.ShouldBe(swapped.Alarms, ignoreOrder: true);
                    // The one it was made from runs as if there had been none.
                    var alone = new PlantEngine(plan);
                    for (var i = 0; i < values.Length; i++)
                    {
                        var now = Moment.At(Begin.AddSeconds(20 * i));
                        alone.Step([new Sample(plant["TT11"], values[i] / 120.0 * 32767, StatusCode.Good, now.UtcTicks)], now);
                        alone.Advance(now);
                    }
                    for (var point = 0; point < plan.Points.Length; point++)
                        Same(engine.ValueOf(point), alone.ValueOf(point));
                    engine.Alarms.ShouldBe(alone.Alarms, ignoreOrder: true);
                },
                iter: 60
            );

    [Fact]
    public void A_trial_tells_values_that_differ_and_alarms_that_come_in_one_alone()
    {
        var (plant, other) = (Plant(88), Plant(80));
        other.Do(b => new SaveProperty(
            b["Kiln"],
            b["AirOn"],
            "AirOn",
            "Air-on temperature",
            PropertyKind.Measured,
            PropertyType.Number,
            PlantBuilder.Celsius((LimitCondition.High, 80, 2, 2)) with
            {
                Scale = new Scaling.LinearScale(new Scaling.Span(0, 32767), new(0, 118)),
            }
        ));
        var engine = new PlantEngine(Planner.Compile(plant.Model).Plan);
        var beside = engine.Beside(PlanMap.Between(engine.Plan, Planner.Compile(other.Model).Plan), Moment.At(Begin));
        engine.Output.Events.Clear();
        beside.Output.Events.Clear();
        var book = new TrialBook(engine.Plan, beside.Plan, Begin);
        foreach (var (value, i) in new[] { 60.0, 84, 70, 85 }.Select((v, i) => (v, i)))
        {
            var now = Moment.At(Begin.AddSeconds(10 * i));
            Sample[] sample = [new(plant["TT11"], value / 120.0 * 32767, StatusCode.Good, now.UtcTicks)];
            engine.Step(sample, now);
            beside.Step(sample, now);
            book.Take(engine.Output.Events, false);
            book.Take(beside.Output.Events, true);
            engine.Output.Events.Clear();
            beside.Output.Events.Clear();
            book.Look(engine.ValueOf, beside.ValueOf, engine.Output.Points, beside.Output.Points, now.Utc);
        }
        var report = book.Report();
        report.Compared.ShouldBe(2);
        // The value, and the mean that follows it.
        report.Differing.ShouldBe(2);
        var value0 = report.Values.Single(v => v.Path.EndsWith("KLN1/AirOn", StringComparison.Ordinal));
        // 85 of 120 becomes 85 · 118 / 120.
        value0.Released!.Value.ShouldBe(85, 0.01);
        value0.Working!.Value.ShouldBe(85 * 118 / 120.0, 0.01);
        value0.Apart.ShouldBe(85 * 2 / 120.0, 0.01);
        var alarm = report.Alarms.ShouldHaveSingleItem();
        (alarm.Limit, alarm.Released, alarm.Working).ShouldBe(("H", 0, 2));
        report.Lasted.ShouldBe(TimeSpan.FromSeconds(30));
    }

    [Theory]
    [InlineData("mean(AirOn last 10 min)", true)]
    [InlineData("mean(AirOn last 10 min) else AirOn", true)]
    [InlineData("mean(AirOn last 20 min)", false)]
    [InlineData("AirOn", false)]
    public void What_is_counted_goes_on_where_its_own_text_stays(string formula, bool goesOn)
    {
        var (plant, other) = (Plant(88), Plant(88));
        var mean = other.Model.Templates.Values.Single().Properties.Single(p => p.Code == "Mean").Id;
        other.Do(b => new SaveProperty(
            b["Kiln"],
            mean,
            "Mean",
            "Mean",
            PropertyKind.Calculated,
            PropertyType.Number,
            new()
            {
                Unit = "CEL",
                Range = new(0, 240),
                Formula = formula,
            }
        ));
        var (from, to) = (Planner.Compile(plant.Model).Plan, Planner.Compile(other.Model).Plan);
        CountKept.Of(from, to, plant["KLN1"], mean).ShouldBe(goesOn);
        CountKept.Of(from, to, plant["KLN1"], plant["AirOn"]).ShouldBeNull("a tag counts nothing");
    }

    private static void Same(PointValue one, PointValue other)
    {
        if (!one.Status.IsBad || !other.Status.IsBad)
            one.Value.ShouldBe(other.Value, 1e-9);
        one.Status.ShouldBe(other.Status);
        one.Exceeded.ShouldBe(other.Exceeded);
    }
}
