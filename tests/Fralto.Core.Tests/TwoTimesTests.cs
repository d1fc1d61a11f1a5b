using System.Globalization;
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

namespace Fralto.Core.Tests;

/// <summary>The time a source gives and the time of arrival are two times: the first is shown, the second decides.</summary>
public sealed class TwoTimesTests
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);

    [Theory]
    [InlineData(-300)]
    [InlineData(0)]
    [InlineData(300)]
    public void A_device_whose_clock_is_wrong_raises_no_alarm_early_and_is_not_stale(int wrongBy)
    {
        var (engine, tags) = Running(60);
        for (var second = 0.0; second <= 59.5; second += 0.5)
        {
            Read(engine, tags[0], 90, second, Noon.AddSeconds(second + wrongBy));
            engine.Advance(Noon.AddSeconds(second));
            engine.ValueOf(0).Status.IsGood.ShouldBeTrue();
            engine.ValueOf(0).Time.ShouldBe(Noon.AddSeconds(second + wrongBy), "the time of the source is shown as it was told");
        }
        engine.Output.Events.ShouldBeEmpty();
        Read(engine, tags[0], 90, 60, Noon.AddSeconds(60 + wrongBy));
        engine.Advance(Noon.AddSeconds(60));
        engine.Output.Events.Single().Time.ShouldBe(Noon.AddSeconds(60), "dated by our own clock");
    }

    [Fact]
    public void What_is_due_first_comes_first_however_long_its_delay_is()
    {
        var (engine, tags) = Running(60, 30);
        Read(engine, tags[0], 90, 0);
        Read(engine, tags[1], 90, 10);
        engine.Advance(Noon.AddSeconds(40));
        engine
            .Output.Events.Single()
            .ShouldSatisfyAllConditions(e => e.Path.ShouldContain("/U2/"), e => e.Time.ShouldBe(Noon.AddSeconds(40)));
        engine.Advance(Noon.AddSeconds(60));
        engine.Output.Events.Count.ShouldBe(2);
    }

    [Fact]
    public void A_sample_stamped_ahead_lets_no_other_tags_delay_pass()
    {
        var (engine, tags) = Running(60, 30);
        Read(engine, tags[0], 90, 0);
        Read(engine, tags[1], 20, 1, Noon.AddHours(1));
        engine.Advance(Noon.AddSeconds(2));
        engine.Output.Events.ShouldBeEmpty();
    }

    [Fact]
    public void No_delay_passes_while_what_would_end_it_waits_to_be_taken()
    {
        var (engine, tags) = Running(60);
        Read(engine, tags[0], 90, 0);
        engine.Advance(Moment.At(Noon.AddSeconds(61)), takenUntil: Noon.AddSeconds(59).UtcTicks);
        engine.Output.Events.ShouldBeEmpty();
        Read(engine, tags[0], 20, 59);
        engine.Advance(Noon.AddSeconds(62));
        engine.Output.Events.ShouldBeEmpty();
    }

    [Fact]
    public void A_clock_that_is_set_moves_no_delay()
    {
        var (engine, tags) = Running(60);
        Read(engine, tags[0], 90, 0);
        engine.Advance(new Moment(Noon.AddSeconds(30).UtcTicks, Noon.AddHours(2).UtcTicks));
        engine.Output.Events.ShouldBeEmpty();
        engine.Advance(new Moment(Noon.AddSeconds(61).UtcTicks, Noon.AddHours(2).AddSeconds(31).UtcTicks));
        engine.Output.Events.Single().Time.ShouldBe(Noon.AddHours(2).AddSeconds(30), "dated as the clock on the wall stands now");
    }

    /// <summary>Against a reference that looks at every tenth of a second whether the value has been beyond its limit for as long as the
    /// delay.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void Random_crossings_of_many_limits_with_many_delays_are_alarms_when_they_have_lasted(int seed)
    {
        var random = new Random(seed);
        double[] delays = [.. Enumerable.Range(0, 12).Select(_ => random.Next(4) == 0 ? 0 : random.Next(0, 40) / 10.0 + 0.05)];
        var (engine, tags) = Running(delays);
        var expected = new List<(int Tag, double Second, bool Raised)>();
        var (beyond, since, alarmed) = (new bool[tags.Length], new double[tags.Length], new bool[tags.Length]);
        for (var tenth = 0; tenth < 600; tenth++)
        {
            var now = tenth / 10.0;
            for (var i = 0; i < tags.Length; i++)
            {
                // What was due before this sample came in was an alarm by then.
                if (beyond[i] && !alarmed[i] && now >= since[i] + delays[i] - 1e-9)
                {
                    expected.Add((i, since[i] + delays[i], true));
                    alarmed[i] = true;
                }
            }
            for (var i = 0; i < tags.Length; i++)
            {
                if (random.Next(10) > 0)
                    continue;
                var isBeyond = random.Next(2) == 0;
                Read(engine, tags[i], isBeyond ? 90 : 20, now, Noon.AddSeconds(random.Next(-1000, 1000)));
                if (isBeyond == beyond[i])
                    continue;
                (beyond[i], since[i]) = (isBeyond, now);
                if (!isBeyond && alarmed[i])
                {
                    expected.Add((i, now, false));
                    alarmed[i] = false;
                }
                else if (isBeyond && delays[i] == 0)
                {
                    expected.Add((i, now, true));
                    alarmed[i] = true;
                }
            }
            engine.Advance(Noon.AddSeconds(now));
        }
        var found = engine
            .Output.Events.Where(e => e.Cause is AlarmCause.ConditionRaised or AlarmCause.ConditionCleared)
            .Select(e =>
                (
                    int.Parse(e.Path.Split('/')[2][1..], CultureInfo.InvariantCulture) - 1,
                    Math.Round((e.Time - Noon).TotalSeconds, 2),
                    e.Cause == AlarmCause.ConditionRaised
                )
            );
        found.Order().ShouldBe(expected.Select(e => (e.Tag, Math.Round(e.Second, 2), e.Raised)).Order());
    }

    /// <summary>Against a reference that knows when each tag was heard of last: stale when that is longer ago than three intervals, and
    /// within a tenth of a second or two of it.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Tags_that_fall_silent_at_random_are_stale_when_their_time_is_over_and_not_before(int seed)
    {
        var random = new Random(seed);
        // From 0.5 s, where a second is the least, to 40 s, beyond the reach of what looks ahead.
        var interval = new[] { 500, 2_000, 40_000 }[seed - 1];
        var plant = PlantBuilder.Kiln().Do(b => new SaveController(b["plc"], "plc", "127.0.0.1", 502, 1, interval));
        for (var i = 1; i < 40; i++)
        {
            var (name, offset) = ($"S{i}", 100 + i);
            plant.Do(
                b => new SaveTag(null, b["plc"], name, RegisterArea.InputRegister, offset, RawType.Int16, WordOrder.HighFirst, ""),
                name
            );
        }
        var engine = new PlantEngine(Planner.Compile(plant.Model).Plan);
        var (heard, after, slack) = (new double?[engine.Plan.Tags.Length], Math.Max(1, interval * 3 / 1000.0), 0.25);
        for (var tick = 0; tick < 8_000; tick++)
        {
            var now = tick * 0.05;
            for (var i = 0; i < heard.Length; i++)
            {
                if (random.NextDouble() > 0.05 / after)
                    continue;
                // Now and then it says the same again, which is no news and yet a sign of life.
                Read(engine, engine.Plan.Tags[i].TagId, random.Next(2) * 50, now, Noon.AddSeconds(random.Next(-500, 500)));
                heard[i] = now;
            }
            engine.Advance(Noon.AddSeconds(now));
            for (var i = 0; i < heard.Length; i++)
            {
                var (status, age) = (engine.ReadingOf(i).Status, now - heard[i]);
                if (age is null)
                    status.ShouldBe(StatusCode.BadWaitingForInitialData);
                else if (age <= after)
                    status.IsGood.ShouldBeTrue($"{age} s silent, {after} s allowed");
                else if (age > after + slack)
                    status.ShouldBe(StatusCode.BadNoCommunication, $"{age} s silent, {after} s allowed");
            }
        }
        engine.Output.Tags.Count.ShouldBe(heard.Count(h => h is not null));
    }

    internal static void Read(PlantEngine engine, long tag, double celsius, double second, DateTimeOffset? source = null) =>
        engine.Step(
            [new Sample(tag, celsius / 120 * 32767, StatusCode.Good, (source ?? Noon.AddSeconds(second)).UtcTicks)],
            Moment.At(Noon.AddSeconds(second))
        );

    /// <summary>A unit for each on-delay, each with a high limit at 88 °C.</summary>
    internal static (PlantEngine Engine, long[] Tags) Running(params double[] onDelays)
    {
        var plant = PlantBuilder.Kiln().Do(b => new SaveController(b["plc"], "plc", "127.0.0.1", 502, 1, 3_600_000));
        for (var i = 0; i < onDelays.Length; i++)
        {
            var (tag, template, property, unit, delay) = ($"T{i + 1}", $"Tp{i + 1}", $"P{i + 1}", $"U{i + 1}", onDelays[i]);
            var offset = 100 + i;
            plant
                .Do(b => new SaveTag(null, b["plc"], tag, RegisterArea.InputRegister, offset, RawType.Int16, WordOrder.HighFirst, ""), tag)
                .Do(new SaveTemplate(null, template, template, null, ""), template)
                .Do(
                    b => new SaveProperty(b[template], null, "AirOn", "Air on", PropertyKind.Measured, PropertyType.Number, Limited(delay)),
                    property
                )
                .Do(b => new SaveEquipment(null, unit, unit, EquipmentLevel.Unit, b["Quay"], b[template]), unit)
                .Do(b => new Bind(b[unit], b[property], b[tag]));
        }
        plant.Do(b => new RemoveEquipment(b["KLN1"]));
        return (new PlantEngine(Planner.Compile(plant.Model).Plan), [.. onDelays.Select((_, i) => plant[$"T{i + 1}"])]);
    }

    private static PropertyPatch Limited(double onDelay)
    {
        var facts = PlantBuilder.Celsius((LimitCondition.High, 88, 1, 2));
        return facts with { Limits = facts.Limits.SetItem(LimitCondition.High, new(88, 1, 2, null, onDelay, 0)) };
    }
}
