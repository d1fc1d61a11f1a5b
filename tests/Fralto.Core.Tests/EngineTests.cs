using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class EngineTests
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private readonly PlantBuilder _plant = PlantBuilder.Kiln(
        (LimitCondition.HighHigh, 95, 1.5, 1),
        (LimitCondition.High, 88, 1.5, 2),
        (LimitCondition.Low, 48, 1, 3),
        (LimitCondition.LowLow, 40, 2, 2)
    );
    private readonly PlantEngine _engine;

    public EngineTests() => _engine = new PlantEngine(Planner.Compile(_plant.Model).Plan);

    private PointValue Value => _engine.ValueOf(0);

    [Fact]
    public void Before_the_first_reading_a_value_is_bad_and_says_it_waits()
    {
        Value.Status.ShouldBe(StatusCode.BadWaitingForInitialData);
        Value.Reason!.ShouldContain("waiting");
        double.IsNaN(Value.Value).ShouldBeTrue();
    }

    [Fact]
    public void A_raw_reading_becomes_a_value_in_its_unit()
    {
        Read(32767 / 2.0);
        Value.Value.ShouldBe(60, 1e-9);
        Value.Status.ShouldBe(StatusCode.Good);
        Value.Time.ShouldBe(Noon.AddSeconds(1));
        _engine.Plan.Points[0].Path.ShouldBe("Corvane/Quay/KLN1/AirOn");
    }

    [Fact]
    [Trait("source", "ANSI/ISA-18.2-2016: a high alarm with deadband d clears below setpoint - d")]
    public void A_high_alarm_raises_at_its_setpoint_and_clears_below_the_deadband()
    {
        ReadCelsius(87.9);
        _engine.Output.Events.ShouldBeEmpty();
        ReadCelsius(88);
        _engine
            .Output.Events.Single()
            .ShouldSatisfyAllConditions(
                e => e.Key.Condition.ShouldBe(LimitCondition.High),
                e => e.State.ShouldBe(AlarmState.Unacknowledged),
                e => e.Priority.ShouldBe(2),
                e => e.Value.ShouldBe(88, 1e-9)
            );
        ReadCelsius(86.6);
        _engine.Alarms.Single().IsActive.ShouldBeTrue();
        ReadCelsius(86.4);
        _engine.Alarms.Single().State.ShouldBe(AlarmState.ReturnedUnacknowledged);
        _engine.Acknowledge(_engine.Alarms.Single().Key, "ada", Noon).ShouldBeTrue();
        _engine.Alarms.ShouldBeEmpty();
        _engine
            .Output.Events.Select(e => e.State)
            .ShouldBe([AlarmState.Unacknowledged, AlarmState.ReturnedUnacknowledged, AlarmState.Normal]);
        _engine.Output.Events[^1].Who.ShouldBe("ada");
    }

    [Fact]
    public void A_low_alarm_clears_above_the_deadband()
    {
        ReadCelsius(60, 48, 48.9);
        _engine.Alarms.Single().Key.Condition.ShouldBe(LimitCondition.Low);
        _engine.Acknowledge(_engine.Alarms.Single().Key, "ada", Noon);
        ReadCelsius(49.1);
        _engine.Alarms.ShouldBeEmpty();
    }

    [Fact]
    public void A_jump_past_both_limits_raises_both()
    {
        ReadCelsius(60, 99);
        _engine.Alarms.Select(a => a.Key.Condition).ShouldBe([LimitCondition.HighHigh, LimitCondition.High], ignoreOrder: true);
    }

    [Fact]
    public void A_value_that_wobbles_inside_the_deadband_raises_one_alarm()
    {
        ReadCelsius(88.1, 87.5, 88.1, 87, 88.5);
        _engine.Output.Events.Count.ShouldBe(1);
    }

    [Fact]
    public void A_bad_reading_keeps_the_last_value_and_the_alarms_and_says_why()
    {
        ReadCelsius(90);
        _engine.Step([new Sample(_plant["TT11"], 0, StatusCode.BadTimeout, Noon.AddSeconds(2).UtcTicks, "no answer within 500 ms")]);
        Value.Status.ShouldBe(StatusCode.BadTimeout);
        Value.Reason.ShouldBe("no answer within 500 ms");
        Value.Value.ShouldBe(90, 1e-9);
        _engine.Alarms.Single().IsActive.ShouldBeTrue();
    }

    [Theory]
    [InlineData(double.NaN)]
    [InlineData(double.PositiveInfinity)]
    public void Not_a_number_from_a_device_never_reaches_the_scale(double raw)
    {
        ReadCelsius(60);
        Read(raw);
        Value.Status.ShouldBe(StatusCode.BadSensorFailure);
        Value.Reason!.ShouldContain("not-a-number");
        Value.Value.ShouldBe(60, 1e-9);
    }

    [Fact]
    public void A_value_beyond_its_range_is_kept_and_uncertain()
    {
        ReadCelsius(121);
        Value.Value.ShouldBe(121, 1e-6);
        Value.Status.ShouldBe(StatusCode.UncertainEngineeringUnitsExceeded);
        Value.Reason.ShouldBe("100.8 % of the signal 0…32767");
    }

    [Fact]
    [Trait("source", "common practice, no source: stale after three update intervals")]
    public void Without_an_update_for_three_intervals_a_value_is_stale()
    {
        ReadCelsius(60);
        _engine.Advance(Noon.AddSeconds(2.4));
        Value.Status.IsGood.ShouldBeTrue();
        _engine.Advance(Noon.AddSeconds(2.7));
        Value.Status.ShouldBe(StatusCode.BadNoCommunication);
        Value.Reason!.ShouldContain("stale");
        ReadCelsius(61);
        Value.Status.IsGood.ShouldBeTrue();
    }

    [Fact]
    public void An_engine_that_was_held_up_blames_no_device()
    {
        ReadCelsius(60);
        _engine.Advance(Noon.AddSeconds(0.3));
        _engine.Advance(Noon.AddSeconds(30));
        Value.Status.IsGood.ShouldBeTrue("thirty seconds nobody looked; the sample may be waiting");
        _engine.Advance(Noon.AddSeconds(30.5));
        for (var i = 1; i <= 6; i++)
            _engine.Advance(Noon.AddSeconds(30.5 + i * 0.5));
        Value.Status.ShouldBe(StatusCode.BadNoCommunication, "but after three intervals it is stale all the same");
    }

    [Fact]
    public void A_clock_put_back_or_forward_makes_nothing_stale_by_itself_and_keeps_nothing_alive_for_ever()
    {
        ReadCelsius(60);
        Moment Later(double seconds, double hours) =>
            new(Noon.AddSeconds(1 + seconds).UtcTicks, Noon.AddHours(hours).AddSeconds(1 + seconds).UtcTicks);
        _engine.Advance(Later(0.2, 0));
        _engine.Advance(Later(0.4, 1));
        Value.Status.IsGood.ShouldBeTrue("an hour forward");
        _engine.Advance(Later(0.6, -1));
        Value.Status.IsGood.ShouldBeTrue("two hours back");
        for (var i = 1; i <= 8; i++)
            _engine.Advance(Later(0.6 + i * 0.5, -1));
        Value.Status.ShouldBe(StatusCode.BadNoCommunication, "no update for four seconds, whatever the clock on the wall says");
    }

    [Fact]
    public void Changes_are_counted_and_repetitions_are_not()
    {
        ReadCelsius(60);
        ReadCelsius(60);
        ReadCelsius(61);
        _engine.ReadingOf(0).Changes.ShouldBe(2);
    }

    [Fact]
    public void A_new_plan_keeps_values_and_alarms_of_what_stays()
    {
        ReadCelsius(90);
        _engine.Acknowledge(_engine.Alarms.Single().Key, "ada", Noon);
        _engine.Output.Events.Clear();
        _plant.Do(b => new SaveEquipment(null, "KLN0", "Kiln 0", EquipmentLevel.Unit, b["Quay"], b["Kiln"]));
        _plant.Do(b => new SaveEquipment(b["KLN1"], "K1", "Kiln one", EquipmentLevel.Unit, b["Quay"], b["Kiln"]));
        Swap();
        _engine.Output.Events.ShouldBeEmpty();
        _engine.Alarms.Single().State.ShouldBe(AlarmState.Acknowledged);
        Value.Value.ShouldBe(90, 1e-9);
        _engine.Plan.Points[0].Path.ShouldBe("Corvane/Quay/K1/AirOn");
    }

    [Fact]
    public void A_moved_limit_raises_or_clears_at_once()
    {
        ReadCelsius(90);
        ChangeLimits((LimitCondition.High, 100, 1.5, 2));
        _engine.Alarms.Single().State.ShouldBe(AlarmState.ReturnedUnacknowledged);
        ChangeLimits((LimitCondition.High, 85, 1.5, 1));
        _engine.Alarms.Single().State.ShouldBe(AlarmState.Unacknowledged);
        _engine.Output.Events[^1].Priority.ShouldBe(1);
    }

    [Fact]
    public void An_alarm_goes_with_its_limit()
    {
        ReadCelsius(90);
        ChangeLimits();
        _engine.Alarms.ShouldBeEmpty();
        _engine.Output.Events[^1].State.ShouldBe(AlarmState.Normal);
    }

    [Fact]
    public void A_property_bound_anew_does_not_show_the_old_tags_value()
    {
        ReadCelsius(90);
        _plant.Do(
            b => new SaveTag(null, b["plc"], "TT99", Modbus.RegisterArea.InputRegister, 9, RawType.Int16, WordOrder.HighFirst, ""),
            "TT99"
        );
        _plant.Do(b => new Bind(b["KLN1"], b["AirOn"], b["TT99"]));
        Swap();
        double.IsNaN(Value.Value).ShouldBeTrue();
        Value.Status.ShouldBe(StatusCode.BadWaitingForInitialData);
    }

    [Fact]
    public void A_tag_read_another_way_waits_for_its_first_reading_and_one_renamed_does_not()
    {
        ReadCelsius(60, 90);
        _engine.ReadingOf(0).Magnitudes.ShouldBe(new((float)RawOf(60), (float)RawOf(90)));
        var tag = _plant.Model.Tags[_plant["TT11"]];
        void Save(string name, RawType type) =>
            _plant.Do(b => new SaveTag(
                tag.Id,
                tag.ControllerId,
                name,
                tag.Register!.Area,
                tag.Register!.Offset,
                type,
                tag.WordOrder,
                "another text"
            ));
        Save("TT11_NEW", tag.Type);
        Swap();
        Value.Value.ShouldBe(90, 1e-9);
        Save("TT11_NEW", RawType.UInt16);
        Swap();
        (Value.Status, double.IsNaN(Value.Value), _engine.ReadingOf(0).Magnitudes).ShouldBe(
            (StatusCode.BadWaitingForInitialData, true, Magnitudes.None)
        );
        _engine.Alarms.Single().IsActive.ShouldBeTrue();
        ReadCelsius(60);
        _engine.Alarms.Single().State.ShouldBe(AlarmState.ReturnedUnacknowledged);
    }

    /// <summary>The smallest and the largest of what was read, against the same over the whole list.</summary>
    [Fact]
    public void Magnitudes_are_those_of_all_that_was_read()
    {
        var random = new Random(5);
        for (var round = 0; round < 200; round++)
        {
            var raws = Enumerable
                .Range(0, random.Next(1, 30))
                .Select(_ => random.Next(4) == 0 ? 0 : (random.Next(2) * 2 - 1) * Math.Pow(10, random.Next(-300, 300)))
                .ToArray();
            var been = raws.Aggregate(Magnitudes.None, (m, raw) => m.With(raw));
            var sizes = raws.Where(r => r != 0).Select(r => Math.Max((float)Math.Abs(r), float.Epsilon)).ToArray();
            been.ShouldBe(sizes.Length == 0 ? Magnitudes.None : new(sizes.Min(), sizes.Max()));
        }
    }

    /// <summary>A dead device is asked again and again; no failed attempt makes the value it last gave any younger.</summary>
    [Fact]
    public void The_age_of_a_value_counts_from_when_it_was_read_however_often_its_device_fails_since()
    {
        ReadCelsius(60);
        var read = Value.Time;
        for (var i = 1; i <= 20; i++)
            _engine.Step([
                new Sample(_plant["TT11"], double.NaN, StatusCode.BadNotConnected, Noon.AddSeconds(i * 5).UtcTicks, "connection refused"),
            ]);
        var reading = _engine.ReadingOf(_engine.Plan.TagIndexOf(_plant["TT11"]));
        reading.Status.IsBad.ShouldBeTrue();
        reading.ReadAt.ShouldBe(read);
        Value.ReadAt.ShouldBe(read);
        Value.Value.ShouldBe(60, 0.01);
    }

    [Fact]
    public void A_limit_is_watched_while_its_value_is_not_bad()
    {
        LimitWatch Watch() => LimitWatch.Of(_engine.Plan, i => _engine.ValueOf(i).Status.IsBad);
        var limits = _engine.Plan.Points.Sum(p => p.Limits.Length);
        limits.ShouldBeGreaterThan(0);
        (Watch().Total, Watch().Watched).ShouldBe((limits, 0));
        Watch().Unwatched.ShouldBe(new Dictionary<long, int> { [_plant["plc"]] = limits });
        ReadCelsius(60);
        (Watch().Total, Watch().Watched, Watch().Unwatched.Count).ShouldBe((limits, limits, 0));
        _engine.Step([new Sample(_plant["TT11"], double.NaN, StatusCode.BadNotConnected, Noon.AddSeconds(5).UtcTicks, "gone")]);
        Watch().Watched.ShouldBe(0);
    }

    [Fact]
    public void A_limit_that_is_taken_away_does_not_return_to_normal_and_says_so_also_after_a_restart()
    {
        ReadCelsius(90);
        var kept = _engine.Alarms.ToArray();
        kept.ShouldNotBeEmpty();
        ChangeLimits();
        _engine.Output.Events[^1].Cause.ShouldBe(AlarmCause.NoLongerWatched);
        // Taken away between the last keeping and the stop: the next run is told of alarms whose limits it does not know.
        var next = new PlantEngine(_engine.Plan);
        next.Restore(kept, Noon);
        next.Alarms.ShouldBeEmpty();
        next.Output.Events.Select(e => (e.Key, e.Cause, e.State))
            .ShouldBe(kept.Select(a => (a.Key, AlarmCause.NoLongerWatched, AlarmState.Normal)), ignoreOrder: true);
    }

    [Fact]
    public void Restored_alarms_are_neither_forgotten_nor_raised_again()
    {
        ReadCelsius(90);
        var next = new PlantEngine(_engine.Plan);
        next.Restore(_engine.Alarms, Noon);
        next.Step([new Sample(_plant["TT11"], RawOf(89), StatusCode.Good, Noon.UtcTicks)]);
        next.Output.Events.ShouldBeEmpty();
        next.Alarms.Single().RaisedValue.ShouldBe(90, 1e-9);
    }

    [Fact]
    public void The_same_samples_give_the_same_events()
    {
        var random = new Random(7);
        var samples = Enumerable
            .Range(0, 5000)
            .Select(i => new Sample(_plant["TT11"], random.Next(0, 32767), StatusCode.Good, Noon.AddSeconds(i).UtcTicks))
            .ToArray();
        List<AlarmEvent> Run()
        {
            var engine = new PlantEngine(_engine.Plan);
            engine.Step(samples);
            return engine.Output.Events;
        }
        Run().Count.ShouldBeGreaterThan(100);
        Run().ShouldBe(Run());
    }

    [Fact]
    public void The_hot_path_and_the_scale_agree_on_every_number()
    {
        var scale = new LinearScale(new Span(819, 4095), new(-50, 150));
        var setup = new PointSetup(new Chain(null, scale, UnitConversion.None, null), []);
        for (var raw = 819; raw <= 4095; raw++)
            setup.ToEngineering(raw).ShouldBe(scale.ToEngineering(raw));
    }

    private static double RawOf(double celsius) => celsius / 120 * 32767;

    private void Read(double raw) => _engine.Step([new Sample(_plant["TT11"], raw, StatusCode.Good, Noon.AddSeconds(1).UtcTicks)]);

    private void ReadCelsius(params double[] values)
    {
        foreach (var value in values)
            Read(RawOf(value));
    }

    private void ChangeLimits(params (LimitCondition, double, double, int)[] limits)
    {
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            b["AirOn"],
            "AirOn",
            "Air-on temperature",
            PropertyKind.Measured,
            PropertyType.Number,
            PlantBuilder.Celsius(limits)
        ));
        Swap();
    }

    private void Swap() => _engine.Swap(Planner.Compile(_plant.Model).Plan, Noon.AddSeconds(5));
}
