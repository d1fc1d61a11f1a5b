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
    private readonly DirectoryLock _directory;
    private readonly string _file;
    private readonly TimeProvider _clock;
    private readonly Lock _lock = new();
    private StorageTrouble? _trouble;

    private PlantStore(SqliteConnection connection, DirectoryLock directory, string file, TimeProvider clock) => (_connection, _directory, _file, _clock) = (connection, directory, file, clock);

    /// <summary>Raised when nothing can be kept any more, and with null when it can again.</summary>
    public event Action<StorageTrouble?>? TroubleChanged;

    /// <summary>Why nothing can be kept at present; null while everything can.</summary>
    public StorageTrouble? Trouble => Volatile.Read(ref _trouble);

    /// <summary>Opens the plant in a file, creating it when missing and bringing its tables up to date. The directory is this process's alone until it is closed.</summary>
    /// <param name="file">The file.</param>
    /// <param name="holder">What opens it, in words, for a second process that would.</param>
    /// <param name="clock">The clock; the system's when null.</param>
    /// <param name="startAnew">True takes out what is there, once the directory is this process's.</param>
    /// <exception cref="StoreException">The file cannot be opened, is no plant, is damaged, or its directory is in use.</exception>
    public static PlantStore Open(string file, string holder = "Fralto", TimeProvider? clock = null, bool startAnew = false)
    {
        file = Path.GetFullPath(file);
        var directory = Path.GetDirectoryName(file)!;
        DirectoryLock? held = null;
        try
        {
            Directory.CreateDirectory(directory);
            held = DirectoryLock.Take(directory, holder);
            if (startAnew)
                foreach (var its in new[] { file, $"{file}-wal", $"{file}-shm" }) File.Delete(its);
            KeepPrivate(file);
            var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = file, ForeignKeys = true, Pooling = false }.ToString());
            connection.Open();
            connection.Execute("PRAGMA page_size = 16384; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA busy_timeout = 5000;");
            Migrate(file);
            return new PlantStore(connection, held, file, clock ?? TimeProvider.System);
        }
        catch (Exception e) when (e is SqliteException or IOException or UnauthorizedAccessException)
        {
            held?.Dispose();
            throw new StoreException($"The plant in {file} cannot be opened: {(e is SqliteException s ? Words(s) : e.Message)}", e);
        }
        catch (StoreException)
        {
            held?.Dispose();
            throw;
        }
    }

    /// <summary>Only its owner reads a plant: it holds what the plant is made of, and passwords, if encrypted.</summary>
    private static void KeepPrivate(string file)
    {
        const UnixFileMode Private = UnixFileMode.UserRead | UnixFileMode.UserWrite;
        if (OperatingSystem.IsWindows()) return;
        if (!File.Exists(file)) new FileStream(file, new FileStreamOptions { Mode = FileMode.OpenOrCreate, Access = FileAccess.ReadWrite, UnixCreateMode = Private }).Dispose();
        foreach (var its in new[] { file, $"{file}-wal", $"{file}-shm" })
            if (File.Exists(its) && (File.GetUnixFileMode(its) & ~Private) != 0) File.SetUnixFileMode(its, Private);
    }

    /// <summary>Writes in one transaction. What cannot be written leaves everything as it was, and the trouble is remembered until something can be written again.</summary>
    /// <exception cref="StoreException">Nothing was written; the message says why.</exception>
    private T Write<T>(Func<SqliteTransaction, T> write)
    {
        StorageTrouble? before, after;
        StoreException? failure = null;
        T result = default!;
        lock (_lock)
        {
            before = _trouble;
            try
            {
                // A file that was taken away goes on taking what is written, and none of it is ever seen again.
                if (!File.Exists(_file)) throw new StoreException($"the plant's file {_file} is gone; put it back, or stop Fralto and begin anew");
                using var transaction = _connection.BeginTransaction();
                result = write(transaction);
                transaction.Commit();
                after = null;
            }
            catch (SqliteException e) when (e.SqliteErrorCode == SqliteConstraint)
            {
                // Not the disk's fault: what was set aside when the plant was read still has its name, or is still referred to.
                (failure, after) = (new StoreException($"it is at odds with something that is kept but could not be read ({e.Message})", e), before);
            }
            catch (Exception e) when (e is SqliteException or StoreException)
            {
                var words = e is SqliteException s ? Words(s) : e.Message;
                (failure, after) = (new StoreException(words, e), new StorageTrouble(words, before?.Since ?? _clock.GetUtcNow()));
            }
            _trouble = after;
        }
        if (before?.Words != after?.Words) TroubleChanged?.Invoke(after);
        return failure is null ? result : throw failure;
    }

    private void Write(string sql, object? parameters) => Write(transaction => _connection.Execute(sql, parameters, transaction));

    private const int SqliteConstraint = 19;

    /// <summary>What a fault of the file means (SQLite, result codes).</summary>
    private static string Words(SqliteException e) => e.SqliteErrorCode switch
    {
        13 => "the disk is full",
        8 => "the plant's file is read-only",
        10 => $"the disk fails ({e.Message})",
        5 or 6 => "another program holds the plant's file",
        11 or 26 => "the file is damaged, or is no plant; put back a copy of it",
        14 => "the plant's file cannot be opened; perhaps its directory may not be written to",
        _ => e.Message,
    };

    /// <summary>Reads the whole model, whatever the file holds: what cannot be read is set aside and named, and a copy of it is kept.</summary>
    /// <exception cref="StoreException">The file is damaged.</exception>
    public LoadedModel Load()
    {
        LoadedModel loaded;
        try
        {
            lock (_lock) loaded = new ModelReader(_connection).Read();
        }
        catch (SqliteException e)
        {
            throw new StoreException($"The plant in {_file} cannot be read: {Words(e)}", e);
        }
        try
        {
            // An edit may later write over the row; what it held is not lost with it.
            if (loaded.Aside.Count > 0)
                Write(
                    "INSERT OR IGNORE INTO set_aside (kind, entity_id, name, why, kept, at) VALUES (@Kind, @Id, @Name, @Why, @Kept, @At)",
                    loaded.Aside.Select(a => new { a.Kind, a.Id, a.Name, a.Why, a.Kept, At = Text(_clock.GetUtcNow()) }));
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
    public long Append(EditOutcome outcome, long nextId, string who, DateTimeOffset at, JournalKind kind = JournalKind.Edit, long? target = null)
    {
        return Write(transaction =>
        {
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
            return id;
        });
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
                Changes(row.Item7)) : null;
        }
    }

    /// <summary>What an entry changed; nothing when it can no longer be read.</summary>
    private static ImmutableArray<ModelChange> Changes(string json)
    {
        try
        {
            return [.. Json.Read<ChangeRow[]>(json).Select(c => c.ToChange())];
        }
        catch (Exception e) when (e is System.Text.Json.JsonException or FormatException or ArgumentException or KeyNotFoundException or InvalidOperationException or NotSupportedException or NullReferenceException)
        {
            return [];
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
        Write("INSERT INTO meta (key, value) VALUES (@key, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value", new { key, value });
    }

    /// <summary>The encrypted password of a controller, and the place it was given for: null when it was kept before places were; null when it has none.</summary>
    public (string Secret, string? Place)? Secret(long controllerId)
    {
        lock (_lock)
            return _connection.Query<(string, string?)>("SELECT secret, place FROM secret WHERE controller_id = @controllerId", new { controllerId }).Select(r => ((string, string?)?)r).FirstOrDefault();
    }

    /// <summary>Keeps the encrypted password of a controller for one place; null forgets it.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetSecret(long controllerId, string? secret, string? place) => Write(
        secret is null ? "DELETE FROM secret WHERE controller_id = @controllerId"
            : "INSERT INTO secret (controller_id, secret, place) VALUES (@controllerId, @secret, @place) ON CONFLICT (controller_id) DO UPDATE SET secret = excluded.secret, place = excluded.place",
        new { controllerId, secret, place });

    /// <summary>What a tag of memory held last, as text; null when nothing was kept.</summary>
    public string? MemoryValue(long tagId)
    {
        lock (_lock) return _connection.QuerySingleOrDefault<string>("SELECT value FROM memory_value WHERE tag_id = @tagId", new { tagId });
    }

    /// <summary>Keeps what a tag of memory holds.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetMemoryValue(long tagId, string value, DateTimeOffset at) =>
        Write("INSERT INTO memory_value (tag_id, value, at) VALUES (@tagId, @value, @At) ON CONFLICT (tag_id) DO UPDATE SET value = excluded.value, at = excluded.at", new { tagId, value, At = Text(at) });

    /// <summary>Notes a command before it is sent.</summary>
    /// <returns>The number of the entry, for what came of it.</returns>
    /// <exception cref="StoreException">It was not noted.</exception>
    public long AppendCommand(CommandEntry entry) => Write(transaction => _connection.ExecuteScalar<long>(
        "INSERT INTO command (at, who, target, before, wanted, written, outcome, reason) VALUES (@When, @Who, @Target, @Before, @Wanted, @Written, @Outcome, @Reason) RETURNING id",
        new { When = Text(entry.At), entry.Who, entry.Target, entry.Before, entry.Wanted, entry.Written, entry.Outcome, entry.Reason }, transaction));

    /// <summary>Notes what came of a command.</summary>
    /// <exception cref="StoreException">It was not noted.</exception>
    public void EndCommand(long id, string outcome, string reason) => Write("UPDATE command SET outcome = @outcome, reason = @reason WHERE id = @id", new { id, outcome, reason });

    /// <summary>Says of the commands an earlier run has sent without noting an answer that none is known.</summary>
    /// <exception cref="StoreException">It was not noted.</exception>
    public void EndOpenCommands() => Write(
        "UPDATE command SET outcome = 'not known', reason = 'Fralto stopped, or could not write, before the answer was noted' WHERE outcome = @Sending", new { CommandEntry.Sending });

    /// <summary>The newest commands with their numbers, newest first.</summary>
    /// <param name="count">How many.</param>
    /// <param name="before">Only those with a lower number.</param>
    public IReadOnlyList<(long Id, CommandEntry Entry)> Commands(int count, long before = long.MaxValue)
    {
        lock (_lock)
            return [.. _connection.Query<(long Id, string At, string Who, string Target, string Before, string Wanted, string Written, string Outcome, string Reason)>(
                    "SELECT id, at, who, target, before, wanted, written, outcome, reason FROM command WHERE id < @before ORDER BY id DESC LIMIT @count", new { count, before })
                .Select(r => (r.Id, new CommandEntry(Time(r.At), r.Who, r.Target, r.Before, r.Wanted, r.Written, r.Outcome, r.Reason)))];
    }

    /// <summary>Keeps steps of alarms and where those alarms stand now, all or none.</summary>
    /// <param name="events">The steps, in the order they came.</param>
    /// <param name="now">The alarms they moved: null for one that is normal.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepAlarms(IReadOnlyCollection<AlarmEvent> events, IReadOnlyDictionary<AlarmKey, Alarm?> now) => Write(transaction =>
    {
        _connection.Execute(
            """
            INSERT INTO alarm_event (at, equipment_id, property_id, condition, state, cause, value, path, priority, who)
            VALUES (@At, @EquipmentId, @PropertyId, @Condition, @State, @Cause, @Value, @Path, @Priority, @Who)
            """,
            events.Select(e => new
            {
                At = Text(e.Time),
                e.Key.EquipmentId,
                e.Key.PropertyId,
                Condition = e.Key.Condition.ToString(),
                State = e.State.ToString(),
                Cause = e.Cause.ToString(),
                Value = double.IsFinite(e.Value) ? e.Value : (double?)null,
                e.Path,
                e.Priority,
                e.Who,
            }),
            transaction);
        _connection.Execute(
            "DELETE FROM alarm WHERE equipment_id = @EquipmentId AND property_id = @PropertyId AND condition = @Condition",
            now.Where(a => a.Value is null).Select(a => new { a.Key.EquipmentId, a.Key.PropertyId, Condition = a.Key.Condition.ToString() }), transaction);
        return _connection.Execute(
            """
            INSERT INTO alarm (equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by)
            VALUES (@EquipmentId, @PropertyId, @Condition, @State, @RaisedAt, @RaisedValue, @ClearedAt, @AcknowledgedBy)
            ON CONFLICT (equipment_id, property_id, condition) DO UPDATE SET state = excluded.state, raised_at = excluded.raised_at,
                raised_value = excluded.raised_value, cleared_at = excluded.cleared_at, acknowledged_by = excluded.acknowledged_by
            """,
            now.Values.OfType<Alarm>().Select(a => new
            {
                a.Key.EquipmentId,
                a.Key.PropertyId,
                Condition = a.Key.Condition.ToString(),
                State = a.State.ToString(),
                RaisedAt = Text(a.RaisedAt),
                // A column that takes no null takes no not-a-number either.
                RaisedValue = double.IsFinite(a.RaisedValue) ? a.RaisedValue : 0,
                ClearedAt = a.ClearedAt is { } cleared ? Text(cleared) : null,
                a.AcknowledgedBy,
            }),
            transaction);
    });

    /// <summary>The alarms kept last.</summary>
    public IReadOnlyList<Alarm> LoadAlarms()
    {
        lock (_lock)
            return [.. _connection
                .Query<(long EquipmentId, long PropertyId, string Condition, string State, string RaisedAt, double RaisedValue, string? ClearedAt, string? Who)>(
                    "SELECT equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by FROM alarm")
                .Where(row => Enum.IsDefined(Named<LimitCondition>(row.Condition)) && Enum.IsDefined(Named<AlarmState>(row.State)))
                .Select(row => new Alarm(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Named<LimitCondition>(row.Condition)), Named<AlarmState>(row.State),
                    Time(row.RaisedAt), row.RaisedValue, row.ClearedAt is null ? null : Time(row.ClearedAt), row.Who))];
    }

    /// <summary>The newest steps of alarms, newest first.</summary>
    public IReadOnlyList<AlarmEvent> AlarmEvents(int count)
    {
        lock (_lock)
            return [.. _connection
                .Query<(string At, long EquipmentId, long PropertyId, string Condition, string State, string Cause, double? Value, string Path, int Priority, string? Who)>(
                    "SELECT at, equipment_id, property_id, condition, state, cause, value, path, priority, who FROM alarm_event ORDER BY id DESC LIMIT @count", new { count })
                .Where(row => Enum.IsDefined(Named<LimitCondition>(row.Condition)) && Enum.IsDefined(Named<AlarmState>(row.State)) && Enum.IsDefined(Named<AlarmCause>(row.Cause)))
                .Select(row => new AlarmEvent(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Named<LimitCondition>(row.Condition)), Time(row.At), Named<AlarmState>(row.State), Named<AlarmCause>(row.Cause),
                    row.Value ?? double.NaN, row.Path, row.Priority, row.Who))];
    }

    public void Dispose()
    {
        _connection.Dispose();
        _directory.Dispose();
    }

    /// <summary>A value by its name; one that is not defined for a name that is not known.</summary>
    private static T Named<T>(string name)
        where T : struct, Enum => Enum.TryParse<T>(name, out var value) && !char.IsAsciiDigit(name[0]) ? value : (T)Enum.ToObject(typeof(T), -1);

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
