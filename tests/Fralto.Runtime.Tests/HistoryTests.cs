using System.Collections.Immutable;
using CsCheck;
using Fralto.Core.History;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Core.Units;
using Fralto.Runtime.Recording;
using Fralto.Store;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Time.Testing;

namespace Fralto.Runtime.Tests;

/// <summary>What is recorded, kept, rolled up and read again.</summary>
public sealed class HistoryTests : IDisposable
{
    private const long Second = TimeSpan.TicksPerSecond;
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private static readonly RecordingRule Everything = new(0, 0, true, null, double.NaN, 100, null, 3653, false);

    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-history-").FullName;
    private readonly FakeTimeProvider _clock = new(Noon);
    private PlantStore _store;
    private HistoryRecorder _recorder;
    private History _history;
    private Plan _plan = PlanOf(Everything);

    public HistoryTests()
    {
        (_store, _recorder, _history) = (null!, null!, null!);
        Open();
    }

    public void Dispose()
    {
        _store.Dispose();
        Directory.Delete(_directory, recursive: true);
    }

    [Fact]
    public void What_was_recorded_is_read_again_after_a_restart_and_what_was_not_kept_is_not()
    {
        for (var i = 0; i < 2000; i++)
            Record(i, i % 700 / 10d);
        _recorder.KeepAll();
        Record(2000, 5);
        Read(0, 3000).Count.ShouldBe(2001);
        KillAndOpen();
        var read = Read(0, 3000);
        read.Count.ShouldBe(2000, "the second that was not kept is lost, and nothing else");
        for (var i = 0; i < read.Count; i++)
            read[i].Number.ShouldBe(i % 700 / 10d);
        Record(2001, 7);
        Read(1999, 2001).Select(s => s.Number).ShouldBe([1998 % 700 / 10d, 1999 % 700 / 10d, 7]);
    }

    [Fact]
    public async Task A_past_is_called_kept_when_none_of_it_could_be_lost_any_more()
    {
        var records = Enumerable.Range(0, 10).Select(i => new Recorded(0, Ticks(i), 0, i, i, StatusCode.Good, null, null)).ToList();
        _clock.SetUtcNow(new(Ticks(10), TimeSpan.Zero));
        var kept = new TaskCompletionSource<int>();
        await using var recorder = new HistoryRecorder(_store.History, _clock, NullLogger<HistoryRecorder>.Instance);
        recorder.Start(new([(new RecordBatch(_plan, records, Ticks(9)), 1)], () =>
            {
                var samples = new List<HistorySample>();
                foreach (var (_, _, data) in _store.History.OpenChunks())
                    ChunkReader.Read(data, samples);
                kept.SetResult(samples.Count);
            }));
        (await kept.Task.WaitAsync(TimeSpan.FromSeconds(30), TestContext.Current.CancellationToken)).ShouldBe(10);
    }

    [Fact]
    public void A_stretch_is_read_with_the_value_before_and_the_one_after()
    {
        for (var i = 0; i < 3000; i += 10)
            Record(i, i);
        _recorder.KeepAll();
        Read(1001, 1025).Select(s => s.Number).ShouldBe([1000, 1010, 1020, 1030]);
        Read(5000, 6000).Select(s => s.Number).ShouldBe([2990]);
        Read(-50, -10).Select(s => s.Number).ShouldBe([0]);
    }

    [Fact]
    public void Inside_the_deadband_nothing_is_recorded_and_the_line_never_departs_by_more()
    {
        _plan = PlanOf(Everything with { Deadband = 0.5 });
        var random = new Random(3);
        var (told, value) = (new List<(double At, double Value)>(), 20d);
        for (var i = 0; i < 5000; i++)
        {
            value += i % 900 < 600 ? (random.NextDouble() - 0.5) * 0.02 : random.NextDouble() - 0.5;
            told.Add((i, value));
            Record(i, value, held: i - 1);
        }
        var read = Read(0, 5000);
        read.Count.ShouldBeLessThan(3000);
        var span = read.ToArray();
        foreach (var (at, was) in told.Take(4900))
        {
            var next = Aggregation.FirstNotBefore(span, Ticks(at));
            var line = BoundValue.Interpolated(span, next, Ticks(at), false).Number;
            Math.Abs(line - was).ShouldBeLessThan(1.01, $"at {at} s");
        }
    }

