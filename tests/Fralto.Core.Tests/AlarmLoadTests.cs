using Fralto.Core.Alarms;
using Fralto.Core.Diagnosis;
using Fralto.Core.Limits;

namespace Fralto.Core.Tests;

[Trait("source", "ANSI/ISA-18.2-2016 clause 16 and IEC 62682 (measures), EEMUA 191 edition 3 (rating); figures from memory")]
public sealed class AlarmLoadTests
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);

    private static AlarmEvent Raised(double seconds, int alarm = 1, int priority = 3, AlarmState state = AlarmState.Unacknowledged) =>
        new(new(alarm, 2, LimitCondition.High), Noon.AddSeconds(seconds), state, AlarmCause.ConditionRaised, 1, $"P{alarm}", priority)
        {
            Limit = "H",
        };

    private static AlarmEvent Cleared(double seconds, int alarm = 1) =>
        new(
            new(alarm, 2, LimitCondition.High),
            Noon.AddSeconds(seconds),
            AlarmState.ReturnedUnacknowledged,
            AlarmCause.ConditionCleared,
            1,
            $"P{alarm}",
            3
        );

    private static AlarmLoad Of(IEnumerable<AlarmEvent> events, double hours = 24, params Alarm[] standing) =>
        AlarmLoad.Of(events, standing, Noon, Noon.AddHours(hours));

    private static LoadMeasure Measure(AlarmLoad load, string name) => load.Measures.Single(m => m.Name == name);

    [Fact]
    public void A_quiet_day_meets_every_measure()
    {
        var load = Of([]);
        (load.Total, load.Floods.Length, load.Verdict, load.Rating).ShouldBe((0, 0, LoadVerdict.Met, "very likely acceptable"));
        load.Cells.Length.ShouldBe(144);
        load.Measures.ShouldAllBe(m => m.Value == 0);
    }

    [Theory]
    [InlineData(144, LoadVerdict.Met)]
    [InlineData(145, LoadVerdict.Manageable)]
    [InlineData(288, LoadVerdict.Manageable)]
    [InlineData(289, LoadVerdict.NotMet)]
    public void The_averages_are_judged_by_the_table_of_the_standard(int alarms, LoadVerdict verdict)
    {
        var load = Of(Enumerable.Range(0, alarms).Select(i => Raised(i * 86400.0 / alarms, i)));
        foreach (var name in new[] { "In 10 min, average", "In an hour, average", "In a day, average" })
            Measure(load, name).Verdict.ShouldBe(verdict, name);
        Measure(load, "In a day, average").Value.ShouldBe(alarms, 1e-9);
        Measure(load, "In 10 min, average").Value.ShouldBe(alarms / 144.0, 1e-9);
    }

    [Theory]
    [InlineData(0.9, "very likely unacceptable")]
    [InlineData(2, "likely over-demanding")]
    [InlineData(5, "manageable")]
    [InlineData(11, "very likely acceptable")]
    public void The_rating_goes_by_the_minutes_between_two_alarms(double minutes, string rating)
    {
        var count = (int)(24 * 60 / minutes);
        Of(Enumerable.Range(0, count).Select(i => Raised(i * 86400.0 / count, i))).Rating.ShouldBe(rating);
    }

    [Fact]
    public void A_flood_begins_with_more_than_ten_in_ten_minutes_and_ends_when_fewer_than_five_are_left()
    {
        // Eleven, one each 30 s from 1 h on: the eleventh makes it a flood. The seventh of them is 10 min old at 1:13:00, when four are
        // left.
        var load = Of(Enumerable.Range(0, 11).Select(i => Raised(3600 + 30 * i, i)));
        var flood = load.Floods.Single();
        (flood.Begin, flood.End, flood.Alarms, flood.Most, flood.FirstPath).ShouldBe(
            (Noon.AddSeconds(3600), Noon.AddSeconds(3600 + 180 + 600), 11, 11, "P0")
        );
        Measure(load, "Most in 10 min").Verdict.ShouldBe(LoadVerdict.NotMet);
        Measure(load, "Time in flood").Value.ShouldBe(100 * 780.0 / 86400, 1e-9);
        Of(Enumerable.Range(0, 10).Select(i => Raised(3600 + 30 * i, i))).Floods.ShouldBeEmpty();
        // One that goes on to the end of what is looked at ends there.
        Of(Enumerable.Range(0, 30).Select(i => Raised(3600 - 30 * (30 - i), i)), 1).Floods.Single().End.ShouldBe(Noon.AddHours(1));
    }

    [Fact]
    public void Floods_are_those_of_a_count_at_every_second()
    {
        for (var seed = 0; seed < 20; seed++)
        {
            var random = new Random(seed);
            var times = new List<int>();
            for (var t = 0; t < 14_000; t += 1 + random.Next(random.Next(3) == 0 ? 30 : 200))
                times.Add(t);
            var load = Of(times.Select((t, i) => Raised(t, i)), 4);
            // Brute force: at each second count the last ten minutes.
            var (isFlood, seconds, began) = (false, 0, 0);
            for (var t = 0; t < 4 * 3600; t++)
            {
                var count = times.Count(x => x <= t && x > t - 600);
                if (!isFlood && count > 10)
                    (isFlood, began) = (true, times.First(x => x > t - 600));
                else if (isFlood && count < 5)
                {
                    isFlood = false;
                    seconds += t - began;
                }
            }
            if (isFlood)
                seconds += 4 * 3600 - began;
            load.Floods.Sum(f => (f.End - f.Begin).TotalSeconds).ShouldBe(seconds, 1e-6, $"seed {seed}");
            Measure(load, "Most in 10 min").Value.ShouldBe(times.Max(t => times.Count(x => x <= t && x > t - 600)));
        }
    }

    [Fact]
    public void The_most_frequent_are_named_with_their_share_and_how_they_come()
    {
        var load = Of([
            // Three within 60 s chatter.
            Raised(100, 1),
            Raised(130, 1),
            Raised(160, 1),
            // Gone by itself within a minute, two times of three.
            Raised(1000, 2),
            Cleared(1010, 2),
            Raised(3000, 2),
            Cleared(3010, 2),
            Raised(5000, 2),
            Cleared(5600, 2),
            Raised(2000, 3),
            Raised(9000, 3),
            Raised(4000, 4, 1),
            // What is shelved is not before the operator.
            Raised(6000, 5, 1, AlarmState.Shelved),
        ]);
        load.Total.ShouldBe(9);
        load.Frequent.Select(f => (f.Path, f.Count, f.Nature))
            .ShouldBe([
                ("P1", 3, AlarmNature.Chattering),
                ("P2", 3, AlarmNature.Fleeting),
                ("P3", 2, AlarmNature.Repeating),
                ("P4", 1, AlarmNature.Once),
            ]);
        load.Frequent[0].Share.ShouldBe(100.0 / 3, 1e-9);
        Measure(load, "Chattering or fleeting").Value.ShouldBe(2);
        load.ByPriority.ShouldBe([1, 0, 8, 0]);
    }

    [Fact]
    public void What_stands_for_more_than_a_day_is_said()
    {
        Alarm Standing(double hours, AlarmState state) =>
            new(new(1, 2, LimitCondition.High), state, Noon.AddHours(24 - hours), 1) { IsTrue = true };
        var load = Of(
            [],
            24,
            Standing(25, AlarmState.Acknowledged),
            Standing(23, AlarmState.Unacknowledged),
            Standing(99, AlarmState.Shelved)
        );
        load.Standing.Single().RaisedAt.ShouldBe(Noon.AddHours(-1));
    }
}
