using Dapper;
using Fralto.Core.Engine;
using Fralto.Core.Limits;

namespace Fralto.Store;

/// <summary>What the running plant keeps, in a file of its own: no edit of the model, however large, stands in its way.</summary>
public sealed class RunStore
{
    private readonly SqliteFile _file;

    internal RunStore(SqliteFile file) => _file = file;

    /// <summary>Why nothing can be kept at present; null while everything can.</summary>
    public StorageTrouble? Trouble => _file.Trouble;

    /// <summary>A value kept beside the model; null when there is none.</summary>
    public string? Note(string key)
    {
        return _file.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM note WHERE key = @key", new { key }));
    }

    /// <summary>Keeps a value beside the model.</summary>
    public void SetNote(string key, string value)
    {
        _file.Write(
            "INSERT INTO note (key, value) VALUES (@key, @value) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
            new { key, value }
        );
    }

    /// <summary>The encrypted password of a controller, and the place it was given for: null when it was kept before places were; null when
    /// it has none.</summary>
    public (string Secret, string? Place)? Secret(long controllerId)
    {
        return _file.Read(c =>
            c.Query<(string, string?)>("SELECT secret, place FROM secret WHERE controller_id = @controllerId", new { controllerId })
                .Select(r => ((string, string?)?)r)
                .FirstOrDefault()
        );
    }

    /// <summary>Keeps the encrypted password of a controller for one place; null forgets it.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetSecret(long controllerId, string? secret, string? place) =>
        _file.Write(
            secret is null
                ? "DELETE FROM secret WHERE controller_id = @controllerId"
                : "INSERT INTO secret (controller_id, secret, place) VALUES (@controllerId, @secret, @place) ON CONFLICT "
                    + "(controller_id) DO UPDATE SET secret = excluded.secret, place = excluded.place",
            new
            {
                controllerId,
                secret,
                place,
            }
        );

    /// <summary>What a tag of memory held last, as text; null when nothing was kept.</summary>
    public string? MemoryValue(long tagId)
    {
        return _file.Read(c => c.QuerySingleOrDefault<string>("SELECT value FROM memory_value WHERE tag_id = @tagId", new { tagId }));
    }

    /// <summary>Keeps what a tag of memory holds.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void SetMemoryValue(long tagId, string value, DateTimeOffset at) =>
        _file.Write(
            "INSERT INTO memory_value (tag_id, value, at) VALUES (@tagId, @value, @At) ON CONFLICT (tag_id) DO UPDATE SET value = "
                + "excluded.value, at = excluded.at",
            new
            {
                tagId,
                value,
                At = SqliteFile.Text(at),
            }
        );

    /// <summary>Keeps what formulas count, all or none.</summary>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepFormulaStates(IReadOnlyCollection<FormulaState> states) =>
        _file.Write(transaction =>
            transaction.Connection!.Execute(
                """
                INSERT INTO formula_state (equipment_id, property_id, piece, signature, state)
                VALUES (@EquipmentId, @PropertyId, @Piece, @Signature, @State)
                ON CONFLICT (equipment_id, property_id, piece) DO UPDATE SET signature = excluded.signature, state = excluded.state
                """,
                states,
                transaction
            )
        );

    /// <summary>What formulas have counted.</summary>
    public IReadOnlyList<FormulaState> FormulaStates() =>
        _file.Read(c =>
            c.Query<(long EquipmentId, long PropertyId, int Piece, string Signature, byte[] State)>(
                    "SELECT equipment_id, property_id, piece, signature, state FROM formula_state"
                )
                .Select(r => new FormulaState(r.EquipmentId, r.PropertyId, r.Piece, r.Signature, r.State))
                .ToArray()
        );

    /// <summary>Keeps what somebody has entered.</summary>
    /// <exception cref="StoreException">It was not kept.</exception>
    public void KeepEntered(EnteredValue entered) =>
        _file.Write(
            """
            INSERT INTO entered_value (equipment_id, property_id, value, at, who) VALUES (@EquipmentId, @PropertyId, @Value, @At, @Who)
            ON CONFLICT (equipment_id, property_id) DO UPDATE SET value = excluded.value, at = excluded.at, who = excluded.who
            """,
            new
            {
                entered.EquipmentId,
                entered.PropertyId,
                entered.Value,
                At = SqliteFile.Text(entered.At),
                entered.Who,
            }
        );

