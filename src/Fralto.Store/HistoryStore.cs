using Dapper;
using Fralto.Core.History;

namespace Fralto.Store;

/// <summary>What was recorded, in a file of its own beside the model: chunks, what they amount to, and the journal of what is not in a
/// chunk
/// yet.</summary>
public sealed class HistoryStore
{
    private const int MostForgotten = 2_000;

    /// <summary>Each step that is summed up, and how long a block of it is: [[ticks, ticks], …].</summary>
    private static readonly string Steps = Json.Write(RollupStep.All.Select(s => new[] { s.Ticks, s.BlockTicks }));

    private readonly SqliteFile _file;

    internal HistoryStore(SqliteFile file) => _file = file;

    /// <summary>Why nothing can be kept at present; null while everything can.</summary>
    public StorageTrouble? Trouble => _file.Trouble;

    /// <summary>Bytes the file takes.</summary>
    public long Bytes =>
        _file.Read(c => c.ExecuteScalar<long>("SELECT page_count * page_size FROM pragma_page_count(), pragma_page_size()"));

    /// <summary>A value kept beside the history; null when there is none.</summary>
    public string? Note(string key) =>
        _file.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM note WHERE key = @key", new { key }));

    /// <summary>Keeps a value beside the history.</summary>
    /// <exception cref="StoreException">It could not be kept.</exception>
    public void SetNote(string key, string value) =>
        _file.Write(
            "INSERT INTO note (key, value) VALUES (@key, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
            new { key, value }
        );

    /// <summary>All series, by the property of the instance they belong to.</summary>
    public IReadOnlyDictionary<(long EquipmentId, long PropertyId), int> Series() =>
        _file.Read(c =>
            c.Query<(int Id, long EquipmentId, long PropertyId)>("SELECT id, equipment_id, property_id FROM series")
                .ToDictionary(s => (s.EquipmentId, s.PropertyId), s => s.Id)
        );

    /// <summary>Adds series.</summary>
    /// <returns>Their ids, in the same order.</returns>
    /// <exception cref="StoreException">None was added.</exception>
    public int[] AddSeries(IReadOnlyList<(long EquipmentId, long PropertyId)> points) =>
        _file.Write(t =>
            points
                .Select(p =>
                    t.Connection!.ExecuteScalar<int>(
                        "INSERT INTO series (equipment_id, property_id) VALUES (@EquipmentId, @PropertyId) RETURNING id",
                        new { p.EquipmentId, p.PropertyId },
                        t
                    )
                )
                .ToArray()
        );

    /// <summary>All scalings, by their id.</summary>
    public IReadOnlyDictionary<int, string> Scalings() =>
        _file.Read(c => c.Query<(int Id, string Facts)>("SELECT id, facts FROM scaling").ToDictionary(s => s.Id, s => s.Facts));

    /// <summary>The id of a scaling, which is kept when it is new.</summary>
    /// <exception cref="StoreException">It could not be kept.</exception>
    public int ScalingOf(string facts) =>
        _file.Write(t =>
            t.Connection!.ExecuteScalar<int>(
                "INSERT INTO scaling (facts) VALUES (@facts) ON CONFLICT (facts) DO UPDATE SET facts = facts RETURNING id",
                new { facts },
                t
            )
        );

    /// <summary>Keeps which limits points have from a time on.</summary>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepLimits(IReadOnlyCollection<(int Series, long Since, string Facts)> limits) =>
        _file.Write(t =>
            t.Connection!.Execute(
                "INSERT INTO limits (series_id, since, facts) VALUES (@Series, @Since, @Facts) "
                    + "ON CONFLICT (series_id, since) DO UPDATE SET facts = excluded.facts",
                limits.Select(l => new
                {
                    l.Series,
                    l.Since,
                    l.Facts,
                }),
                t
            )
        );

    /// <summary>The limits each point had last.</summary>
    public IReadOnlyDictionary<int, string> LastLimits() =>
        _file.Read(c =>
            c.Query<(int Series, long Since, string Facts)>("SELECT series_id, max(since), facts FROM limits GROUP BY series_id")
                .ToDictionary(l => l.Series, l => l.Facts)
        );

