using CsCheck;
using Fralto.Core.Formulas;
using Fralto.Core.Quality;

namespace Fralto.Core.Tests;

/// <summary>What formulas keep of what has been, against a reference that looks at all samples anew each time.</summary>
public class OverTimeTests
{
    private const long Second = TimeSpan.TicksPerSecond;

    // A Monday, at the full hour, so that panes begin with it.
    private static readonly long Begin = new DateTime(2026, 6, 1, 6, 0, 0, DateTimeKind.Utc).Ticks;

    /// <summary>A signal: from each time on, the value; not-a-number while it is Bad. Times in tenths of seconds from the
    /// beginning.</summary>
    private static readonly Gen<(long At, double Value)[]> Signals = Gen.Select(
            Gen.Long[0, 3000],
            Gen.OneOf(Gen.Double[-50, 50], Gen.Double[-50, 50], Gen.Const(0d), Gen.Const(double.NaN), Gen.Int[0, 1].Select(i => (double)i))
        )
        .Array[1, 40]
        .Select(all => all.OrderBy(s => s.Item1).DistinctBy(s => s.Item1).ToArray());

    private static TimeUse Use(OverTimeKind kind, double window = 0, double pane = 0, bool sloped = false) =>
        new(
            kind,
            0,
            -1,
            -1,
            -1,
            (long)(window * Second),
            (long)(pane * Second),
            null,
            null,
            null,
            kind == OverTimeKind.Filter ? 30 : 1,
            sloped,
            ""
        );

    private static FormulaValue Value(double value) =>
        double.IsNaN(value) ? new(double.NaN, StatusCode.BadSensorFailure, 0) : FormulaValue.Good(value);

    private static OverTimeMoment At(long tenths) => new(Begin + tenths * Second / 10, Begin + tenths * Second / 10, PlantCalendar.Utc);

    /// <summary>Stretches of constant value between two times, in seconds.</summary>
    private static List<(double Seconds, double Value)> Between((long At, double Value)[] signal, long from, long to)
    {
        var pieces = new List<(double, double)>();
        for (var i = 0; i < signal.Length; i++)
        {
            var (begin, end) = (Math.Max(from, signal[i].At), Math.Min(to, i + 1 < signal.Length ? signal[i + 1].At : long.MaxValue));
            if (end > begin && !double.IsNaN(signal[i].Value))
                pieces.Add(((end - begin) / 10d, signal[i].Value));
        }
        return pieces;
    }

    private static double StartsIn((long At, double Value)[] signal, long from, long to)
    {
        var (starts, seen) = (0, double.NaN);
        foreach (var (at, value) in signal)
        {
            if (double.IsNaN(value))
                continue;
            if (seen == 0 && value != 0 && at >= from && at < to)
                starts++;
            seen = value;
        }
        return starts;
    }

