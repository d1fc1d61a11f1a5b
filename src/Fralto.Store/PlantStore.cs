using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using Dapper;
using Fralto.Core.Bindings;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Templates;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>A plant on disk: the model and its journal in one SQLite file, what the running plant keeps in another beside it
/// (<see cref="Run"/>).</summary>
/// <remarks>Every edit is one transaction, on disk before <see cref="Append"/> returns. However long it takes, the running plant goes on
/// keeping what it has to keep, and readers read.</remarks>
public sealed class PlantStore : IDisposable
{
    private const string PlantNote = "plant";
    private const string Migrations = "Fralto.Store.Migrations.";

    /// <summary>The first script that knows of no run state any more: before it runs, that is copied.</summary>
    private const string RunStateApart = Migrations + "0009";

    private readonly SqliteFile _file;
    private readonly SqliteFile _runFile;
    private readonly SqliteFile _historyFile;
    private readonly DirectoryLock _directory;
    private readonly TimeProvider _clock;
    private readonly Lock _lock = new();
    private string? _told;

    private PlantStore(SqliteFile file, SqliteFile runFile, SqliteFile historyFile, DirectoryLock directory, TimeProvider clock)
    {
        (_file, _runFile, _historyFile, _directory, _clock) = (file, runFile, historyFile, directory, clock);
        (Run, History) = (new RunStore(runFile), new HistoryStore(historyFile));
        _historyFile.TroubleChanged += TellTrouble;
        Releases = new ReleaseStore(file);
        _file.TroubleChanged += TellTrouble;
        _runFile.TroubleChanged += TellTrouble;
    }

    /// <summary>Raised when nothing can be kept any more, and with null when it can again.</summary>
    public event Action<StorageTrouble?>? TroubleChanged;

    /// <summary>Why nothing can be kept at present; null while everything can.</summary>
    public StorageTrouble? Trouble =>
        _file.Trouble
        ?? _runFile.Trouble
        ?? (_historyFile.Trouble is { } its ? its with { Words = $"nothing can be recorded, {its.Words}" } : null);

    /// <summary>What the running plant keeps: alarms, commands, values of memory, passwords, notes.</summary>
    public RunStore Run { get; }

    /// <summary>What was recorded.</summary>
    public HistoryStore History { get; }

    /// <summary>The releases.</summary>
    public ReleaseStore Releases { get; }

    /// <summary>Opens the plant in a file, creating it when missing and bringing its tables up to date. The directory is this process's
    /// alone until it is closed.</summary>
    /// <param name="file">The file of the model; that of the running plant, run.db, lies beside it.</param>
    /// <param name="holder">What opens it, in words, for a second process that would.</param>
    /// <param name="clock">The clock; the system's when null.</param>
    /// <param name="startAnew">True takes out what is there, once the directory is this process's.</param>
    /// <exception cref="StoreException">A file cannot be opened, is no plant, is damaged, or the directory is in use.</exception>
    public static PlantStore Open(string file, string holder = "Fralto", TimeProvider? clock = null, bool startAnew = false)
    {
        file = Path.GetFullPath(file);
        clock ??= TimeProvider.System;
        var directory = Path.GetDirectoryName(file)!;
        var (runFile, historyFile) = (Path.Combine(directory, "run.db"), Path.Combine(directory, "history.db"));
        DirectoryLock? held = null;
        SqliteFile? model = null,
            run = null,
            history = null;
        try
        {
            Directory.CreateDirectory(directory);
            held = DirectoryLock.Take(directory, holder);
            PlantBackup.RefuseHalf(directory);
            if (startAnew)
                foreach (var its in new[] { file, runFile, historyFile })
                    SqliteFile.Delete(its);
            model = SqliteFile.Open(file, "meta", clock);
            model.Migrate(name => IsOfModel(name) && string.CompareOrdinal(name, RunStateApart) < 0);
            run = OpenRun(runFile, model, clock);
            MoveRunState(model, run);
            model.Migrate(IsOfModel);
            history = OpenHistory(historyFile, model, clock);
            return new PlantStore(model, run, history, held, clock);
        }
        catch (Exception e)
        {
            model?.Dispose();
            run?.Dispose();
            history?.Dispose();
            held?.Dispose();
            if (e is SqliteException or IOException or UnauthorizedAccessException)
                throw new StoreException(
                    $"The plant in {file} cannot be opened: {(e is SqliteException s ? SqliteFile.Words(s) : e.Message)}",
                    e
                );
            throw;
        }
    }

