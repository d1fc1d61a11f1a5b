using System.Diagnostics;
using System.Globalization;
using Dapper;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Core.Units;
using Fralto.Runtime;
using Fralto.Runtime.Recording;
using Fralto.StandIns.Maltings;
using Fralto.Store;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Time.Testing;

namespace Fralto.Bench;

/// <summary>What recording costs, and how fast history is read: against a row a sample in SQLite, and against appending bytes to a
/// file.</summary>
internal static class HistoryBench
{
    private const int Points = 10_000;
    private const int Seconds = 900;
    private static readonly DateTimeOffset Begin = new(2026, 1, 5, 0, 0, 0, TimeSpan.Zero);
    private static readonly RecordingRule Rule = new(0, 0, true, null, double.NaN, 3650, null, 3653, false);

    public static void Run()
    {
        var directory = Directory.CreateTempSubdirectory("fralto-bench-history-").FullName;
        try
        {
            Write(Path.Combine(directory, "write"));
            Sizes();
            Read(Path.Combine(directory, "read"));
            Held(Path.Combine(directory, "held"));
        }
        finally
        {
            Directory.Delete(directory, recursive: true);
        }
    }

    private static void Write(string directory)
    {
        using var plant = new Recording(directory, Points);
        var random = new Random(1);
        var values = new double[Points];
        var samples = 0L;
        var watch = Stopwatch.StartNew();
        var making = TimeSpan.Zero;
        for (var second = 0; second < Seconds; second++)
        {
            var made = watch.Elapsed;
            var records = new List<Recorded>(Points);
            for (var point = 0; point < Points; point++)
            {
                values[point] += random.Next(-3, 4) + 0.5 * (point % 2);
                records.Add(new(point, Recording.Ticks(second), 0, values[point], values[point], StatusCode.Good, null, null));
            }
            making += watch.Elapsed - made;
            plant.Recorder.Add(new(plant.Plan, records), EngineSnapshot.Empty);
            plant.Recorder.KeepAll();
            samples += Points;
        }
        var rate = samples / (watch.Elapsed - making).TotalSeconds;
        Figure("recorded on one thread, durable every second", rate / 1e6, "million samples/s", "1");

        const int Rows = 200_000;
        using var connection = new SqliteConnection($"Data Source={Path.Combine(directory, "rows.db")};Pooling=False");
        connection.Open();
        connection.Execute(
            "PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; CREATE TABLE sample (series INTEGER, at INTEGER, value REAL, "
                + "PRIMARY KEY (series, at)) WITHOUT ROWID"
        );
        watch.Restart();
        for (var at = 0; at < Rows; at += Points)
        {
            using var transaction = connection.BeginTransaction();
            connection.Execute(
                "INSERT INTO sample (series, at, value) VALUES (@series, @at, @value)",
                Enumerable
                    .Range(0, Points)
                    .Select(i => new
                    {
                        series = i,
                        at = (long)at,
                        value = values[i],
                    }),
                transaction
            );
            transaction.Commit();
        }
        Figure("against a row a sample in SQLite through Dapper", rate / (Rows / watch.Elapsed.TotalSeconds), "times as fast", "20");
        watch.Restart();
        using (var file = new FileStream(Path.Combine(directory, "bytes"), FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16))
            for (var second = 0; second < Seconds; second++)
            {
                for (var i = 0; i < Points; i++)
                {
                    file.Write(BitConverter.GetBytes(Recording.Ticks(second)));
                    file.Write(BitConverter.GetBytes(values[i]));
                }
                file.Flush(flushToDisk: true);
            }
        Figure("against appending 16 bytes a sample to a file", rate / (samples / watch.Elapsed.TotalSeconds), "times as fast", "none");
    }