    /// <summary>The newest of what people have entered.</summary>
    public IReadOnlyList<EnteredValue> Entered() =>
        _file.Read(c =>
            c.Query<(long EquipmentId, long PropertyId, string Value, string At, string Who)>(
                    "SELECT equipment_id, property_id, value, at, who FROM entered_value"
                )
                .Select(r => new EnteredValue(r.EquipmentId, r.PropertyId, r.Value, SqliteFile.Time(r.At), r.Who))
                .ToArray()
        );

    /// <summary>Notes a command before it is sent.</summary>
    /// <returns>The number of the entry, for what came of it.</returns>
    /// <exception cref="StoreException">It was not noted.</exception>
    public long AppendCommand(CommandEntry entry) =>
        _file.Write(transaction =>
            transaction.Connection!.ExecuteScalar<long>(
                "INSERT INTO command (at, who, target, before, wanted, written, outcome, reason) VALUES (@When, @Who, @Target, "
                    + "@Before, @Wanted, @Written, @Outcome, @Reason) RETURNING id",
                new
                {
                    When = SqliteFile.Text(entry.At),
                    entry.Who,
                    entry.Target,
                    entry.Before,
                    entry.Wanted,
                    entry.Written,
                    entry.Outcome,
                    entry.Reason,
                },
                transaction
            )
        );

    /// <summary>The value a property was given last and had confirmed, in words; null when it never was.</summary>
    /// <param name="path">Path of the property.</param>
    public string? LastGiven(string path) =>
        _file.Read(c =>
            c.QueryFirstOrDefault<string>(
                "SELECT wanted FROM command WHERE target = @path AND outcome = 'confirmed' ORDER BY id DESC LIMIT 1",
                new { path }
            )
        );

    /// <summary>Notes what came of a command.</summary>
    /// <exception cref="StoreException">It was not noted.</exception>
    public void EndCommand(long id, string outcome, string reason) =>
        _file.Write(
            "UPDATE command SET outcome = @outcome, reason = @reason WHERE id = @id",
            new
            {
                id,
                outcome,
                reason,
            }
        );

    /// <summary>Says of the commands an earlier run has sent without noting an answer that none is known.</summary>
    /// <exception cref="StoreException">It was not noted.</exception>
    public void EndOpenCommands() =>
        _file.Write(
            "UPDATE command SET outcome = 'not known', reason = 'Fralto stopped, or could not write, before the answer was noted' "
                + "WHERE outcome = @Sending",
            new { CommandEntry.Sending }
        );

    /// <summary>The newest commands with their numbers, newest first.</summary>
    /// <param name="count">How many.</param>
    /// <param name="before">Only those with a lower number.</param>
    public IReadOnlyList<(long Id, CommandEntry Entry)> Commands(int count, long before = long.MaxValue)
    {
        return _file.Read(c =>
            c.Query<(
                long Id,
                string At,
                string Who,
                string Target,
                string Before,
                string Wanted,
                string Written,
                string Outcome,
                string Reason
            )>(
                    "SELECT id, at, who, target, before, wanted, written, outcome, reason FROM command WHERE id < @before ORDER BY id "
                        + "DESC LIMIT @count",
                    new { count, before }
                )
                .Select(r =>
                    (r.Id, new CommandEntry(SqliteFile.Time(r.At), r.Who, r.Target, r.Before, r.Wanted, r.Written, r.Outcome, r.Reason))
                )
                .ToArray()
        );
    }