    /// <summary>Opens the file of the running plant. One that belongs to another plant would hand this one its alarms, values and
    /// passwords: it is put out of the way.</summary>
    private static SqliteFile OpenRun(string path, SqliteFile model, TimeProvider clock)
    {
        var plant = model.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM meta WHERE key = @PlantNote", new { PlantNote }));
        var run = SqliteFile.Open(path, "note", clock);
        try
        {
            run.Migrate(IsOfRun);
            var its = new RunStore(run).Note(PlantNote);
            if (its is not null && its != plant)
            {
                run.Dispose();
                SqliteFile.Move(
                    path,
                    Path.Combine(Path.GetDirectoryName(path)!, $"run-of-another-plant-{clock.GetUtcNow():yyyyMMddHHmmss}.db")
                );
                run = SqliteFile.Open(path, "note", clock);
                run.Migrate(IsOfRun);
                its = null;
            }
            if (plant is null)
            {
                plant = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(8));
                model.Write("INSERT INTO meta (key, value) VALUES (@PlantNote, @plant)", new { PlantNote, plant });
            }
            if (its is null)
                new RunStore(run).SetNote(PlantNote, plant);
            return run;
        }
        catch
        {
            run.Dispose();
            throw;
        }
    }

    /// <summary>Opens the file of what was recorded. One that is damaged, or another plant's, is put out of the way: the plant runs, and
    /// records
    /// into a new one.</summary>
    private static SqliteFile OpenHistory(string path, SqliteFile model, TimeProvider clock)
    {
        var plant = model.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM meta WHERE key = @PlantNote", new { PlantNote }))
            ?? "";
        for (var isAgain = false; ; isAgain = true)
        {
            SqliteFile? history = null;
            try
            {
                history = SqliteFile.Open(path, "note", clock);
                history.Migrate(name => name.StartsWith(Migrations + "History.", StringComparison.Ordinal));
                var its = new HistoryStore(history).Note(PlantNote);
                if (its is null)
                    new HistoryStore(history).SetNote(PlantNote, plant);
                if (its is null || its == plant)
                    return history;
                history.Dispose();
            }
            catch (Exception e) when (!isAgain && e is SqliteException or StoreException && IsDamaged(e))
            {
                history?.Dispose();
            }
            if (isAgain)
                throw new StoreException($"{path} cannot be opened.");
            SqliteFile.Move(path, Path.Combine(Path.GetDirectoryName(path)!, $"history-put-aside-{clock.GetUtcNow():yyyyMMddHHmmss}.db"));
        }
    }

    private static bool IsDamaged(Exception e) =>
        (e as SqliteException ?? e.InnerException as SqliteException)?.SqliteErrorCode is 11 or 26;

    /// <summary>What earlier versions kept in the model's file comes over, once.</summary>
    private static void MoveRunState(SqliteFile model, SqliteFile run)
    {
        if (model.Read(c => c.ExecuteScalar<long>("SELECT count(*) FROM sqlite_master WHERE name = 'alarm_event'")) == 0)
            return;
        run.CopyFrom(
            model.Path,
            [
                ("alarm", "equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by"),
                ("alarm_event", "id, at, equipment_id, property_id, condition, state, cause, value, path, priority, who"),
                ("command", "id, at, who, target, before, wanted, written, outcome, reason"),
                ("memory_value", "tag_id, value, at"),
                ("secret", "controller_id, secret, place"),
            ]
        );
        foreach (
            var (key, value) in model.Read(c =>
                c.Query<(string, string)>("SELECT key, value FROM meta WHERE key IN ('instance', 'demo')").ToArray()
            )
        )
            new RunStore(run).SetNote(key, value);
    }

    private static bool IsOfRun(string script) => script.StartsWith(Migrations + "Run.", StringComparison.Ordinal);

    private static bool IsOfModel(string script) =>
        script.StartsWith(Migrations, StringComparison.Ordinal)
        && !IsOfRun(script)
        && !script.StartsWith(Migrations + "History.", StringComparison.Ordinal);

    private void TellTrouble()
    {
        var trouble = Trouble;
        lock (_lock)
        {
            if (_told == trouble?.Words)
                return;
            _told = trouble?.Words;
        }
        TroubleChanged?.Invoke(trouble);
    }

    /// <summary>Reads the whole model, whatever the file holds: what cannot be read is set aside and named, and a copy of it is
    /// kept.</summary>
    /// <exception cref="StoreException">The file is damaged.</exception>
    public LoadedModel Load()
    {
        LoadedModel loaded;
        try
        {
            loaded = _file.Read(connection => new ModelReader(connection).Read());
        }
        catch (SqliteException e)
        {
            throw new StoreException($"The plant in {_file.Path} cannot be read: {SqliteFile.Words(e)}", e);
        }
        try
        {
            // An edit may later write over the row; what it held is not lost with it.
            if (loaded.Aside.Count > 0)
                _file.Write(
                    "INSERT OR IGNORE INTO set_aside (kind, entity_id, name, why, kept, at) VALUES (@Kind, @Id, @Name, @Why, @Kept, @At)",
                    loaded.Aside.Select(a => new
                    {
                        a.Kind,
                        a.Id,
                        a.Name,
                        a.Why,
                        Kept = a.Row,
                        At = SqliteFile.Text(_clock.GetUtcNow()),
                    })
                );
        }
        catch (StoreException)
        {
            // The row itself is still there; the trouble is told of where all trouble with the file is.
        }
        return loaded;
    }

    /// <summary>Writes the changes of one edit and its journal entry in one transaction.</summary>
    /// <param name="outcome">The edit's outcome, not a refused one.</param>
    /// <param name="nextId">The model's next free id after the edit.</param>
    /// <param name="who">Who made it.</param>
    /// <param name="at">When.</param>
    /// <param name="kind">What the entry is.</param>
    /// <param name="target">The edit it takes back or makes again.</param>
    /// <returns>The number of the journal entry.</returns>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public long Append(
        EditOutcome outcome,
        long nextId,
        string who,
        DateTimeOffset at,
        JournalKind kind = JournalKind.Edit,
        long? target = null
    )
    {
        return _file.Write(transaction =>
        {
            var connection = transaction.Connection!;
            ModelRows.Write(connection, transaction, outcome.Changes);
            connection.Execute(
                "INSERT INTO meta (key, value) VALUES ('next_id', @nextId) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
                new { nextId = nextId.ToString(CultureInfo.InvariantCulture) },
                transaction
            );
            var id = connection.ExecuteScalar<long>(
                "INSERT INTO journal (at, who, summary, changes, kind, target) VALUES (@At, @who, @Summary, @Changes, @Kind, @target) "
                    + "RETURNING id",
                new
                {
                    At = SqliteFile.Text(at),
                    who,
                    outcome.Summary,
                    Changes = Json.Write(outcome.Changes.Select(ChangeRow.Of)),
                    Kind = kind.ToString(),
                    target,
                },
                transaction
            );
            connection.Execute(
                "INSERT OR IGNORE INTO journal_place (journal_id, equipment_id) VALUES (@id, @place)",
                outcome.Changes.SelectMany(PlacesOf).Distinct().Select(place => new { id, place }),
                transaction
            );
            return id;
        });
    }

    /// <summary>The newest journal entries, newest first.</summary>
    /// <param name="count">How many.</param>
    /// <param name="places">Only entries that touched one of these, instances, places or templates; null for all.</param>
    /// <param name="before">Only entries with a lower number.</param>
    public IReadOnlyList<JournalEntry> Journal(int count, IReadOnlyCollection<long>? places = null, long before = long.MaxValue)
    {
        const string Columns = "SELECT id, at, who, summary, kind, target FROM journal";
        return _file.Read(connection => (
                places is null
                    ? connection.Query<(long, string, string, string, string, long?)>(
                        $"{Columns} WHERE id < @before ORDER BY id DESC LIMIT @count",
                        new { count, before }
                    )
                    : connection.Query<(long, string, string, string, string, long?)>(
                        $"{Columns} WHERE id < @before AND id IN (SELECT journal_id FROM journal_place WHERE equipment_id IN (SELECT "
                            + $"value FROM json_each(@ids))) ORDER BY id DESC LIMIT @count",
                        new
                        {
                            count,
                            before,
                            ids = Json.Write(places),
                        }
                    )
            ).Select(EntryOf).ToArray());
    }

    /// <summary>One entry without what it changed; null when there is none of this number.</summary>
    public JournalEntry? Head(long id) =>
        _file.Read(connection =>
            connection
                .Query<(long, string, string, string, string, long?)>(
                    "SELECT id, at, who, summary, kind, target FROM journal WHERE id = @id",
                    new { id }
                )
                .Select(EntryOf)
                .FirstOrDefault()
        );

    /// <summary>What each edit has become, oldest first: number, kind, target and maker of every entry.</summary>
    public IReadOnlyList<(long Id, JournalKind Kind, long? Target, string Who)> JournalKinds() =>
        _file.Read(connection =>
            connection
                .Query<(long Id, string Kind, long? Target, string Who)>("SELECT id, kind, target, who FROM journal ORDER BY id")
                .Select(row => (row.Id, Enum.Parse<JournalKind>(row.Kind), row.Target, row.Who))
                .ToArray()
        );

    /// <summary>One entry with what it changed; null when there is none of this number.</summary>
    public (JournalEntry Entry, ImmutableArray<ModelChange> Changes)? Entry(long id) =>
        _file.Read(connection =>
            connection
                .Query<(long, string, string, string, string, long?, string)>(
                    "SELECT id, at, who, summary, kind, target, changes FROM journal WHERE id = @id",
                    new { id }
                )
                .Select(row =>
                    ((JournalEntry, ImmutableArray<ModelChange>)?)
                        (EntryOf((row.Item1, row.Item2, row.Item3, row.Item4, row.Item5, row.Item6)), Changes(row.Item7))
                )
                .FirstOrDefault()
        );

    private static JournalEntry EntryOf((long Id, string At, string Who, string Summary, string Kind, long? Target) row) =>
        new(row.Id, SqliteFile.Time(row.At), row.Who, row.Summary, Enum.Parse<JournalKind>(row.Kind), row.Target);

    /// <summary>What an entry changed; nothing when it can no longer be read.</summary>
    private static ImmutableArray<ModelChange> Changes(string json)
    {
        try
        {
            return [.. Json.Read<ChangeRow[]>(json).Select(c => c.ToChange())];
        }
        catch (Exception e)
            when (e
                    is System.Text.Json.JsonException
                        or FormatException
                        or ArgumentException
                        or KeyNotFoundException
                        or InvalidOperationException
                        or NotSupportedException
                        or NullReferenceException
            )
        {
            return [];
        }
    }

    public void Dispose()
    {
        _file.Dispose();
        _runFile.Dispose();
        _historyFile.Dispose();
        _directory.Dispose();
    }

    private static IEnumerable<long> PlacesOf(ModelChange change) =>
        new[] { change.Before, change.After }.SelectMany(entity =>
            entity switch
            {
                Equipment it => it.ParentId is { } parent ? new[] { it.Id, parent } : [it.Id],
                PropertyBinding it => [it.EquipmentId],
                Template it => [it.Id],
                _ => Array.Empty<long>(),
            }
        );
}
