using Dapper;
using Fralto.Core.History;
using Microsoft.Data.Sqlite;

namespace Fralto.Store.Tests;

/// <summary>What is kept of history is counted without being read, and forgotten as long as it is old.</summary>
public sealed class HistoryStoreTests : IDisposable
{
    private const long Day = TimeSpan.TicksPerDay;
    private static readonly long Begin = new DateTime(2026, 6, 1, 0, 0, 0, DateTimeKind.Utc).Ticks;

    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-history-store-").FullName;
    private readonly Random _random = new(5);

    private string Plant => Path.Combine(_directory, "plant.db");

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public void What_is_kept_of_each_series_is_known_whatever_came_and_went()
    {
        using var store = PlantStore.Open(Plant);
        var history = store.History;
        var series = history.AddSeries([(1, 1), (1, 2), (2, 1), (3, 3)]);
        for (var step = 0; step < 300; step++)
        {
            var one = series[_random.Next(3)];
            switch (_random.Next(12))
            {
                case 0:
                    while (history.Forget(one, Begin + _random.Next(20) * Day, Begin + _random.Next(20) * Day) > 0) { }
                    break;
                case 1 when _random.Next(6) == 0:
                    history.TakeOut(one);
                    break;
                case 2:
                    history.KeepEntry([Chunk(one, true)], [], DateTimeOffset.UnixEpoch, "ada");
                    break;
                default:
                    history.Keep([Chunk(one, _random.Next(4) == 0), Chunk(series[_random.Next(3)], false)], [Block(one), Block(one)], null);
                    break;
            }
            if (step % 10 != 0)
                continue;
            var (counted, read) = (history.Extents(), Read());
            counted.Values.OrderBy(e => e.Series).ToArray().ShouldBe(read, $"step {step}");
            history.LastClosed().ShouldBe(Closed(), ignoreOrder: true);
        }
        history.Extents().ShouldNotContainKey(series[3]);
        history.Extents().Count.ShouldBeGreaterThan(1);
    }

    [Fact]
    public void What_is_old_goes_and_nothing_else_and_whether_anything_is_old_is_known_before()
    {
        using var store = PlantStore.Open(Plant);
        var history = store.History;
        var series = history.AddSeries([(1, 1)])[0];
        for (var i = 0; i < 200; i++)
            history.Keep([Chunk(series, false)], [Block(series)], null);
        foreach (var (before, summed) in new[] { (3, 0), (3, 5), (9, 5), (9, 30), (9, 90), (90, 400) })
        {
            var (chunksBefore, blocksBefore) = (Begin + before * Day, Begin + summed * Day);
            var stay = (
                Query<long>("SELECT id FROM chunk WHERE last >= @chunksBefore", new { chunksBefore }),
                Query<(long, long)>("SELECT step, start FROM rollup")
                    .Where(b => b.Item2 + RollupStep.All.Single(s => s.Ticks == b.Item1).BlockTicks >= blocksBefore)
                    .ToArray()
            );
            var all = Query<long>("SELECT count(*) FROM chunk")[0] + Query<long>("SELECT count(*) FROM rollup")[0];
            history.HasOlder(series, chunksBefore, blocksBefore).ShouldBe(stay.Item1.Length + stay.Item2.Length < all);
            while (history.Forget(series, chunksBefore, blocksBefore) > 0) { }
            history.HasOlder(series, chunksBefore, blocksBefore).ShouldBeFalse();
            Query<long>("SELECT id FROM chunk").ShouldBe(stay.Item1, ignoreOrder: true);
            Query<(long, long)>("SELECT step, start FROM rollup").ShouldBe(stay.Item2, ignoreOrder: true);
        }
        history.Extents().ShouldBeEmpty();
    }

    [Fact]
    public void A_history_that_was_not_counted_yet_is_counted_when_it_is_opened()
    {
        using (var store = PlantStore.Open(Plant))
        {
            var series = store.History.AddSeries([(1, 1), (1, 2)]);
            for (var i = 0; i < 20; i++)
                store.History.Keep([Chunk(series[i % 2], false)], [Block(series[i % 2])], null);
        }
        using (var file = Open())
        {
            foreach (var trigger in file.Query<string>("SELECT name FROM sqlite_master WHERE type = 'trigger'").ToArray())
                file.Execute($"DROP TRIGGER {trigger}");
            file.Execute("DROP TABLE extent; DELETE FROM SchemaVersions WHERE ScriptName LIKE '%0002_extents%'").ShouldBe(1);
        }
        using var again = PlantStore.Open(Plant);
        again.History.Extents().Values.OrderBy(e => e.Series).ToArray().ShouldBe(Read());
        again.History.Extents().Count.ShouldBe(2);
    }

    private HistoryChunk Chunk(int series, bool isLate)
    {
        var first = Begin + _random.NextInt64(20 * Day);
        return new(series, first, first + _random.NextInt64(Day), 1 + _random.Next(512), isLate, 0, new byte[1 + _random.Next(900)]);
    }

    private HistoryBlock Block(int series)
    {
        var step = RollupStep.All[_random.Next(RollupStep.All.Length)];
        return new(series, step.Ticks, step.BlockOf(Begin + _random.NextInt64(20 * Day)), new byte[1 + _random.Next(300)]);
    }

    /// <summary>The same, counted by reading all there is.</summary>
    private HistoryExtent[] Read() =>
        [
            .. Query<(int Series, long First, long Last, long Count, long Bytes, long Rollups)>(
                    """
                    SELECT series_id, min(first), max(last), sum(count), sum(length(data)),
                        (SELECT ifnull(sum(length(data)), 0) FROM rollup WHERE series_id = chunk.series_id)
                    FROM chunk GROUP BY series_id ORDER BY series_id
                    """
                )
                .Select(r => new HistoryExtent(r.Series, r.First, r.Last, r.Count, r.Bytes, r.Rollups)),
        ];

    private Dictionary<int, long> Closed() =>
        Query<(int Series, long Last)>("SELECT series_id, max(last) FROM chunk WHERE late = 0 GROUP BY series_id")
            .ToDictionary(r => r.Series, r => r.Last);

    private T[] Query<T>(string sql, object? with = null)
    {
        using var file = Open();
        return [.. file.Query<T>(sql, with)];
    }

    private SqliteConnection Open()
    {
        var file = new SqliteConnection($"Data Source={Path.Combine(_directory, "history.db")};Pooling=False");
        file.Open();
        return file;
    }
}