    /// <summary>Bytes a sample of the maltings, told every second of two of their days.</summary>
    private static void Sizes()
    {
        var kilns = new KilnPlc(StandInPlant.KilnsOf(20260601));
        var steeps = new SteepPlc(StandInPlant.SteepsOf(20260601));
        var lines = new (string Kind, Func<double> Read)[]
        {
            ("floats", () => kilns.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 0, RawType.Float32, WordOrder.LowFirst)),
            ("floats", () => kilns.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 2, RawType.Float32, WordOrder.LowFirst)),
            ("floats", () => kilns.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 6, RawType.Float32, WordOrder.LowFirst)),
            ("counts", () => kilns.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 10, RawType.Int16, WordOrder.LowFirst)),
            ("counts", () => steeps.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst)),
            ("counts", () => steeps.Bank.Read(Core.Modbus.RegisterArea.InputRegister, 1, RawType.Int16, WordOrder.HighFirst)),
            ("booleans", () => kilns.Bank.Bit(Core.Modbus.RegisterArea.DiscreteInput, 0) ? 1 : 0),
            ("booleans", () => kilns.Bank.Bit(Core.Modbus.RegisterArea.DiscreteInput, 2) ? 1 : 0),
        };
        var writers = lines.Select(_ => new ChunkWriter()).ToArray();
        var (bytes, count) = (new Dictionary<string, long>(), new Dictionary<string, long>());
        for (var second = 0; second < 172_800; second++)
        {
            kilns.AdvanceTo(TimeSpan.FromSeconds(second));
            steeps.AdvanceTo(TimeSpan.FromSeconds(second));
            for (var i = 0; i < lines.Length; i++)
            {
                var sample = new HistorySample(Begin.UtcTicks + second * TimeSpan.TicksPerSecond, lines[i].Read(), StatusCode.Good);
                if (!writers[i].TryAdd(in sample))
                {
                    bytes[lines[i].Kind] = bytes.GetValueOrDefault(lines[i].Kind) + writers[i].ToBytes().Length;
                    count[lines[i].Kind] = count.GetValueOrDefault(lines[i].Kind) + writers[i].Count;
                    writers[i].Clear();
                    writers[i].TryAdd(in sample);
                }
            }
        }
        foreach (var (kind, aim) in new[] { ("counts", "1.5"), ("booleans", "0.3"), ("floats", "2") })
            Figure($"a sample of the maltings, {kind}", bytes[kind] / (double)count[kind], "bytes", aim);
        Figure("all signals of the maltings together", bytes.Values.Sum() / (double)count.Values.Sum(), "bytes", "2");
    }

    private static void Read(string directory)
    {
        using var plant = new Recording(directory, 2);
        var random = new Random(2);
        var value = 12_000d;
        const int Week = 604_800;
        var records = new List<Recorded>();
        for (var second = 0; second < Week; second++)
        {
            value += random.Next(-4, 5);
            records.Add(new(0, Recording.Ticks(second), 0, value, value, StatusCode.Good, null, null));
            if (records.Count == 50_000)
                plant.Take(records);
        }
        plant.Take(records);
        Figure(
            "a week at 1 s to 1,000 buckets",
            Timed(() => plant.History.Stretches(1, 1, Recording.Ticks(0), Week / 1000 * TimeSpan.TicksPerSecond, 1000, false, false))
                * 1000,
            "ms",
            "45"
        );
        Figure(
            "an hour of it, value by value",
            Timed(() => plant.History.Samples(1, 1, Recording.Ticks(300_000), Recording.Ticks(303_600))) * 1000,
            "ms",
            "none"
        );
        const int Year = 366 * 24 * 60;
        for (var minute = 0; minute < Year; minute++)
        {
            value += random.Next(-4, 5);
            records.Add(new(1, Recording.Ticks(minute * 60L), 0, value, value, StatusCode.Good, null, null));
            if (records.Count == 50_000)
                plant.Take(records);
        }
        plant.Take(records);
        Figure(
            "a year from what is summed up to 1,000 buckets",
            Timed(() =>
                plant.History.Stretches(2, 2, Recording.Ticks(0), 366L * 86_400 / 1000 * TimeSpan.TicksPerSecond, 1000, false, false)
            ) * 1000,
            "ms",
            "100"
        );
    }

    private static void Held(string directory)
    {
        const int Many = 50_000;
        var before = GC.GetTotalMemory(true);
        using var plant = new Recording(directory, Many);
        var (random, raw) = (new Random(3), new double[Many]);
        var plan = GC.GetTotalMemory(true);
        for (var second = 0; second < 60; second++)
        {
            var records = new List<Recorded>(Many);
            for (var point = 0; point < Many; point++)
            {
                raw[point] += random.Next(-3, 4);
                records.Add(new(point, Recording.Ticks(second), 0, raw[point], raw[point], StatusCode.Good, null, null));
            }
            plant.Take(records);
        }
        Figure("held for each of 50,000 points recorded at once", (GC.GetTotalMemory(true) - plan) / (double)Many, "bytes", "2048");
        _ = before;
        var watch = Stopwatch.StartNew();
        plant.Again();
        Figure("opening it again", watch.Elapsed.TotalSeconds, "s", "2");
    }

    private static double Timed(Action act)
    {
        act();
        var best = double.MaxValue;
        for (var i = 0; i < 5; i++)
        {
            var watch = Stopwatch.StartNew();
            act();
            best = Math.Min(best, watch.Elapsed.TotalSeconds);
        }
        return best;
    }

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.###} {unit} (aim {aim})"));

    /// <summary>A recorder of so many points on a clock of its own.</summary>
    private sealed class Recording : IDisposable
    {
        private readonly string _file;
        private readonly FakeTimeProvider _clock = new(Begin);
        private PlantStore _store;

        public Recording(string directory, int points)
        {
            _file = Path.Combine(directory, "plant.db");
            var chain = new Chain(null, null, UnitConversion.None, null);
            Plan = new(
                [
                    .. Enumerable
                        .Range(1, points)
                        .Select(i => new PlanPoint(i, i, $"P/{i}", i - 1, null, null, 1, null, [], PropertyType.Number, chain)
                        {
                            Recording = Rule,
                        }),
                ],
                [.. Enumerable.Repeat(new PointSetup(chain, []), points)],
                [.. Enumerable.Range(1, points).Select(i => new PlanTag(i, 1, 0, TimeSpan.MaxValue))]
            );
            (_store, Recorder, History) = (null!, null!, null!);
            Open();
        }

        public Plan Plan { get; }

        public HistoryRecorder Recorder { get; private set; }

        public History History { get; private set; }

        public static long Ticks(long seconds) => Begin.UtcTicks + seconds * TimeSpan.TicksPerSecond;

        public void Take(List<Recorded> records)
        {
            if (records.Count == 0)
                return;
            Recorder.Add(new(Plan, [.. records]), EngineSnapshot.Empty);
            Recorder.KeepAll();
            if (records[^1].Ticks > _clock.GetUtcNow().UtcTicks)
                _clock.SetUtcNow(new(records[^1].Ticks, TimeSpan.Zero));
            records.Clear();
        }

        public void Again()
        {
            _store.Dispose();
            Open();
        }

        public void Dispose() => _store.Dispose();

        private void Open()
        {
            _store = PlantStore.Open(_file, clock: _clock);
            Recorder = new(_store.History, _clock, NullLogger<HistoryRecorder>.Instance);
            Recorder.Load();
            History = new(_store.History, Recorder, _clock);
        }
    }
}