    [Fact]
    public void A_value_that_stayed_for_an_hour_is_no_slope_of_an_hour()
    {
        Record(0, 10);
        Record(3600, 20, held: 3599);
        Read(0, 4000).Select(s => (s.Ticks - Ticks(0)) / Second).ShouldBe([0, 3599, 3600]);
        _plan = PlanOf(Everything with { IsStepped = true });
        Record(7200, 30, held: 7199);
        Read(3601, 8000).Select(s => s.Number).ShouldBe([20, 30], "what holds until the next needs no second value");
    }

    [Fact]
    public void Late_values_go_where_they_belong_and_the_same_one_is_there_once()
    {
        for (var i = 0; i < 600; i++)
            Record(i * 10, i);
        Record(3005, -1);
        Record(15, -2);
        Record(3005, -1);
        Read(0, 30).Select(s => s.Number).ShouldBe([0, 1, -2, 2, 3, 4]);
        _recorder.KeepAll();
        KillAndOpen();
        Read(2995, 3015).Select(s => s.Number).ShouldBe([299, 300, -1, 301, 302]);
    }

    [Fact]
    public void Of_two_values_at_one_time_the_later_one_counts_wherever_they_are_closed()
    {
        // Chunks close anywhere in between.
        for (var i = 0; i < 3000; i++)
        {
            Record(i * 60, i);
            Record(i * 60, i + 0.5);
        }
        _recorder.KeepAll();
        var read = Read(0, 3000 * 60);
        read.Select(s => s.Number).ShouldBe(Enumerable.Range(0, 3000).Select(i => i + 0.5));
        _clock.SetUtcNow(Noon.AddSeconds(3000 * 60));
        var hours = _history.Stretches(1, 1, Ticks(0), 3600 * Second, 49, true, false);
        hours.Select(h => h.Count).ShouldBe(Enumerable.Repeat(60, 49));
        hours.Select((h, i) => h.Last - (i * 60 + 59.5)).ShouldAllBe(d => d == 0);
    }

    [Fact]
    public void What_comes_late_counts_in_long_stretches_before_it_is_summed_up()
    {
        for (var i = 0; i < 3000; i++)
            Record(i * 60, i % 50);
        _recorder.KeepAll();
        _clock.SetUtcNow(Noon.AddSeconds(3000 * 60));
        var before = _history.Stretches(1, 1, Ticks(0), 3600 * Second, 50, true, false);
        // Into an hour that is summed up long since, and holds into the next minute.
        Record(10_030, 1000);
        var after = _history.Stretches(1, 1, Ticks(0), 3600 * Second, 50, true, false);
        (after[2].Count, after[2].Maximum).ShouldBe((before[2].Count + 1, 1000));
        for (var i = 0; i < 50; i++)
            if (i != 2)
                after[i].ShouldBe(before[i], $"hour {i}");
        var days = _history.Stretches(1, 1, Ticks(0) - 12 * 3600 * Second, 86_400 * Second, 3, true, false);
        days[0].Maximum.ShouldBe(1000);
    }

    [Fact]
    public void A_late_value_is_read_with_the_scale_it_came_under()
    {
        Chain Of(double high) => new(null, new LinearScale(new Span(0, 100), new(0, high)), UnitConversion.None, null);
        _plan = PlanOf(Everything, Of(1000));
        Record(0, 500, raw: 50);
        Record(20, 600, raw: 60);
        _plan = PlanOf(Everything, Of(2000));
        Record(10, 800, raw: 40);
        Record(30, 1400, raw: 70);
        Read(0, 40).Select(s => s.Number).ShouldBe([500, 800, 600, 1400]);
        _recorder.KeepAll();
        KillAndOpen();
        Read(0, 40).Select(s => s.Number).ShouldBe([500, 800, 600, 1400]);
    }