    /// <summary>Keeps steps of alarms and where those alarms stand now, all or none.</summary>
    /// <param name="events">The steps, in the order they came.</param>
    /// <param name="now">The alarms they moved: null for one that is normal.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepAlarms(IReadOnlyCollection<AlarmEvent> events, IReadOnlyDictionary<AlarmKey, Alarm?> now) =>
        _file.Write(transaction =>
        {
            transaction.Connection!.Execute(
                """
                INSERT INTO alarm_event (at, equipment_id, property_id, condition, state, cause, value, path, priority, who)
                VALUES (@At, @EquipmentId, @PropertyId, @Condition, @State, @Cause, @Value, @Path, @Priority, @Who)
                """,
                events.Select(e => new
                {
                    At = SqliteFile.Text(e.Time),
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
                transaction
            );
            transaction.Connection!.Execute(
                "DELETE FROM alarm WHERE equipment_id = @EquipmentId AND property_id = @PropertyId AND condition = @Condition",
                now.Where(a => a.Value is null)
                    .Select(a => new
                    {
                        a.Key.EquipmentId,
                        a.Key.PropertyId,
                        Condition = a.Key.Condition.ToString(),
                    }),
                transaction
            );
            return transaction.Connection!.Execute(
                """
                INSERT INTO alarm (equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by)
                VALUES (@EquipmentId, @PropertyId, @Condition, @State, @RaisedAt, @RaisedValue, @ClearedAt, @AcknowledgedBy)
                ON CONFLICT (equipment_id, property_id, condition) DO UPDATE SET state = excluded.state, raised_at = excluded.raised_at,
                    raised_value = excluded.raised_value, cleared_at = excluded.cleared_at, acknowledged_by = excluded.acknowledged_by
                """,
                now.Values.OfType<Alarm>()
                    .Select(a => new
                    {
                        a.Key.EquipmentId,
                        a.Key.PropertyId,
                        Condition = a.Key.Condition.ToString(),
                        State = a.State.ToString(),
                        RaisedAt = SqliteFile.Text(a.RaisedAt),
                        // A column that takes no null takes no not-a-number either.
                        RaisedValue = double.IsFinite(a.RaisedValue) ? a.RaisedValue : 0,
                        ClearedAt = a.ClearedAt is { } cleared ? SqliteFile.Text(cleared) : null,
                        a.AcknowledgedBy,
                    }),
                transaction
            );
        });

    /// <summary>The alarms kept last.</summary>
    public IReadOnlyList<Alarm> LoadAlarms()
    {
        return _file.Read(c =>
            c.Query<(
                long EquipmentId,
                long PropertyId,
                string Condition,
                string State,
                string RaisedAt,
                double RaisedValue,
                string? ClearedAt,
                string? Who
            )>("SELECT equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by FROM alarm")
                .Where(row => Enum.IsDefined(Named<LimitCondition>(row.Condition)) && Enum.IsDefined(Named<AlarmState>(row.State)))
                .Select(row => new Alarm(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Named<LimitCondition>(row.Condition)),
                    Named<AlarmState>(row.State),
                    SqliteFile.Time(row.RaisedAt),
                    row.RaisedValue,
                    row.ClearedAt is null ? null : SqliteFile.Time(row.ClearedAt),
                    row.Who
                ))
                .ToArray()
        );
    }

    /// <summary>The newest steps of alarms, newest first.</summary>
    public IReadOnlyList<AlarmEvent> AlarmEvents(int count)
    {
        return _file.Read(c =>
            c.Query<(
                string At,
                long EquipmentId,
                long PropertyId,
                string Condition,
                string State,
                string Cause,
                double? Value,
                string Path,
                int Priority,
                string? Who
            )>(
                    "SELECT at, equipment_id, property_id, condition, state, cause, value, path, priority, who FROM alarm_event ORDER "
                        + "BY id DESC LIMIT @count",
                    new { count }
                )
                .Where(row =>
                    Enum.IsDefined(Named<LimitCondition>(row.Condition))
                    && Enum.IsDefined(Named<AlarmState>(row.State))
                    && Enum.IsDefined(Named<AlarmCause>(row.Cause))
                )
                .Select(row => new AlarmEvent(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Named<LimitCondition>(row.Condition)),
                    SqliteFile.Time(row.At),
                    Named<AlarmState>(row.State),
                    Named<AlarmCause>(row.Cause),
                    row.Value ?? double.NaN,
                    row.Path,
                    row.Priority,
                    row.Who
                ))
                .ToArray()
        );
    }

    /// <summary>A value by its name; one that is not defined for a name that is not known.</summary>
    private static T Named<T>(string name)
        where T : struct, Enum =>
        Enum.TryParse<T>(name, out var value) && !char.IsAsciiDigit(name[0]) ? value : (T)Enum.ToObject(typeof(T), -1);
}