    [Theory]
    [InlineData(OverTimeKind.Mean)]
    [InlineData(OverTimeKind.Minimum)]
    [InlineData(OverTimeKind.Maximum)]
    [InlineData(OverTimeKind.Range)]
    [InlineData(OverTimeKind.Deviation)]
    [InlineData(OverTimeKind.Total)]
    [InlineData(OverTimeKind.Time)]
    [InlineData(OverTimeKind.Starts)]
    public void A_window_gives_what_all_samples_give(OverTimeKind kind) =>
        Gen.Select(Signals, Gen.Int[1, 12], Gen.Int[1, 20], Gen.Long[3000, 4000])
            .Sample(
                (signal, panes, pane, end) =>
                {
                    var state = OverTimeState.For(Use(kind, panes * pane, pane));
                    state.Take(Value(double.NaN), null, null, 0, At(0));
                    foreach (var (at, value) in signal)
                        state.Take(Value(value), null, null, 0, At(at));
                    state.Take(Value(signal[^1].Value), null, null, 0, At(end));
                    // The last boundary: steps are counted on the clock.
                    var step = pane * 10L;
                    var begun = Begin / (Second / 10);
                    var boundary = (begun + end) / step * step - begun;
                    var from = Math.Max(0, boundary - panes * step);
                    var pieces = Between(signal, from, boundary);
                    var covered = pieces.Sum(p => p.Seconds);
                    var starts = StartsIn(signal, from, boundary);
                    if (covered == 0 && !(kind == OverTimeKind.Starts && starts > 0))
                    {
                        state.Result.Status.ShouldBe(StatusCode.BadNoData);
                        return;
                    }
                    var mean = pieces.Sum(p => p.Seconds * p.Value) / covered;
                    var wanted = kind switch
                    {
                        OverTimeKind.Mean => mean,
                        OverTimeKind.Minimum => pieces.Min(p => p.Value),
                        OverTimeKind.Maximum => pieces.Max(p => p.Value),
                        OverTimeKind.Range => pieces.Max(p => p.Value) - pieces.Min(p => p.Value),
                        OverTimeKind.Deviation => Math.Sqrt(pieces.Sum(p => p.Seconds * (p.Value - mean) * (p.Value - mean)) / covered),
                        OverTimeKind.Total => pieces.Sum(p => p.Seconds * p.Value),
                        OverTimeKind.Time => pieces.Where(p => p.Value != 0).Sum(p => p.Seconds),
                        _ => starts,
                    };
                    state.Result.Value.ShouldBe(wanted, 1e-4 + Math.Abs(wanted) * 1e-5);
                    state.Covered.ShouldBe(covered / (panes * pane), 1e-4);
                    state.Result.Status.IsGood.ShouldBe(covered >= panes * pane - 1e-3);
                },
                iter: 300
            );

    [Fact]
    public void A_counter_gives_what_all_samples_give_and_Bad_neither_counts_nor_resets() =>
        Gen.Select(Signals, Gen.Long[3000, 4000])
            .Sample(
                (signal, end) =>
                {
                    foreach (var kind in new[] { OverTimeKind.Total, OverTimeKind.Time, OverTimeKind.Starts })
                    {
                        var state = OverTimeState.For(Use(kind));
                        foreach (var (at, value) in signal)
                            state.Take(Value(value), null, null, 0, At(at));
                        state.Take(Value(signal[^1].Value), null, null, 0, At(end));
                        var pieces = Between(signal, 0, end);
                        var wanted = kind switch
                        {
                            OverTimeKind.Total => pieces.Sum(p => p.Seconds * p.Value),
                            OverTimeKind.Time => pieces.Where(p => p.Value != 0).Sum(p => p.Seconds),
                            _ => StartsIn(signal, 0, end),
                        };
                        if (signal.All(s => double.IsNaN(s.Value)))
                        {
                            state.Result.Status.ShouldBe(StatusCode.BadNoData);
                            continue;
                        }
                        state.Result.Value.ShouldBe(wanted, 1e-6 + Math.Abs(wanted) * 1e-9);
                        state.Result.Status.IsGood.ShouldBe(!double.IsNaN(signal[^1].Value));
                    }
                },
                iter: 300
            );