    [Fact]
    public void A_scale_that_is_changed_does_not_rewrite_the_past()
    {
        Chain Of(double high) => new(null, new LinearScale(new Span(0, 100), new(0, high)), UnitConversion.None, null);
        _plan = PlanOf(Everything, Of(1000));
        Record(0, 500, raw: 50);
        _plan = PlanOf(Everything, Of(2000));
        Record(10, 1000, raw: 50);
        _recorder.KeepAll();
        KillAndOpen();
        Read(0, 20).Select(s => s.Number).ShouldBe([500, 1000]);
        _history.Samples(1, 1, Ticks(0), Ticks(20), Of(2000)).Select(s => s.Number).ShouldBe([1000, 1000], "as it is scaled now");
    }

    [Fact]
    public void What_is_Bad_is_a_gap_with_its_reason()
    {
        Record(0, 4);
        Add(new Recorded(0, Ticks(10), Ticks(9), double.NaN, 4, StatusCode.BadNotConnected, "connection lost", null));
        Record(20, 5);
        var read = Read(0, 30);
        read.Select(s => s.Status).ShouldBe([StatusCode.Good, StatusCode.Good, StatusCode.BadNotConnected, StatusCode.Good]);
        (read[2].Reason, double.IsNaN(read[2].Number)).ShouldBe(("connection lost", true));
        var stretch = _history.Stretches(1, 1, Ticks(0), 20 * Second, 1, false, false)[0];
        (stretch.GoodSeconds, stretch.Maximum).ShouldBe((10, 4));
    }

    [Fact]
    [Trait("source", "brute force: everything rolled up at once from all values")]
    public void What_is_summed_up_is_what_all_values_amount_to_whatever_comes_late_and_whenever_it_is_restarted() =>
        Gen.Select(Gen.Select(Gen.Int[1, 400], Gen.Int[0, 50], Gen.Int[0, 60]).Array[200, 1500], Gen.Bool, Gen.Int[0, 3])
            .Sample(
                (steps, isStepped, restarts) =>
                {
                    using var other = new HistoryTests();
                    other._plan = PlanOf(Everything with { IsStepped = isStepped });
                    var (all, at) = (new SortedDictionary<long, HistorySample>(), 0L);
                    for (var i = 0; i < steps.Length; i++)
                    {
                        var (gap, value, kind) = steps[i];
                        at += gap;
                        var seconds = kind == 1 && at > 500 ? at - 400 : at;
                        var status = kind == 2 ? StatusCode.BadNotConnected : StatusCode.Good;
                        var sample = new HistorySample(Ticks(seconds), status.IsBad ? double.NaN : value, status);
                        var before = i == 0 ? default : all.Values.Last();
                        other.Add(new Recorded(0, sample.Ticks, 0, value, value, status, null, null));
                        if (i == 0 || before.Status != status || before.Number != value || kind == 1)
                            all[sample.Ticks] = sample;
                        if (restarts > 0 && i % (steps.Length / (restarts + 1) + 1) == 17)
                        {
                            other._recorder.KeepAll();
                            other.KillAndOpen();
                        }
                    }
                    other._recorder.KeepAll();
                    other._clock.SetUtcNow(Noon.AddSeconds(at + 100));
                    var read = other.Read(-1, at + 10).ToArray();
                    foreach (var (length, count) in new[] { (180L, 40), (10_800L, 8), (259_200L, 2) })
                    {
                        var begin = Ticks(0) - Ticks(0) % TimeSpan.TicksPerDay;
                        var got = other._history.Stretches(1, 1, begin, length * Second, count * 12, isStepped, false);
                        for (var i = 0; i < got.Length; i++)
                        {
                            var (from, to) = (begin + i * length * Second, Math.Min(begin + (i + 1) * length * Second, other._history.Now));
                            if (to <= from)
                                break;
                            var wanted = Rollup.Of(read, from, to - from, 1, isStepped, false)[0];
                            got[i].Count.ShouldBe(wanted.Count, $"stretch {i} of {length} s");
                            got[i].HeldSeconds.ShouldBe(wanted.HeldSeconds, 0.01, $"stretch {i} of {length} s");
                            if (wanted.Count == 0 || wanted.HeldSeconds == 0)
                                continue;
                            // Between two minutes with values a line is kept as what held: it is right where values hold.
                            if (isStepped)
                                got[i].Mean.ShouldBe(wanted.Mean, 1e-6, $"stretch {i} of {length} s");
                            got[i]
                                .Maximum.ShouldBeGreaterThanOrEqualTo(
                                    read.Where(s => s.Ticks >= from && s.Ticks < to && !s.Status.IsBad)
                                        .Select(s => s.Number)
                                        .DefaultIfEmpty(-1)
                                        .Max()
                                );
                        }
                    }
                },
                iter: 12,
                threads: 1
            );