    /// <summary>The limits a point has had, the oldest first, each until the next.</summary>
    public IReadOnlyList<(long Since, string Facts)> Limits(int series) =>
        _file.Read(c =>
            c.Query<(long, string)>("SELECT since, facts FROM limits WHERE series_id = @series ORDER BY since", new { series }).ToArray()
        );

    /// <summary>Keeps what has come, in one transaction.</summary>
    /// <param name="chunks">Chunks that are closed.</param>
    /// <param name="blocks">Blocks of rollups as they are now.</param>
    /// <param name="journal">Values as they came; null for none.</param>
    /// <returns>Id of the newest entry of the journal.</returns>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public long Keep(IReadOnlyCollection<HistoryChunk> chunks, IReadOnlyCollection<HistoryBlock> blocks, byte[]? journal) =>
        _file.Write(t =>
        {
            Add(t, chunks, blocks);
            return journal is null
                ? 0
                : t.Connection!.ExecuteScalar<long>("INSERT INTO journal (data) VALUES (@journal) RETURNING id", new { journal }, t);
        });

    /// <summary>Keeps the open chunks as they are, and forgets the journal up to what they hold.</summary>
    /// <param name="open">The open chunks that have changed.</param>
    /// <param name="upTo">The newest entry of the journal they hold.</param>
    /// <exception cref="StoreException">Nothing was kept or forgotten.</exception>
    public void KeepOpen(IReadOnlyCollection<HistoryChunk> open, long upTo) =>
        _file.Write(t =>
        {
            foreach (var chunk in open)
                t.Connection!.Execute(
                    "INSERT INTO open_chunk (series_id, scaling_id, data) VALUES (@Series, @Scaling, @Data) "
                        + "ON CONFLICT (series_id) DO UPDATE "
                        + "SET scaling_id = excluded.scaling_id, data = excluded.data",
                    new
                    {
                        chunk.Series,
                        chunk.Scaling,
                        chunk.Data,
                    },
                    t
                );
            return t.Connection!.Execute("DELETE FROM journal WHERE id <= @upTo", new { upTo }, t);
        });

    /// <summary>The chunks that were open when the journal began.</summary>
    public IReadOnlyList<(int Series, int Scaling, byte[] Data)> OpenChunks() =>
        _file.Read(c => c.Query<(int, int, byte[])>("SELECT series_id, scaling_id, data FROM open_chunk").ToArray());

    /// <summary>The journal, entry by entry.</summary>
    public IEnumerable<(long Id, byte[] Data)> Journal()
    {
        for (var after = 0L; ; )
        {
            var some = _file.Read(c =>
                c.Query<(long Id, byte[] Data)>("SELECT id, data FROM journal WHERE id > @after ORDER BY id LIMIT 50", new { after })
                    .ToArray()
            );
            if (some.Length == 0)
                yield break;
            foreach (var entry in some)
                yield return entry;
            after = some[^1].Id;
        }
    }

    /// <summary>Time of the newest value in closed chunks that came in their order, by series.</summary>
    public IReadOnlyDictionary<int, long> LastClosed() =>
        _file.Read(c =>
            c.Query<(int Series, long? Last)>(
                    "SELECT id, (SELECT last FROM chunk WHERE series_id = series.id AND late = 0 ORDER BY last DESC LIMIT 1) FROM series"
                )
                .Where(s => s.Last is not null)
                .ToDictionary(s => s.Series, s => s.Last!.Value)
        );