    [Fact]
    public void What_was_kept_goes_on_after_a_restart_as_if_nothing_had_been() =>
        Gen.Select(Signals, Gen.Int[0, 39], Gen.Enum<OverTimeKind>())
            .Sample(
                (signal, cut, kind) =>
                {
                    var use = kind
                        is OverTimeKind.Total
                            or OverTimeKind.Starts
                            or OverTimeKind.Time
                            or OverTimeKind.Held
                            or OverTimeKind.Value
                            or OverTimeKind.Filter
                        ? Use(kind)
                        : Use(kind, 60, 5);
                    var (whole, broken) = (OverTimeState.For(use), OverTimeState.For(use));
                    for (var i = 0; i < signal.Length; i++)
                    {
                        var (at, value) = signal[i];
                        FormulaValue? when = FormulaValue.Good(i % 2);
                        whole.Take(Value(value), null, when, 0, At(at));
                        broken.Take(Value(value), null, when, 0, At(at));
                        if (i != cut)
                            continue;
                        using var memory = new MemoryStream();
                        using (var writer = new BinaryWriter(memory))
                            broken.Write(writer, At(at));
                        broken = OverTimeState.For(use);
                        using var reader = new BinaryReader(new MemoryStream(memory.ToArray()));
                        // Another run has another engine time.
                        broken.Read(reader, At(at));
                        broken.Take(Value(value), null, when, 0, At(at));
                    }
                    (
                        double.IsNaN(whole.Result.Value)
                            ? double.IsNaN(broken.Result.Value)
                            : Math.Abs(broken.Result.Value - whole.Result.Value) < 1e-9
                    ).ShouldBeTrue();
                    broken.Result.Status.ShouldBe(whole.Result.Status);
                },
                iter: 500
            );

    [Theory]
    // Integrals of known functions over one hour, sampled each second: a line through the samples is exact, a step is half a sample short.
    [InlineData(true, 0.5, 1e-9)]
    [InlineData(false, 0.5, 2e-4)]
    public void A_total_of_a_ramp_is_its_integral(bool sloped, double wanted, double tolerance)
    {
        var state = OverTimeState.For(Use(OverTimeKind.Total, sloped: sloped) with { UnitSeconds = 3600 });
        for (var i = 0; i <= 3600; i++)
            state.Take(Value(i / 3600d), null, null, 0, At(i * 10L));
        state.Result.Value.ShouldBe(wanted, tolerance);
    }

    [Theory]
    // standards.md 10, facts of the trade: 60 m³/h at 0 s and 120 m³/h at 60 s are 1.0 m³ held and 1.5 m³ by trapezoid.
    [InlineData(false, 1.0)]
    [InlineData(true, 1.5)]
    public void A_total_holds_or_draws_a_line(bool sloped, double wanted)
    {
        var state = OverTimeState.For(Use(OverTimeKind.Total, sloped: sloped) with { UnitSeconds = 3600 });
        state.Take(Value(60), null, null, 0, At(0));
        state.Take(Value(120), null, null, 0, At(600));
        state.Result.Value.ShouldBe(wanted, 1e-12);
    }

    /// <summary>What a window gives at the end of each interval of a signal.</summary>
    private static List<(double Value, double Covered)> Intervals(
        OverTimeKind kind,
        int seconds,
        int count,
        (int At, double Value)[] signal
    )
    {
        var begin = Begin - Begin % (seconds * Second);
        OverTimeMoment Time(int at) => new(begin + at * Second, begin + at * Second, PlantCalendar.Utc);
        var state = OverTimeState.For(Use(kind, seconds, seconds));
        var results = new List<(double, double)>();
        var next = 0;
        var held = Value(double.NaN);
        state.Take(in held, null, null, 0, Time(0));
        for (var i = 1; i <= count; i++)
        {
            for (; next < signal.Length && signal[next].At < i * seconds; next++)
            {
                held = Value(signal[next].Value);
                state.Take(in held, null, null, 0, Time(signal[next].At));
            }
            state.Take(in held, null, null, 0, Time(i * seconds));
            results.Add((state.Result.Value, state.Covered * seconds));
        }
        return results;
    }

    // Data set A, all Good, and B with a Bad value at 40 s: the results a stepped signal has by the definitions of OPC UA Part 13,
    // clause 5.4, worked out independently in standards.md 7.3 and 7.4.
    private static readonly (int, double)[] DataA = [(0, 10), (10, 20), (20, 10), (35, 40), (60, 40), (70, 0), (75, 0), (90, 30)];

    private static readonly (int, double)[] DataB =
    [
        (10, 10),
        (20, 20),
        (30, 30),
        (40, double.NaN),
        (50, 50),
        (60, 60),
        (70, 70),
        (80, 80),
        (90, 90),
    ];

