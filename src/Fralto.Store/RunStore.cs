using System.Text.Json;
using Dapper;
using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Notices;
using Microsoft.Data.Sqlite;

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

    /// <summary>Commands some properties were given in a stretch of time, the oldest first.</summary>
    /// <param name="paths">Paths of the properties.</param>
    /// <param name="from">Where the stretch begins.</param>
    /// <param name="to">Where it ends.</param>
    /// <param name="count">How many at most.</param>
    public IReadOnlyList<CommandEntry> CommandsTo(IReadOnlyCollection<string> paths, DateTimeOffset from, DateTimeOffset to, int count) =>
        _file.Read(c =>
            c.Query<(string At, string Who, string Target, string Before, string Wanted, string Written, string Outcome, string Reason)>(
                    "SELECT at, who, target, before, wanted, written, outcome, reason FROM command "
                        + "WHERE target IN (SELECT value FROM json_each(@paths)) AND at >= @from AND at < @to ORDER BY at LIMIT @count",
                    new
                    {
                        paths = Json.Write(paths),
                        from = SqliteFile.Text(from),
                        to = SqliteFile.Text(to),
                        count,
                    }
                )
                .Select(r => new CommandEntry(SqliteFile.Time(r.At), r.Who, r.Target, r.Before, r.Wanted, r.Written, r.Outcome, r.Reason))
                .ToArray()
        );

    /// <summary>Keeps steps of alarms from before all that came by themselves, in place of those that were kept so before.</summary>
    /// <param name="events">The steps, in the order they came.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepEarlierAlarms(IReadOnlyCollection<AlarmEvent> events) =>
        _file.Write(transaction =>
        {
            // The log is read by number: what comes by itself counts from one, what was earlier has lower ones.
            transaction.Connection!.Execute("DELETE FROM alarm_event WHERE id < 1", transaction: transaction);
            return Add(transaction, events, 1 - events.Count);
        });

    private static int Add(SqliteTransaction transaction, IEnumerable<AlarmEvent> events, long? first) =>
        transaction.Connection!.Execute(
            """
            INSERT INTO alarm_event (id, at, equipment_id, property_id, condition, state, cause, value, path, priority, who, limit_code,
                message, translations, comment, source_at)
            VALUES (@Id, @At, @EquipmentId, @PropertyId, @Condition, @State, @Cause, @Value, @Path, @Priority, @Who, @Limit, @Message,
                @Translations, @Comment, @SourceAt)
            """,
            events.Select(
                (e, i) =>
                    new
                    {
                        Id = first + i,
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
                        e.Limit,
                        e.Message,
                        e.Translations,
                        e.Comment,
                        SourceAt = e.SourceTime is { } source ? SqliteFile.Text(source) : null,
                    }
            ),
            transaction
        );

    /// <summary>Keeps steps of alarms and where those alarms stand now, all or none.</summary>
    /// <param name="events">The steps, in the order they came.</param>
    /// <param name="now">The alarms they moved: null for one that is normal.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepAlarms(IReadOnlyCollection<AlarmEvent> events, IReadOnlyDictionary<AlarmKey, Alarm?> now) =>
        _file.Write(transaction =>
        {
            Add(transaction, events, null);
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
                INSERT INTO alarm (equipment_id, property_id, condition, state, raised_at, raised_value, cleared_at, acknowledged_by,
                    is_true, acknowledged_at, comment, message, translations, captured, shelving, leave, is_suppressed)
                VALUES (@EquipmentId, @PropertyId, @Condition, @State, @RaisedAt, @RaisedValue, @ClearedAt, @AcknowledgedBy,
                    @IsTrue, @AcknowledgedAt, @Comment, @Message, @Translations, @Captured, @Shelving, @Leave, @IsSuppressed)
                ON CONFLICT (equipment_id, property_id, condition) DO UPDATE SET state = excluded.state, raised_at = excluded.raised_at,
                    raised_value = excluded.raised_value, cleared_at = excluded.cleared_at, acknowledged_by = excluded.acknowledged_by,
                    is_true = excluded.is_true, acknowledged_at = excluded.acknowledged_at, comment = excluded.comment,
                    message = excluded.message, translations = excluded.translations, captured = excluded.captured,
                    shelving = excluded.shelving, leave = excluded.leave, is_suppressed = excluded.is_suppressed
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
                        ClearedAt = TextOf(a.ClearedAt),
                        a.AcknowledgedBy,
                        a.IsTrue,
                        AcknowledgedAt = TextOf(a.AcknowledgedAt),
                        a.Comment,
                        a.Message,
                        a.Translations,
                        Captured = Json.Write(a.Captured.Select(c => new[] { c.Key, c.Value })),
                        Shelving = a.Shelving is { } shelving ? Json.Write(shelving) : null,
                        Leave = a.Leave is { } leave ? Json.Write(leave) : null,
                        a.IsSuppressed,
                    }),
                transaction
            );
        });

    private static string? TextOf(DateTimeOffset? time) => time is { } at ? SqliteFile.Text(at) : null;

    /// <summary>The alarms kept last.</summary>
    public IReadOnlyList<Alarm> LoadAlarms() =>
        _file.Read(c =>
            c.Query<AlarmRow>(
                    """
                    SELECT equipment_id AS EquipmentId, property_id AS PropertyId, condition AS Condition, state AS State,
                        raised_at AS RaisedAt, raised_value AS RaisedValue, cleared_at AS ClearedAt, acknowledged_by AS AcknowledgedBy,
                        is_true AS IsTrue, acknowledged_at AS AcknowledgedAt, comment AS Comment, message AS Message,
                        translations AS Translations, captured AS Captured, shelving AS Shelving, leave AS Leave,
                        is_suppressed AS IsSuppressed
                    FROM alarm
                    """
                )
                .Where(row => Enum.IsDefined(Named<LimitCondition>(row.Condition)) && Enum.IsDefined(Named<AlarmState>(row.State)))
                .Select(row => new Alarm(
                    new AlarmKey(row.EquipmentId, row.PropertyId, Named<LimitCondition>(row.Condition)),
                    Named<AlarmState>(row.State),
                    SqliteFile.Time(row.RaisedAt),
                    row.RaisedValue,
                    row.ClearedAt is null ? null : SqliteFile.Time(row.ClearedAt),
                    row.AcknowledgedBy
                )
                {
                    IsTrue = row.IsTrue != 0,
                    AcknowledgedAt = row.AcknowledgedAt is null ? null : SqliteFile.Time(row.AcknowledgedAt),
                    Comment = row.Comment,
                    Message = row.Message,
                    Translations = row.Translations,
                    Captured = [.. Json.Read<string[][]>(row.Captured).Select(c => KeyValuePair.Create(c[0], c[1]))],
                    Shelving = row.Shelving is null ? null : Json.Read<AlarmShelving>(row.Shelving),
                    Leave = row.Leave is null ? null : Json.Read<AlarmLeave>(row.Leave),
                    IsSuppressed = row.IsSuppressed != 0,
                })
                .ToArray()
        );

    private sealed class AlarmRow
    {
        public long EquipmentId { get; init; }
        public long PropertyId { get; init; }
        public string Condition { get; init; } = "";
        public string State { get; init; } = "";
        public string RaisedAt { get; init; } = "";
        public double RaisedValue { get; init; }
        public string? ClearedAt { get; init; }
        public string? AcknowledgedBy { get; init; }
        public long IsTrue { get; init; }
        public string? AcknowledgedAt { get; init; }
        public string Comment { get; init; } = "";
        public string Message { get; init; } = "";
        public string Translations { get; init; } = "";
        public string Captured { get; init; } = "[]";
        public string? Shelving { get; init; }
        public string? Leave { get; init; }
        public long IsSuppressed { get; init; }
    }

    /// <summary>Keeps where telling lists of alarms stands, all or none.</summary>
    /// <param name="changes">What has changed: null for what is over.</param>
    /// <exception cref="StoreException">Nothing was kept.</exception>
    public void KeepNotices(IReadOnlyDictionary<(AlarmKey Key, string List), NoticeState?> changes) =>
        _file.Write(transaction =>
        {
            transaction.Connection!.Execute(
                "DELETE FROM notice WHERE equipment_id = @EquipmentId AND property_id = @PropertyId AND condition = @Condition "
                    + "AND list = @List",
                changes.Where(c => c.Value is null).Select(c => RowOf(c.Key, null)),
                transaction
            );
            return transaction.Connection!.Execute(
                "INSERT INTO notice (equipment_id, property_id, condition, list, state) VALUES (@EquipmentId, @PropertyId, @Condition, "
                    + "@List, @State) ON CONFLICT (equipment_id, property_id, condition, list) DO UPDATE SET state = excluded.state",
                changes.Where(c => c.Value is not null).Select(c => RowOf(c.Key, c.Value)),
                transaction
            );

            static object RowOf((AlarmKey Key, string List) of, NoticeState? state) =>
                new
                {
                    of.Key.EquipmentId,
                    of.Key.PropertyId,
                    Condition = of.Key.Condition.ToString(),
                    of.List,
                    State = state is null ? null : Json.Write(state),
                };
        });

    /// <summary>Where telling lists of alarms stands; what cannot be read is left out.</summary>
    public IReadOnlyList<NoticeState> Notices()
    {
        return _file.Read(c => c.Query<string>("SELECT state FROM notice").Select(Read).OfType<NoticeState>().ToArray());

        static NoticeState? Read(string text)
        {
            try
            {
                return Json.Read<NoticeState>(text) is { List: not null, Step: not null } state ? state : null;
            }
            catch (JsonException)
            {
                return null;
            }
        }
    }

    /// <summary>The newest steps of alarms, newest first.</summary>
    public IReadOnlyList<AlarmEvent> AlarmEvents(int count) => [.. AlarmEvents(new(), count).Select(e => e.Event)];

    /// <summary>The newest steps of alarms of a kind with their numbers, newest first.</summary>
    /// <param name="filter">Which.</param>
    /// <param name="count">How many.</param>
    /// <param name="before">Only those with a lower number.</param>
    public IReadOnlyList<(long Id, AlarmEvent Event)> AlarmEvents(AlarmLogFilter filter, int count, long before = long.MaxValue) =>
        _file.Read(c =>
            c.Query<EventRow>(
                    $"{EventColumns} WHERE id < @before{WhereOf(filter)} ORDER BY id DESC LIMIT @count",
                    ParametersOf(filter, count, before)
                )
                .Select(r => (r.Id, Event: EventOf(r)))
                .Where(r => r.Event is not null)
                .Select(r => (r.Id, r.Event!))
                .ToArray()
        );

    /// <summary>How many steps of alarms there are of a kind.</summary>
    public int CountAlarmEvents(AlarmLogFilter filter) =>
        _file.Read(c =>
            c.ExecuteScalar<int>(
                $"SELECT count(*) FROM alarm_event WHERE id < @before{WhereOf(filter)}",
                ParametersOf(filter, 0, long.MaxValue)
            )
        );

    /// <summary>Steps of alarms in the order they came, for what is counted: without what was said.</summary>
    /// <param name="filter">Which.</param>
    /// <param name="most">At most so many, the newest.</param>
    public IReadOnlyList<AlarmEvent> AlarmEventsInOrder(AlarmLogFilter filter, int most)
    {
        var events = AlarmEvents(filter, most).Select(e => e.Event).ToArray();
        Array.Reverse(events);
        return events;
    }

    /// <summary>When the oldest step of an alarm that is kept happened; null while none is.</summary>
    public DateTimeOffset? FirstAlarmEvent() =>
        _file.Read(c => c.QuerySingleOrDefault<string?>("SELECT min(at) FROM alarm_event")) is { } at ? SqliteFile.Time(at) : null;

    /// <summary>Forgets steps of alarms that are older than wanted.</summary>
    /// <param name="before">The oldest that stays.</param>
    /// <param name="most">At most so many at once, so that nothing waits for it.</param>
    /// <returns>How many have gone.</returns>
    /// <exception cref="StoreException">Nothing was forgotten.</exception>
    public int ForgetAlarmEvents(DateTimeOffset before, int most) =>
        _file.Write(transaction =>
            transaction.Connection!.Execute(
                "DELETE FROM alarm_event WHERE id IN (SELECT id FROM alarm_event WHERE at < @Before ORDER BY at LIMIT @most)",
                new { Before = SqliteFile.Text(before), most },
                transaction
            )
        );

    private const string EventColumns = """
        SELECT id AS Id, at AS At, equipment_id AS EquipmentId, property_id AS PropertyId, condition AS Condition, state AS State,
            cause AS Cause, value AS Value, path AS Path, priority AS Priority, who AS Who, limit_code AS LimitCode, message AS Message,
            translations AS Translations, comment AS Comment, source_at AS SourceAt
        FROM alarm_event
        """;

    private static string WhereOf(AlarmLogFilter filter) =>
        string.Concat(
            filter.From is null ? "" : " AND at >= @From",
            filter.To is null ? "" : " AND at < @To",
            filter.Equipment is null ? "" : " AND equipment_id IN (SELECT value FROM json_each(@Equipment))",
            filter.Priorities.Count == 0 ? "" : " AND priority IN (SELECT value FROM json_each(@Priorities))",
            filter.Causes.Count == 0 ? "" : " AND cause IN (SELECT value FROM json_each(@Causes))",
            filter.Who is null ? "" : " AND who = @Who",
            filter.Key is null ? "" : " AND equipment_id = @KeyEquipment AND property_id = @KeyProperty AND condition = @KeyCondition"
        );

    private static object ParametersOf(AlarmLogFilter filter, int count, long before) =>
        new
        {
            count,
            before,
            From = TextOf(filter.From),
            To = TextOf(filter.To),
            Equipment = filter.Equipment is null ? null : Json.Write(filter.Equipment),
            Priorities = Json.Write(filter.Priorities),
            Causes = Json.Write(filter.Causes.Select(c => c.ToString())),
            filter.Who,
            KeyEquipment = filter.Key?.EquipmentId,
            KeyProperty = filter.Key?.PropertyId,
            KeyCondition = filter.Key?.Condition.ToString(),
        };

    private static AlarmEvent? EventOf(EventRow row) =>
        Named<LimitCondition>(row.Condition) is var condition
        && Named<AlarmState>(row.State) is var state
        && Named<AlarmCause>(row.Cause) is var cause
        && Enum.IsDefined(condition)
        && Enum.IsDefined(state)
        && Enum.IsDefined(cause)
            ? new(
                new AlarmKey(row.EquipmentId, row.PropertyId, condition),
                SqliteFile.Time(row.At),
                state,
                cause,
                row.Value ?? double.NaN,
                row.Path,
                (int)row.Priority,
                row.Who
            )
            {
                Limit = row.LimitCode,
                Message = row.Message,
                Translations = row.Translations,
                Comment = row.Comment,
                SourceTime = row.SourceAt is null ? null : SqliteFile.Time(row.SourceAt),
            }
            : null;

    private sealed class EventRow
    {
        public long Id { get; init; }
        public string At { get; init; } = "";
        public long EquipmentId { get; init; }
        public long PropertyId { get; init; }
        public string Condition { get; init; } = "";
        public string State { get; init; } = "";
        public string Cause { get; init; } = "";
        public double? Value { get; init; }
        public string Path { get; init; } = "";
        public long Priority { get; init; }
        public string? Who { get; init; }
        public string LimitCode { get; init; } = "";
        public string Message { get; init; } = "";
        public string Translations { get; init; } = "";
        public string Comment { get; init; } = "";
        public string? SourceAt { get; init; }
    }

    /// <summary>A value by its name; one that is not defined for a name that is not known.</summary>
    private static T Named<T>(string name)
        where T : struct, Enum =>
        Enum.TryParse<T>(name, out var value) && !char.IsAsciiDigit(name[0]) ? value : (T)Enum.ToObject(typeof(T), -1);
}