    [Fact]
    public void Older_than_is_kept_goes_and_so_does_what_is_too_many()
    {
        _plan = PlanOf(Everything with { KeepDays = 1 });
        for (var i = 0; i < 5000; i++)
            Record(i * 60, i);
        _recorder.KeepAll();
        var store = _store.History;
        var id = store.Series().Values.Single();
        store.Extents()[id].Count.ShouldBeGreaterThan(4000);
        store.Beyond(id, 1000).ShouldNotBeNull();
        while (store.Forget(id, store.Beyond(id, 1000)!.Value, 0) > 0) { }
        store.Extents()[id].Count.ShouldBeInRange(1000, 1600);
        Read(4990 * 60, 5000 * 60).Count.ShouldBe(11);
    }

    [Fact]
    public void What_was_recorded_of_a_point_can_be_taken_out_and_it_goes_on()
    {
        for (var i = 0; i < 1000; i++)
            Record(i, i);
        _recorder.KeepAll();
        _recorder.TakeOut(1, 1);
        Read(0, 2000).ShouldBeEmpty();
        KillAndOpen();
        Read(0, 2000).ShouldBeEmpty();
        Record(1000, 3);
        Read(0, 2000).Select(s => s.Number).ShouldBe([3]);
    }

    [Fact]
    public void A_damaged_chunk_is_found_and_costs_itself_alone()
    {
        for (var i = 0; i < 3000; i++)
            Record(i, i);
        _recorder.KeepAll();
        KillAndOpen();
        using (var file = new Microsoft.Data.Sqlite.SqliteConnection($"Data Source={Path.Combine(_directory, "history.db")};Pooling=False"))
        {
            file.Open();
            using var command = file.CreateCommand();
            command.CommandText = "UPDATE chunk SET data = zeroblob(length(data)) WHERE id = 2";
            command.ExecuteNonQuery().ShouldBe(1);
        }
        var read = Read(0, 3000);
        read.Count.ShouldBeInRange(2400, 2600);
        _history.Damaged.ShouldBe(1);
    }

    [Fact]
    public void What_a_source_hands_in_later_is_recorded_where_it_belongs()
    {
        Record(0, 1);
        Record(100, 2);
        _recorder.AddPast(
            new(
                [new(7, 30, StatusCode.Good, Ticks(50)), new(7, 31, StatusCode.Good, Ticks(51)), new(99, 1, StatusCode.Good, Ticks(52))],
                default,
                true
            ),
            _plan
        );
        Read(0, 200).Select(s => s.Number).ShouldBe([1, 30, 31, 2]);
        _recorder.KeepAll();
        KillAndOpen();
        Read(0, 200).Select(s => s.Number).ShouldBe([1, 30, 31, 2]);
    }