    [Theory]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    [InlineData(OverTimeKind.Mean, 60, new[] { 24.166667, 21.666667 })]
    [InlineData(OverTimeKind.Mean, 30, new[] { 13.333333, 35, 13.333333, 30 })]
    [InlineData(OverTimeKind.Total, 60, new[] { 1450d, 1300 })]
    [InlineData(OverTimeKind.Total, 30, new[] { 400d, 1050, 400, 900 })]
    [InlineData(OverTimeKind.Minimum, 30, new[] { 10d, 10, 0, 30 })]
    [InlineData(OverTimeKind.Maximum, 30, new[] { 20d, 40, 40, 30 })]
    [InlineData(OverTimeKind.Range, 30, new[] { 10d, 30, 40, 0 })]
    [InlineData(OverTimeKind.Range, 60, new[] { 30d, 40 })]
    [InlineData(OverTimeKind.Time, 60, new[] { 60d, 40 })]
    [InlineData(OverTimeKind.Time, 30, new[] { 30d, 30, 10, 30 })]
    [InlineData(OverTimeKind.First, 30, new[] { 10d, 10, 40, 30 })]
    public void Windows_over_data_set_A_are_those_of_Part_13(OverTimeKind kind, int seconds, double[] wanted) =>
        Intervals(kind, seconds, wanted.Length, DataA).Select(r => r.Value).ShouldBe(wanted, 1e-5);

    [Fact]
    [Trait("source", "OPC UA Part 13, clause 5.4")]
    public void Windows_over_data_set_B_leave_out_what_is_Bad()
    {
        var means = Intervals(OverTimeKind.Mean, 16, 6, DataB);
        // TimeAverage2: regions that are not Bad. From 48 s to 50 s the value is Bad, so that 10 s of 50 and 4 s of 60 are left.
        means.Select(r => r.Value).ShouldBe([10, 18.75, 30, 740d / 14, 66.25, 83.75], 1e-5);
        means.Select(r => r.Covered).ShouldBe([6, 16, 8, 14, 16, 16], 1e-4);
    }

    [Fact]
    public void A_filter_goes_63_percent_of_the_way_in_one_time_constant()
    {
        var state = OverTimeState.For(Use(OverTimeKind.Filter));
        state.Take(Value(0), null, null, 0, At(0));
        state.Take(Value(10), null, null, 0, At(10));
        state.Take(Value(10), null, null, 0, At(310));
        state.Result.Value.ShouldBe(10 * (1 - Math.Exp(-1)), 1e-9);
    }

    [Fact]
    public void A_rate_is_the_change_over_the_window()
    {
        var state = OverTimeState.For(Use(OverTimeKind.Rate, 60, 5));
        for (var i = 0; i <= 1205; i++)
            state.Take(Value(2 + 0.25 * i / 10), null, null, 0, At(i));
        state.Result.Value.ShouldBe(0.25, 1e-3);
        state.Result.Status.ShouldBe(StatusCode.Good);
    }

    [Fact]
    public void A_value_is_kept_when_something_turns_true_and_held_counts_from_the_last_change()
    {
        var (kept, held) = (OverTimeState.For(Use(OverTimeKind.Value)), OverTimeState.For(Use(OverTimeKind.Held)));
        kept.Take(Value(1), null, FormulaValue.Good(1), 0, At(0));
        kept.Result.Status.ShouldBe(StatusCode.BadNoData, "it was true before anybody looked");
        kept.Take(Value(2), null, FormulaValue.Good(0), 0, At(10));
        kept.Take(Value(3), null, FormulaValue.Good(1), 0, At(20));
        kept.Take(Value(4), null, FormulaValue.Good(1), 0, At(30));
        kept.Result.ShouldBe((3d, StatusCode.Good));
        held.Take(Value(1), null, null, 0, At(0));
        held.Take(Value(2), null, null, 0, At(10));
        held.Take(Value(2), null, null, 0, At(50));
        held.Result.Value.ShouldBe(4, 1e-9);
        held.Take(Value(double.NaN), null, null, 0, At(60));
        held.Take(Value(2), null, null, 0, At(70));
        held.Result.Value.ShouldBe(6, 1e-9, "a value that comes back as it was has not changed");
    }

