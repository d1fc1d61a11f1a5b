using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;

namespace Fralto.Core.Tests;

/// <summary>On-delay and off-delay of limits (ANSI/ISA-18.2-2016: an alarm is raised when its condition has lasted, and clears when it has
/// been gone).</summary>
public sealed class DelayTests
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private readonly PlantBuilder _plant = PlantBuilder.Kiln();
    private PlantEngine _engine = new(Plan.Empty);

    public DelayTests() => Limit(10, 20);

    [Fact]
    public void An_alarm_is_raised_when_the_condition_has_lasted_for_the_on_delay()
    {
        Read(0, 90);
        Read(9, 91);
        _engine.Output.Events.ShouldBeEmpty();
        Read(10, 91);
        _engine.Output.Events.Single().Time.ShouldBe(Noon.AddSeconds(10));
        _engine.ValueOf(0).Exceeds(LimitCondition.High).ShouldBeTrue();
    }

    [Fact]
    public void A_short_excursion_raises_nothing_and_a_short_return_clears_nothing()
    {
        Read(0, 90);
        Read(5, 80);
        Read(30, 80);
        _engine.Output.Events.ShouldBeEmpty();
        Read(40, 90);
        Read(51, 90);
        _engine.Output.Events.Count.ShouldBe(1);
        Read(60, 80);
        Read(70, 90);
        Read(120, 90);
        _engine.Alarms.Single().IsActive.ShouldBeTrue();
        Read(130, 80);
        Read(151, 80);
        _engine.Output.Events.Count.ShouldBe(2);
        _engine.Output.Events[1].Time.ShouldBe(Noon.AddSeconds(150));
        _engine.Output.Events[1].State.ShouldBe(AlarmState.ReturnedUnacknowledged);
    }

    [Fact]
    public void Time_alone_lets_a_delay_pass()
    {
        Read(0, 90);
        _engine.Advance(Noon.AddSeconds(1));
        _engine.Output.Events.ShouldBeEmpty();
        // The tag goes stale after three intervals only when nothing is read; here it is the delay that ends first.
        Read(9.9, 90);
        _engine.Advance(Noon.AddSeconds(10.1));
        _engine.Output.Events.Single().State.ShouldBe(AlarmState.Unacknowledged);
    }

    [Fact]
    public void A_bad_value_lets_the_delay_begin_anew()
    {
        Read(0, 90);
        _engine.Step([new Sample(_plant["TT11"], double.NaN, StatusCode.BadTimeout, Noon.AddSeconds(5).UtcTicks, "gone")]);
        Read(12, 90);
        _engine.Output.Events.ShouldBeEmpty();
        Read(21.9, 90);
        _engine.Output.Events.ShouldBeEmpty();
        Read(22, 90);
        _engine.Output.Events.Single().Time.ShouldBe(Noon.AddSeconds(22));
    }

    [Fact]
    public void A_running_delay_goes_on_over_a_change_of_plan_and_begins_anew_with_another_limit()
    {
        Read(0, 90);
        _engine.Swap(Planner.Compile(_plant.Model).Plan, Noon.AddSeconds(5));
        Read(10, 90);
        _engine.Output.Events.Count.ShouldBe(1);
        Read(20, 60);
        Read(45, 60);
        _engine.Output.Events.Clear();
        Read(50, 90);
        Change(30, 20);
        _engine.Swap(Planner.Compile(_plant.Model).Plan, Noon.AddSeconds(55));
        Read(61, 90);
        _engine.Output.Events.ShouldBeEmpty();
    }

    [Theory]
    [InlineData(-1)]
    [InlineData(100_000)]
    [InlineData(double.NaN)]
    public void A_delay_is_0_to_a_day(double delay) =>
        _plant.Refused(b => Save(b, delay, 0)).ShouldContain(p => p.Field == "HighOnDelay" && p.Message.Contains("0 to 86400 s"));

    private static SaveProperty Save(PlantBuilder b, double on, double off)
    {
        var facts = PlantBuilder.Celsius((LimitCondition.High, 88, 1, 2));
        return new(
            b["Kiln"],
            b["AirOn"],
            "AirOn",
            "Air-on temperature",
            PropertyKind.Measured,
            PropertyType.Number,
            facts with
            {
                Limits = facts.Limits.SetItem(LimitCondition.High, new(88, 1, 2, null, on, off)),
            }
        );
    }

    private void Change(double on, double off) => _plant.Do(b => Save(b, on, off));

    private void Limit(double on, double off)
    {
        Change(on, off);
        _engine = new PlantEngine(Planner.Compile(_plant.Model).Plan);
    }

    private void Read(double second, double celsius)
    {
        _engine.Step(new Sample(_plant["TT11"], celsius / 120 * 32767, StatusCode.Good, Noon.AddSeconds(second).UtcTicks));
        _engine.Advance(Noon.AddSeconds(second));
    }
}
