using System.Collections.Immutable;
using System.Globalization;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Fralto.Core.Binding;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>The model, its journal and the alarms of one plant, in one SQLite file.</summary>
/// <remarks>One connection, one writer. Every edit is one transaction, on disk before <see cref="Append"/> returns.</remarks>
public sealed class PlantStore : IDisposable
{
    private readonly SqliteConnection _connection;
    private readonly Lock _lock = new();

    private PlantStore(SqliteConnection connection) => _connection = connection;

    /// <summary>Opens the plant in a file, creating it when missing and bringing its tables up to date.</summary>
    /// <exception cref="StoreException">The file cannot be opened, is no plant, or is of a later version.</exception>
    public static PlantStore Open(string file)
    {
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(file))!);
            var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, ForeignKeys = true, Pooling = false }.ToString());
            connection.Open();
            connection.Execute("PRAGMA page_size = 16384; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA busy_timeout = 5000;");
            Migrate(file);
            return new PlantStore(connection);
        }
        catch (Exception e) when (e is SqliteException or IOException or UnauthorizedAccessException)
        {
            throw new StoreException($"The plant in {file} cannot be opened: {e.Message}", e);
        }
    }

    /// <summary>Reads the whole model.</summary>
    public PlantModel Load()
    {
        lock (_lock) return ModelRows.Read(_connection);
    }

    /// <summary>Writes the changes of one edit and its journal entry in one transaction.</summary>
    /// <param name="outcome">The edit's outcome, not a refused one.</param>
    /// <param name="nextId">The model's next free id after the edit.</param>
    /// <param name="who">Who made it.</param>
    /// <param name="at">When.</param>
    /// <param name="kind">What the entry is.</param>
    /// <param name="target">The edit it takes back or makes again.</param>
    /// <returns>The number of the journal entry.</returns>
    public long Append(EditOutcome outcome, long nextId, string who, DateTimeOffset at, JournalKind kind = JournalKind.Edit, long? target = null)
    {
        lock (_lock)
        {
            using var transaction = _connection.BeginTransaction();
            ModelRows.Write(_connection, transaction, outcome.Changes);
            _connection.Execute(
                "INSERT INTO meta (key, value) VALUES ('next_id', @nextId) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
                new { nextId = nextId.ToString(CultureInfo.InvariantCulture) }, transaction);
            var id = _connection.ExecuteScalar<long>(
                "INSERT INTO journal (at, who, summary, changes, kind, target) VALUES (@At, @who, @Summary, @Changes, @Kind, @target) RETURNING id",
                new { At = Text(at), who, outcome.Summary, Changes = Json.Write(outcome.Changes.Select(ChangeRow.Of)), Kind = kind.ToString(), target }, transaction);
            _connection.Execute(
                "INSERT OR IGNORE INTO journal_place (journal_id, equipment_id) VALUES (@id, @place)",
                outcome.Changes.SelectMany(PlacesOf).Distinct().Select(place => new { id, place }), transaction);
            transaction.Commit();
            return id;
        }
    }

    /// <summary>The newest journal entries, newest first.</summary>
    /// <param name="count">How many.</param>
    /// <param name="places">Only entries that touched one of these; null for all.</param>
    /// <param name="before">Only entries with a lower number.</param>
    public IReadOnlyList<JournalEntry> Journal(int count, IReadOnlyCollection<long>? places = null, long before = long.MaxValue)
    {
        const string Columns = "SELECT id, at, who, summary, kind, target FROM journal";
        lock (_lock)
            return [.. (places is null
                    ? _connection.Query<(long, string, string, string, string, long?)>($"{Columns} WHERE id < @before ORDER BY id DESC LIMIT @count", new { count, before })
                    : _connection.Query<(long, string, string, string, string, long?)>(
                        $"{Columns} WHERE id < @before AND id IN (SELECT journal_id FROM journal_place WHERE equipment_id IN (SELECT value FROM json_each(@ids))) ORDER BY id DESC LIMIT @count",
                        new { count, before, ids = Json.Write(places) }))
                .Select(row => new JournalEntry(row.Item1, Time(row.Item2), row.Item3, row.Item4, Enum.Parse<JournalKind>(row.Item5), row.Item6))];
    }

    /// <summary>One entry without what it changed; null when there is none of this number.</summary>
    public JournalEntry? Head(long id)
    {
        lock (_lock)
            return _connection.Query<(long, string, string, string, string, long?)>("SELECT id, at, who, summary, kind, target FROM journal WHERE id = @id", new { id })
                .Select(row => new JournalEntry(row.Item1, Time(row.Item2), row.Item3, row.Item4, Enum.Parse<JournalKind>(row.Item5), row.Item6)).FirstOrDefault();
    }

    /// <summary>What each edit has become, oldest first: number, kind and target of every entry.</summary>
    public IReadOnlyList<(long Id, JournalKind Kind, long? Target)> JournalKinds()
    {
        lock (_lock)
            return [.. _connection.Query<(long Id, string Kind, long? Target)>("SELECT id, kind, target FROM journal ORDER BY id")
                .Select(row => (row.Id, Enum.Parse<JournalKind>(row.Kind), row.Target))];
    }

    /// <summary>One entry with what it changed; null when there is none of this number.</summary>
    public (JournalEntry Entry, ImmutableArray<ModelChange> Changes)? Entry(long id)
    {
        lock (_lock)
        {
            var rows = _connection.Query<(long, string, string, string, string, long?, string)>(
                "SELECT id, at, who, summary, kind, target, changes FROM journal WHERE id = @id", new { id }).ToArray();
            return rows.Length == 0 ? null : rows[0] is var row ? (
                new JournalEntry(row.Item1, Time(row.Item2), row.Item3, row.Item4, Enum.Parse<JournalKind>(row.Item5), row.Item6),
                [.. Json.Read<ChangeRow[]>(row.Item7).Select(c => c.ToChange())]) : null;
        }
    }

    /// <summary>A value kept beside the model; null when there is none.</summary>
    public string? Note(string key)
    {
        lock (_lock) return _connection.QuerySingleOrDefault<string>("SELECT value FROM meta WHERE key = @key", new { key });
    }

    /// <summary>Keeps a value beside the model.</summary>
    public void SetNote(string key, string value)
    {
        lock (_lock) _connection.Execute("INSERT INTO meta (key, value) VALUES (@key, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value", new { key, value });
    }

    /// <summary>The encrypted password of a controller; null when it has none.</summary>
    public string? Secret(long controllerId)
    {
        lock (_lock) return _connection.QuerySingleOrDefault<string>("SELECT secret FROM secret WHERE controller_id = @controllerId", new { controllerId });
    }

    /// <summary>Keeps the encrypted password of a controller; null forgets it.</summary>
    public void SetSecret(long controllerId, string? secret)
    {
        lock (_lock)
            _connection.Execute(
                secret is null ? "DELETE FROM secret WHERE controller_id = @controllerId" : "INSERT INTO secret (controller_id, secret) VALUES (@controllerId, @secret) ON CONFLICT (controller_id) DO UPDATE SET secret = excluded.secret",
                new { controllerId, secret });
    }

    /// <summary>What a tag of memory held last, as text; null when nothing was kept.</summary>
    public string? MemoryValue(long tagId)
    {
        lock (_lock) return _connection.QuerySingleOrDefault<string>("SELECT value FROM memory_value WHERE tag_id = @tagId", new { tagId });
    }

    /// <summary>Keeps what a tag of memory holds.</summary>
    public void SetMemoryValue(long tagId, string value, DateTimeOffset at)
    {
        lock (_lock)
            _connection.Execute("INSERT INTO memory_value (tag_id, value, at) VALUES (@tagId, @value, @At) ON CONFLICT (tag_id) DO UPDATE SET value = excluded.value, at = excluded.at", new { tagId, value, At = Text(at) });
    }

    /// <summary>Notes a command and what came of it.</summary>
    public void AppendCommand(CommandEntry entry)
    {
        lock (_lock)
            _connection.Execute(
                "INSERT INTO command (at, who, target, before, wanted, written, outcome, reason) VALUES (@When, @Who, @Target, @Before, @Wanted, @Written, @Outcome, @Reason)",
                new { When = Text(entry.At), entry.Who, entry.Target, entry.Before, entry.Wanted, entry.Written, entry.Outcome, entry.Reason });
    }

    /// <summary>The newest commands, newest first.</summary>
    public IReadOnlyList<CommandEntry> Commands(int count)
    {
        lock (_lock)
            return [.. _connection.Query<(string At, string Who, string Target, string Before, string Wanted, string Written, string Outcome, string Reason)>(
                    "SELECT at, who, target, before, wanted, written, outcome, reason FROM command ORDER BY id DESC LIMIT @count", new { count })
                .Select(r => new CommandEntry(Time(r.At), r.Who, r.Target, r.Before, r.Wanted, r.Written, r.Outcome, r.Reason))];
    }

    /// <summary>Replaces the kept alarms by these.</summary>
    public void SaveAlarms(IEnumerable<Alarm> alarms)
    {
        lock (_lock)
        {
            using var transaction = _connection.BeginTransaction();
            _connection.Execute("DELETE FROM alarm", transaction: transaction);
            _connection.Execute(
                """
                INSERT INTO alarm (equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by)
                VALUES (@EquipmentId, @PropertyId, @Condition, @State, @RaisedAt, @RaisedValue, @ClearedAt, @AcknowledgedBy)
                """,
                alarms.Select(a => new
                {
                    a.Key.EquipmentId,
                    a.Key.PropertyId,
                    Condition = a.Key.Condition.ToString(),
                    State = a.State.ToString(),
                    RaisedAt = Text(a.RaisedAt),
                    a.RaisedValue,
                    ClearedAt = a.ClearedAt is { } cleared ? Text(cleared) : null,
                    a.AcknowledgedBy,
                }),
                transaction);
            transaction.Commit();
        }
    }

    /// <summary>The alarms kept last.</summary>
    public IReadOnlyList<Alarm> LoadAlarms()
    {
        lock (_lock)
            return [.. _connection
                .Query<(long EquipmentId, long PropertyId, string Condition, string State, string RaisedAt, double RaisedValue, string? ClearedAt, string? Who)>(
                    "SELECT equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by FROM alarm")
                .Select(row => new Alarm(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Enum.Parse<LimitCondition>(row.Condition)), Enum.Parse<AlarmState>(row.State),
                    Time(row.RaisedAt), row.RaisedValue, row.ClearedAt is null ? null : Time(row.ClearedAt), row.Who))];
    }

    public void Dispose() => _connection.Dispose();

    private static IEnumerable<long> PlacesOf(ModelChange change) => new[] { change.Before, change.After }.SelectMany(entity => entity switch
    {
        Equipment it => it.ParentId is { } parent ? new[] { it.Id, parent } : [it.Id],
        PropertyBinding it => [it.EquipmentId],
        _ => Array.Empty<long>(),
    });

    private static void Migrate(string file)
    {
        var result = DeployChanges.To.SqliteDatabase($"Data Source={file};Pooling=False")
            .WithScriptsEmbeddedInAssembly(typeof(PlantStore).Assembly)
            .WithTransactionPerScript()
            .LogTo(new NoOpUpgradeLog())
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new StoreException($"The tables in {file} could not be brought up to date ({result.ErrorScript?.Name}): {result.Error.Message}", result.Error);
    }

    private static string Text(DateTimeOffset time) => time.UtcDateTime.ToString("O", CultureInfo.InvariantCulture);

    private static DateTimeOffset Time(string text) => DateTimeOffset.Parse(text, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal);
}
