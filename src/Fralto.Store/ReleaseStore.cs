using Dapper;
using Fralto.Core.Review;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>The releases of a plant, and the findings somebody accepts: kept with the model, and no part of it.</summary>
public sealed class ReleaseStore
{
    private const string Automatic = "release.automatic";

    private const string Columns =
        "number AS Number, at AS At, who AS Who, note AS Note, journal_id AS Head, hash AS Hash, changes AS Changes, errors AS Errors, "
        + "warnings AS Warnings, hints AS Hints, trial AS Trial, origin AS Origin, pause_ms AS Pause";

    private readonly SqliteFile _file;

    internal ReleaseStore(SqliteFile file) => _file = file;

    /// <summary>True while whatever is edited runs at once; null when nobody has chosen.</summary>
    public bool? IsAutomatic =>
        _file.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM meta WHERE key = @Automatic", new { Automatic })) switch
        {
            null => null,
            var text => text == "true",
        };

    /// <summary>Looks at a release of a plant that may be running meanwhile.</summary>
    /// <param name="directory">The directory of the plant.</param>
    /// <param name="number">The release.</param>
    /// <returns>It and what it holds; null when there is none of this number.</returns>
    /// <exception cref="StoreException">There is no plant, or it cannot be read.</exception>
    public static (Release Release, FrozenModel Content)? Look(string directory, int number)
    {
        var path = Path.Combine(directory, "plant.db");
        if (!File.Exists(path))
            throw new StoreException($"{directory} holds no plant; give its data directory with --data.");
        try
        {
            using var connection = new SqliteConnection(
                new SqliteConnectionStringBuilder
                {
                    DataSource = path,
                    Mode = SqliteOpenMode.ReadOnly,
                    Pooling = false,
                }.ToString()
            );
            connection.Open();
            var release = connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM release WHERE number = @number", new { number });
            return release is null
                ? null
                : (
                    release.ToRelease(),
                    new FrozenModel(
                        connection.ExecuteScalar<byte[]>("SELECT model FROM release WHERE number = @number", new { number })!,
                        release.Hash
                    )
                );
        }
        catch (SqliteException e)
        {
            throw new StoreException($"The plant in {directory} cannot be read: {SqliteFile.Words(e)}", e);
        }
    }

    /// <summary>All releases, the newest first, without what they hold.</summary>
    public IReadOnlyList<Release> All() =>
        _file.Read(c => c.Query<Row>($"SELECT {Columns} FROM release ORDER BY number DESC").Select(r => r.ToRelease()).ToArray());

    /// <summary>What a release holds; null when there is none of this number.</summary>
    public FrozenModel? Content(int number) =>
        _file.Read(c =>
            c.Query<(byte[] Model, string Hash)>("SELECT model, hash FROM release WHERE number = @number", new { number })
                .Select(r => new FrozenModel(r.Model, r.Hash))
                .FirstOrDefault()
        );

    /// <summary>Keeps a release, whole or not at all, and with it that nothing is released automatically any more.</summary>
    /// <param name="release">The release; its number must be free.</param>
    /// <param name="content">What it holds.</param>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void Add(Release release, FrozenModel content) =>
        _file.Write(transaction =>
        {
            transaction.Connection!.Execute(
                """
                INSERT INTO release (number, at, who, note, journal_id, hash, model, changes, errors, warnings, hints, trial, origin)
                VALUES (@Number, @At, @Who, @Note, @Head, @Hash, @Content, @Changes, @Errors, @Warnings, @Hints, @Trial, @Origin)
                """,
                new
                {
                    release.Number,
                    At = SqliteFile.Text(release.At),
                    release.Who,
                    release.Note,
                    release.Head,
                    release.Hash,
                    content.Content,
                    release.Changes,
                    release.Errors,
                    release.Warnings,
                    release.Hints,
                    Trial = release.Trial is { } trial ? Json.Write(trial) : null,
                    release.Origin,
                },
                transaction
            );
            return SetAutomatic(false, transaction);
        });

    /// <summary>Keeps whether whatever is edited runs at once.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetAutomatic(bool isAutomatic) => _file.Write(transaction => SetAutomatic(isAutomatic, transaction));

    private static bool SetAutomatic(bool isAutomatic, SqliteTransaction transaction)
    {
        transaction.Connection!.Execute(
            "INSERT INTO meta (key, value) VALUES (@Automatic, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
            new { Automatic, value = isAutomatic ? "true" : "false" },
            transaction
        );
        return isAutomatic;
    }

    /// <summary>Keeps how long the running plant stood still for a release.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetPause(int number, double milliseconds) =>
        _file.Write("UPDATE release SET pause_ms = @milliseconds WHERE number = @number", new { number, milliseconds });

    /// <summary>The findings somebody accepts.</summary>
    public IReadOnlyList<AcceptedFinding> Accepted() =>
        _file.Read(c =>
            c.Query<(string Key, string Reason, string Who, string At, string? Until)>(
                    "SELECT key, reason, who, at, until FROM accepted_finding ORDER BY at"
                )
                .Select(r => new AcceptedFinding(
                    r.Key,
                    r.Reason,
                    r.Who,
                    SqliteFile.Time(r.At),
                    r.Until is { } until ? SqliteFile.Time(until) : null
                ))
                .ToArray()
        );

    /// <summary>Accepts findings, each again in place of what was said before.</summary>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void Accept(IEnumerable<AcceptedFinding> findings) =>
        _file.Write(
            """
            INSERT INTO accepted_finding (key, reason, who, at, until) VALUES (@Key, @Reason, @Who, @At, @Until)
            ON CONFLICT (key) DO UPDATE SET reason = excluded.reason, who = excluded.who, at = excluded.at, until = excluded.until
            """,
            findings.Select(f => new
            {
                f.Key,
                f.Reason,
                f.Who,
                At = SqliteFile.Text(f.At),
                Until = f.Until is { } until ? SqliteFile.Text(until) : null,
            })
        );

    /// <summary>Accepts findings no longer.</summary>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void Reject(IEnumerable<string> keys) =>
        _file.Write("DELETE FROM accepted_finding WHERE key = @key", keys.Select(key => new { key }));

    private sealed record Row
    {
        public long Number { get; init; }
        public string At { get; init; } = "";
        public string Who { get; init; } = "";
        public string Note { get; init; } = "";
        public long Head { get; init; }
        public string Hash { get; init; } = "";
        public long Changes { get; init; }
        public long Errors { get; init; }
        public long Warnings { get; init; }
        public long Hints { get; init; }
        public string? Trial { get; init; }
        public string? Origin { get; init; }
        public double? Pause { get; init; }

        public Release ToRelease() =>
            new(
                (int)Number,
                SqliteFile.Time(At),
                Who,
                Note,
                Head,
                Hash,
                (int)Changes,
                (int)Errors,
                (int)Warnings,
                (int)Hints,
                Trial is null ? null : Json.Read<TrialReport>(Trial),
                Origin,
                Pause
            );
    }
}