    /// <summary>Chunks with values in a stretch of time, and the newest one before it, in the order they were kept.</summary>
    /// <param name="series">The series.</param>
    /// <param name="from">Where it begins, in ticks.</param>
    /// <param name="to">Where it ends, in ticks.</param>
    /// <param name="most">The most chunks.</param>
    public IReadOnlyList<HistoryChunk> Chunks(int series, long from, long to, int most) =>
        _file.Read(c =>
            c.Query<(long Id, long First, long Last, int Count, bool IsLate, int Scaling, byte[] Data)>(
                    """
                    SELECT id, first, last, count, late, scaling_id, data FROM (
                        SELECT * FROM (SELECT * FROM chunk WHERE series_id = @series AND last >= @from AND last <= @to + @LongestSpan
                            AND first <= @to
                            ORDER BY last LIMIT @most)
                        UNION
                        SELECT * FROM (SELECT * FROM chunk WHERE series_id = @series AND last < @from ORDER BY last DESC LIMIT 1)
                        UNION
                        SELECT * FROM (SELECT * FROM chunk WHERE series_id = @series AND last > @to AND first > @to ORDER BY last LIMIT 1)
                    ) ORDER BY id
                    """,
                    new
                    {
                        series,
                        from,
                        to,
                        ChunkWriter.LongestSpan,
                        most,
                    }
                )
                .Select(r => new HistoryChunk(series, r.First, r.Last, r.Count, r.IsLate, r.Scaling, r.Data))
                .ToArray()
        );

    /// <summary>Blocks of rollups that reach into a stretch of time, by time.</summary>
    /// <param name="series">The series.</param>
    /// <param name="step">How long each rollup is.</param>
    /// <param name="from">The first block begins here or later.</param>
    /// <param name="to">The last one begins here or before.</param>
    public IReadOnlyList<HistoryBlock> Blocks(int series, long step, long from, long to) =>
        _file.Read(c =>
            c.Query<(long Start, byte[] Data)>(
                    "SELECT start, data FROM rollup WHERE series_id = @series AND step = @step AND start BETWEEN @from AND @to "
                        + "ORDER BY start",
                    new
                    {
                        series,
                        step,
                        from,
                        to,
                    }
                )
                .Select(r => new HistoryBlock(series, step, r.Start, r.Data))
                .ToArray()
        );

    /// <summary>Where the newest block before a time begins; null for none.</summary>
    public long? BlockBefore(int series, long step, long before) =>
        _file.Read(c =>
            c.QuerySingleOrDefault<long?>(
                "SELECT max(start) FROM rollup WHERE series_id = @series AND step = @step AND start < @before",
                new
                {
                    series,
                    step,
                    before,
                }
            )
        );

    /// <summary>How much of each series is kept.</summary>
    /// <remarks>The oldest value is in a chunk that ends within the longest stretch one covers after the first that ends.</remarks>
    public IReadOnlyDictionary<int, HistoryExtent> Extents() =>
        _file.Read(c =>
            c.Query<(int Series, long First, long Last, long Count, long Bytes, long RollupBytes)>(
                    """
                    SELECT series_id, (
                            SELECT min(first) FROM chunk WHERE series_id = extent.series_id
                                AND last <= @LongestSpan + (SELECT min(last) FROM chunk WHERE series_id = extent.series_id)
                        ), (SELECT max(last) FROM chunk WHERE series_id = extent.series_id), count, bytes, rollup_bytes
                    FROM extent WHERE count > 0
                    """,
                    new { ChunkWriter.LongestSpan }
                )
                .ToDictionary(r => r.Series, r => new HistoryExtent(r.Series, r.First, r.Last, r.Count, r.Bytes, r.RollupBytes))
        );

    /// <summary>True where something of a series ended before a time: asked before anything is written.</summary>
    /// <param name="series">The series.</param>
    /// <param name="before">In ticks.</param>
    /// <param name="summedBefore">The same for what is summed up.</param>
    public bool HasOlder(int series, long before, long summedBefore) =>
        _file.Read(c =>
            c.ExecuteScalar<bool>(
                """
                SELECT EXISTS (SELECT 1 FROM chunk WHERE series_id = @series AND last < @before)
                    OR EXISTS (SELECT 1 FROM json_each(@Steps) AS block JOIN rollup ON series_id = @series AND step = block.value ->> 0
                        AND start < @summedBefore - (block.value ->> 1))
                """,
                new
                {
                    series,
                    before,
                    summedBefore,
                    Steps,
                }
            )
        );