    [Fact]
    public void Resets_come_when_a_condition_turns_true_each_day_and_at_a_time()
    {
        var state = OverTimeState.For(Use(OverTimeKind.Time));
        state.Take(Value(1), FormulaValue.Good(0), null, 0, At(0));
        state.Take(Value(1), FormulaValue.Good(1), null, 0, At(100));
        state.Take(Value(1), FormulaValue.Good(1), null, 0, At(150));
        state.Result.Value.ShouldBe(5, 1e-9);
        var daily = OverTimeState.For(Use(OverTimeKind.Time) with { Each = CalendarSpan.Day });
        daily.Take(Value(1), null, null, 0, At(0));
        daily.Take(Value(1), null, null, 0, At(19 * 36000));
        daily.Result.Value.ShouldBe(3600, 1e-6, "18 hours until midnight, one since");
        var morning = OverTimeState.For(Use(OverTimeKind.Time) with { ResetAt = new TimeSpan(5, 30, 0) });
        morning.Take(Value(1), null, null, 0, At(0));
        morning.Take(Value(1), null, null, 0, At(24 * 36000));
        morning.Result.Value.ShouldBe(1800, 1e-6);
    }

    [Fact]
    public void A_clock_that_is_set_moves_no_total()
    {
        var state = OverTimeState.For(Use(OverTimeKind.Total));
        state.Take(Value(1), null, null, 0, At(0));
        var back = new OverTimeMoment(Begin + 100 * Second, Begin - 3600 * Second, PlantCalendar.Utc);
        state.Take(Value(1), null, null, 0, back);
        state.Result.Value.ShouldBe(100, 1e-9);
    }

    [Fact]
    public void Days_are_23_and_25_hours_long_when_the_clock_is_set()
    {
        // Europe/Lisbon 2026: forward on 29 March at 01:00 UTC, back on 25 October at 01:00 UTC (IANA time zone database).
        var calendar = new PlantCalendar("Europe/Lisbon", [new("early", new(6, 0)), new("late", new(14, 0)), new("night", new(22, 0))]);
        long Day(int month, int day) => new DateTime(2026, month, day, 12, 0, 0, DateTimeKind.Utc).Ticks;
        double Length(int month, int day)
        {
            var end = calendar.NextAfter(CalendarSpan.Day, Day(month, day));
            var begin = calendar.NextAfter(CalendarSpan.Day, Day(month, day) - TimeSpan.TicksPerDay);
            return TimeSpan.FromTicks(end - begin).TotalHours;
        }
        Length(3, 28).ShouldBe(24);
        Length(3, 29).ShouldBe(23);
        Length(10, 25).ShouldBe(25);
        Length(10, 26).ShouldBe(24);
        // The night shift of the long night has nine hours.
        var night = calendar.NextAfter(CalendarSpan.Shift, new DateTime(2026, 10, 24, 20, 0, 0, DateTimeKind.Utc).Ticks);
        TimeSpan.FromTicks(calendar.NextAfter(CalendarSpan.Shift, night) - night).TotalHours.ShouldBe(9);
        calendar.ShiftAt(night)!.Name.ShouldBe("night");
        // Hours stay hours, also the one that comes twice.
        var hour = new DateTime(2026, 10, 25, 0, 30, 0, DateTimeKind.Utc).Ticks;
        for (var i = 0; i < 4; i++)
        {
            var next = calendar.NextAfter(CalendarSpan.Hour, hour);
            (next - hour).ShouldBeLessThanOrEqualTo(TimeSpan.TicksPerHour);
            next.ShouldBeGreaterThan(hour);
            hour = next;
        }
    }
}
