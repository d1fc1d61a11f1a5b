using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Diagnosis;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Quality;
using Fralto.Store;

namespace Fralto.Bench;

/// <summary>What alarms cost: samples through scale and limits, a flood, a restart, and the log.</summary>
internal static class AlarmBench
{
    private const int Rounds = 20;

    /// <param name="rows">Rows of the log.</param>
    public static void Run(int rows)
    {
        foreach (var points in new[] { 1_250, 12_500, 125_000 })
            Samples(points);
        Flood();
        Restart();
        Load();
        Log(rows);
    }

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.##} {unit} (aim {aim})"));

    /// <summary>Samples of which one in a hundred crosses a limit, against the same without any crossing.</summary>
    private static void Samples(int points)
    {
        var engine = new PlantEngine(Planner.Compile(LargePlant.Of(points)).Plan);
        var random = new Random(1);
        var now = TimeSpan.TicksPerDay;
        // A hundred thousand samples a round, whatever the size; each is news.
        var samples = new Sample[Math.Max(points, 100_000)];
        double Rate(int crossing)
        {
            var best = double.MaxValue;
            for (var round = 0; round < Rounds; round++)
            {
                for (var i = 0; i < samples.Length; i++)
                    samples[i] = new(
                        LargePlant.TagOf(i % points, points),
                        crossing > 0 && random.Next(100) < crossing ? 31_000 : 10_000 + random.Next(6000),
                        StatusCode.Good,
                        now
                    );
                now += TimeSpan.TicksPerSecond;
                var watch = Stopwatch.GetTimestamp();
                engine.Step(samples, new(now, now));
                engine.Advance(new(now, now));
                best = Math.Min(best, Stopwatch.GetElapsedTime(watch).TotalSeconds);
                engine.Output.Events.Clear();
                engine.Output.ClearChanges();
            }
            return samples.Length / best;
        }
        _ = Rate(1);
        var (quiet, busy) = (Rate(0), Rate(1));
        Figure($"samples_a_second_{points * 4}_limits_1_percent_cross", busy, "1/s", "1000000");
        Figure($"samples_{points * 4}_limits_1_percent_cross_to_none", busy / quiet, "x", "-");
    }

    /// <summary>Twenty thousand raised at once: none is lost.</summary>
    private static void Flood()
    {
        const int Count = 20_000;
        var (engine, now) = (new PlantEngine(Planner.Compile(LargePlant.Of(Count)).Plan), TimeSpan.TicksPerDay);
        engine.Step([.. Enumerable.Range(0, Count).Select(i => Of(i, 15_000, now))], new(now, now));
        now += TimeSpan.TicksPerSecond;
        var watch = Stopwatch.GetTimestamp();
        engine.Step([.. Enumerable.Range(0, Count).Select(i => Of(i, 29_000, now))], new(now, now));
        now += 6 * TimeSpan.TicksPerSecond;
        engine.Advance(new(now, now));
        Figure("flood_of_20000_raised_in", Stopwatch.GetElapsedTime(watch).TotalMilliseconds, "ms", "1000");
        Figure("flood_events_lost", Count - engine.Output.Events.Count(e => e.Cause == AlarmCause.ConditionRaised), "events", "0");

        static Sample Of(int i, double raw, long at) => new(LargePlant.TagOf(i, Count), raw, StatusCode.Good, at);
    }

    private static void Restart()
    {
        const int Count = 50_000;
        var plan = Planner.Compile(LargePlant.Of(Count)).Plan;
        var engine = new PlantEngine(plan);
        var at = DateTimeOffset.UnixEpoch;
        var alarms = plan.Points.Select(p => new Alarm(
            new(p.EquipmentId, p.PropertyId, LimitCondition.High),
            AlarmState.Unacknowledged,
            at,
            1
        )
        {
            IsTrue = true,
        });
        var kept = alarms.ToArray();
        var watch = Stopwatch.GetTimestamp();
        engine.Restore(kept, new(1, at.UtcTicks));
        Figure("restart_with_50000_alarms", Stopwatch.GetElapsedTime(watch).TotalMilliseconds, "ms", "5000");
        if (engine.Alarms.Count != Count)
            throw new InvalidOperationException("Not all alarms came back.");
    }

    /// <summary>The load of 30 days with a million steps.</summary>
    private static void Load()
    {
        var (events, begin) = (Steps(1_000_000).ToArray(), DateTimeOffset.UnixEpoch);
        var watch = Stopwatch.GetTimestamp();
        var load = AlarmLoad.Of(events, [], begin, begin.AddDays(30));
        Figure("load_of_a_million_steps", Stopwatch.GetElapsedTime(watch).TotalMilliseconds, "ms", "-");
        GC.KeepAlive(load);
    }

    private static IEnumerable<AlarmEvent> Steps(int count)
    {
        var random = new Random(2);
        for (var i = 0; i < count; i++)
            yield return new(
                new(1 + random.Next(5000), 2, LimitCondition.High),
                DateTimeOffset.UnixEpoch.AddSeconds(i * (30 * 86400.0 / count)),
                i % 2 == 0 ? AlarmState.Unacknowledged : AlarmState.ReturnedUnacknowledged,
                i % 2 == 0 ? AlarmCause.ConditionRaised : AlarmCause.ConditionCleared,
                i,
                "Corvane/TarnQuay/KLN1/AirOn",
                1 + random.Next(4),
                i % 1000 == 0 ? "ann" : null
            )
            {
                Limit = "H",
                Message = "Air-on 88.2 °C",
            };
    }

    private static void Log(int rows)
    {
        var directory = Directory.CreateTempSubdirectory("fralto-bench-");
        try
        {
            using var store = PlantStore.Open(Path.Combine(directory.FullName, "plant.db"));
            var (watch, batches) = (Stopwatch.GetTimestamp(), 0);
            foreach (var batch in Steps(rows).Chunk(5000))
            {
                store.Run.KeepAlarms(batch, new Dictionary<AlarmKey, Alarm?>());
                batches++;
            }
            Figure("log_events_a_second", batches * 5000 / Stopwatch.GetElapsedTime(watch).TotalSeconds, "1/s", "5000");
            var middle = DateTimeOffset.UnixEpoch.AddDays(15);
            foreach (
                var (name, filter) in new (string, AlarmLogFilter)[]
                {
                    ("all", new()),
                    ("time", new() { From = middle, To = middle.AddHours(1) }),
                    ("place", new() { Equipment = [.. Enumerable.Range(100, 50).Select(i => (long)i)] }),
                    ("place_gone", new() { Equipment = [77_777] }),
                    ("priority", new() { Priorities = [1] }),
                    ("who", new() { Who = "ann" }),
                    ("nobody", new() { Who = "nobody" }),
                    (
                        "time_and_place",
                        new()
                        {
                            From = middle,
                            To = middle.AddDays(1),
                            Equipment = [5, 6, 7],
                        }
                    ),
                }
            )
            {
                var slowest = 0.0;
                for (var i = 0; i < 4; i++)
                {
                    var begin = Stopwatch.GetTimestamp();
                    _ = store.Run.AlarmEvents(filter, 200);
                    slowest = i == 0 ? 0 : Math.Max(slowest, Stopwatch.GetElapsedTime(begin).TotalMilliseconds);
                }
                Figure($"log_page_by_{name}_of_{rows}_rows", slowest, "ms", "100");
            }
        }
        finally
        {
            directory.Delete(true);
        }
    }
}