    /// <summary>Forgets what ended before a time, some of it: whoever wants all of it gone asks until nothing is left.</summary>
    /// <param name="series">The series.</param>
    /// <param name="before">In ticks.</param>
    /// <param name="summedBefore">The same for what is summed up.</param>
    /// <returns>How many chunks and blocks went.</returns>
    /// <exception cref="StoreException">None went.</exception>
    public int Forget(int series, long before, long summedBefore) =>
        _file.Write(t =>
            t.Connection!.Execute(
                "DELETE FROM chunk WHERE id IN (SELECT id FROM chunk WHERE series_id = @series AND last < @before LIMIT @MostForgotten)",
                new
                {
                    series,
                    before,
                    MostForgotten,
                },
                t
            )
            + t.Connection!.Execute(
                """
                DELETE FROM rollup WHERE rowid IN (SELECT rollup.rowid FROM json_each(@Steps) AS block JOIN rollup ON series_id = @series
                    AND step = block.value ->> 0 AND start < @summedBefore - (block.value ->> 1) LIMIT @MostForgotten)
                """,
                new
                {
                    series,
                    summedBefore,
                    Steps,
                    MostForgotten,
                },
                t
            )
        );

    /// <summary>The time before which a series holds more than so many newer values; null where it holds no more.</summary>
    public long? Beyond(int series, long count) =>
        _file.Read(c =>
            c.QuerySingleOrDefault<long?>(
                """
                SELECT max(first) FROM (SELECT first, sum(count) OVER (
                    ORDER BY last DESC ROWS BETWEEN UNBOUNDED PRECEDING AND 1 PRECEDING) AS newer
                    FROM chunk WHERE series_id = @series) WHERE newer >= @count
                    AND @count <= (SELECT count FROM extent WHERE series_id = @series)
                """,
                new { series, count }
            )
        );

    /// <summary>Takes out all that is kept of a series.</summary>
    /// <exception cref="StoreException">Nothing was taken out.</exception>
    public void TakeOut(int series) =>
        _file.Write(
            "DELETE FROM chunk WHERE series_id = @series; DELETE FROM rollup WHERE series_id = @series; DELETE FROM open_chunk WHERE "
                + "series_id = @series; DELETE FROM entry WHERE series_id = @series",
            new { series }
        );

    /// <summary>Keeps values somebody hands in, and who did.</summary>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepEntry(
        IReadOnlyCollection<HistoryChunk> chunks,
        IReadOnlyCollection<HistoryBlock> blocks,
        DateTimeOffset at,
        string who
    ) =>
        _file.Write(t =>
        {
            Add(t, chunks, blocks);
            return t.Connection!.Execute(
                "INSERT INTO entry (series_id, at, who, first, last, count) VALUES (@Series, @At, @who, @First, @Last, @Count)",
                chunks.Select(c => new
                {
                    c.Series,
                    At = at.UtcTicks,
                    who,
                    c.First,
                    c.Last,
                    c.Count,
                }),
                t
            );
        });

    private static void Add(
        Microsoft.Data.Sqlite.SqliteTransaction transaction,
        IReadOnlyCollection<HistoryChunk> chunks,
        IReadOnlyCollection<HistoryBlock> blocks
    )
    {
        var connection = transaction.Connection!;
        foreach (var chunk in chunks)
        {
            connection.Execute(
                "INSERT INTO chunk (series_id, first, last, count, late, scaling_id, data) "
                    + "VALUES (@Series, @First, @Last, @Count, @IsLate, @Scaling, @Data)",
                chunk,
                transaction
            );
            // What was open has been closed with it.
            if (!chunk.IsLate)
                connection.Execute("DELETE FROM open_chunk WHERE series_id = @Series", chunk, transaction);
        }
        foreach (var block in blocks)
            connection.Execute(
                "INSERT INTO rollup (series_id, step, start, data) VALUES (@Series, @Step, @Start, @Data) "
                    + "ON CONFLICT (series_id, step, start) DO UPDATE SET data = excluded.data",
                block,
                transaction
            );
    }
}