    [Fact]
    public void Limits_are_known_as_they_were_over_a_restart_too()
    {
        static Limit High(double at) => new(LimitCondition.High, at, 1, 2);
        var low = new Limit(LimitCondition.Low, 10, 1, 3);
        string[] Was(double from, double to) =>
            [
                .. _history
                    .Limits(1, 1, Ticks(from), Ticks(to))
                    .Select(l => $"{l.Limit.Condition} {l.Limit.Setpoint} {(l.From - Ticks(0)) / Second}-{(l.To - Ticks(0)) / Second}")
                    .Order(StringComparer.Ordinal),
            ];
        _plan = PlanOf(Everything, limits: [High(88), low]);
        Record(0, 1);
        _plan = PlanOf(Everything, limits: [High(88), low]);
        Record(50, 1);
        _plan = PlanOf(Everything, limits: [High(90), low]);
        Record(100, 1);
        KillAndOpen();
        _plan = PlanOf(Everything, limits: [High(90), low]);
        Record(150, 1);
        _plan = PlanOf(Everything);
        Record(200, 1);

        Was(-100, 300).ShouldBe(["High 88 0-100", "High 90 100-200", "Low 10 0-200"]);
        Was(120, 130).ShouldBe(["High 90 120-130", "Low 10 120-130"]);
        Was(210, 300).ShouldBeEmpty();
        Was(-50, -10).ShouldBeEmpty("nothing is known of then");
        _history.Limits(2, 1, 0, Ticks(300)).ShouldBeEmpty();
    }

    [Fact]
    public void Text_and_states_are_recorded_when_they_change()
    {
        _plan = PlanOf(Everything with { IsStepped = true }, type: PropertyType.Text);
        foreach (var (at, text) in new[] { (0, "Withering"), (10, "Withering"), (20, "Curing"), (30, "Curing") })
            Add(new Recorded(0, Ticks(at), Ticks(at - 1), double.NaN, double.NaN, StatusCode.Good, null, text));
        Read(0, 40).Select(s => s.Text).ShouldBe(["Withering", "Curing"]);
    }

    private static Plan PlanOf(
        RecordingRule rule,
        Chain? chain = null,
        PropertyType type = PropertyType.Number,
        ImmutableArray<Limit>? limits = null
    )
    {
        chain ??= new(null, null, UnitConversion.None, null);
        var point = new PlanPoint(1, 1, "C/K1/AirOn", 0, null, null, 1, null, limits ?? [], type, chain) { Recording = rule };
        return new([point], [new PointSetup(chain, [])], [new PlanTag(7, 1, 0, TimeSpan.MaxValue)]);
    }

    private static long Ticks(double seconds) => Noon.UtcTicks + (long)(seconds * Second);

    private void Record(double seconds, double value, double held = -1, double? raw = null) =>
        Add(new Recorded(0, Ticks(seconds), held < 0 ? 0 : Ticks(held), raw ?? value, value, StatusCode.Good, null, null));

    private void Add(Recorded recorded)
    {
        if (recorded.Ticks > _clock.GetUtcNow().UtcTicks)
            _clock.SetUtcNow(new(recorded.Ticks, TimeSpan.Zero));
        _recorder.Add(new RecordBatch(_plan, [recorded]), EngineSnapshot.Empty);
    }

    private List<HistorySample> Read(double from, double to) => _history.Samples(1, 1, Ticks(from), Ticks(to));

    private void Open()
    {
        _store = PlantStore.Open(Path.Combine(_directory, "plant.db"), clock: _clock);
        _recorder = new(_store.History, _clock, NullLogger<HistoryRecorder>.Instance);
        _recorder.Load();
        _history = new(_store.History, _recorder, _clock);
    }

    /// <summary>What the recorder holds and has not kept is gone, as after a kill.</summary>
    private void KillAndOpen()
    {
        _store.Dispose();
        Open();
    }
}
