using System.Collections.Immutable;
using Dapper;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>From the tables into a model. What cannot be read is set aside row by row, and everything else is read all the same.</summary>
internal sealed class ModelReader(SqliteConnection connection)
{
    private readonly List<SetAside> _aside = [];

    /// <summary>Reads the whole model.</summary>
    /// <returns>The model, and what had to be left out of it.</returns>
    public LoadedModel Read()
    {
        var controllers = Controllers();
        var model = new PlantModel
        {
            StateLists = StateLists(),
            OwnUnits = OwnUnits(),
            Calendars = Calendars(),
            AlarmSetups = AlarmSetups(),
            NamingConventions = NamingConventions(),
            Scales = Scales(),
            Templates = Templates(),
            Equipment = Equipment(),
            Controllers = controllers,
            Tags = Tags(controllers),
            Layouts = Layouts(),
            Devices = Devices(),
            Bindings = Bindings(),
            NextId = NextId(),
        };
        var (whole, loose) = Salvage.Of(model);
        return new(whole, [.. _aside, .. loose]);
    }

    private ImmutableDictionary<long, StateList> StateLists()
    {
        var states = connection
            .Query<(long Set, int Value, string Name, bool IsAbnormal, string? Key)>(
                "SELECT state_list_id, value, name, abnormal, key FROM state ORDER BY state_list_id, value"
            )
            .ToLookup(row => row.Set);
        return connection
            .Query<(long Id, string Code, string Name)>("SELECT id, code, name FROM state_list")
            .ToImmutableDictionary(
                r => r.Id,
                r => new StateList(r.Id, r.Code, r.Name, [.. states[r.Id].Select(s => new State(s.Value, s.Name, s.IsAbnormal, s.Key))])
            );
    }

    private ImmutableDictionary<long, OwnUnit> OwnUnits() =>
        connection
            .Query<(long Id, string Code, string Symbol, string Name, double Factor, string Base)>(
                "SELECT id, code, symbol, name, factor, base_code FROM own_unit"
            )
            .ToImmutableDictionary(r => r.Id, r => new OwnUnit(r.Id, r.Code, r.Symbol, r.Name, r.Factor, r.Base));

    private ImmutableDictionary<long, AlarmSetup> AlarmSetups() =>
        ById(
            connection.Query<(long Id, string Rules, string Responses, string Lists, string? Mail, string Languages, long LogDays)>(
                "SELECT id, rules, responses, lists, mail, languages, log_days FROM alarm_setup"
            ),
            "alarm setup",
            r => (r.Id, "what alarms share"),
            r => new AlarmSetup(r.Id, Json.Read<ImmutableArray<ShelvingRule>>(r.Rules))
            {
                Responses = Json.Read<ImmutableArray<AlarmResponse>>(r.Responses),
                Lists = Json.Read<ImmutableArray<NoticeList>>(r.Lists),
                Mail = r.Mail is null ? null : Json.Read<MailServer>(r.Mail),
                Languages = Json.Read<ImmutableArray<string>>(r.Languages),
                LogDays = (int)r.LogDays,
            }
        );

    private ImmutableDictionary<long, NamingConvention> NamingConventions() =>
        ById(
            connection.Query<(long Id, string? Level, long? TemplateId, bool IsOfNames, string Text)>(
                "SELECT id, level, template_id, is_of_names, text FROM naming_convention"
            ),
            "naming-convention",
            r => (r.Id, r.Text),
            r => new NamingConvention(r.Id, r.Level is null ? null : Enum.Parse<EquipmentLevel>(r.Level), r.TemplateId, r.IsOfNames, r.Text)
        );

    private ImmutableDictionary<long, SiteCalendar> Calendars() =>
        ById(
            connection.Query<(long Id, string Zone, string Shifts)>("SELECT id, time_zone, shifts FROM calendar"),
            "calendar",
            r => (r.Id, "the calendar"),
            r => new SiteCalendar(r.Id, r.Zone, Json.Read<ImmutableArray<Shift>>(r.Shifts))
        );

    private ImmutableDictionary<long, LibraryScale> Scales() =>
        ById(
            connection.Query<(long Id, string Code, string Name, string Description, string Scale)>(
                "SELECT id, code, name, description, scale FROM library_scale"
            ),
            "scale",
            r => (r.Id, r.Name),
            r => new LibraryScale(r.Id, r.Code, r.Name, r.Description, Json.Read<Scale>(r.Scale))
        );

    private ImmutableDictionary<long, Template> Templates()
    {
        var properties = Some(
                connection.Query<(long Id, long Template, string Code, string Name, string Kind, string Type, bool Required)>(
                    "SELECT id, template_id, code, name, kind, type, required FROM property ORDER BY template_id, position"
                ),
                "property",
                r => (r.Id, r.Name),
                r =>
                    (
                        r.Template,
                        It: new PropertyDeclaration(
                            r.Id,
                            r.Code,
                            r.Name,
                            Named<PropertyKind>(r.Kind),
                            Named<PropertyType>(r.Type),
                            r.Required
                        )
                    )
            )
            .ToLookup(r => r.Template, r => r.It);
        var parts = Some(
                connection.Query<(long Id, long Whole, string Code, string Name, long Template, string Level, int Count)>(
                    "SELECT id, template_id, code, name, part_template_id, level, count FROM template_part ORDER BY template_id, position"
                ),
                "part",
                r => (r.Id, r.Name),
                r => (r.Whole, It: new TemplatePart(r.Id, r.Code, r.Name, r.Template, Named<EquipmentLevel>(r.Level), r.Count))
            )
            .ToLookup(r => r.Whole, r => r.It);
        var levels = Some(
                connection.Query<(long Template, string Level)>(
                    "SELECT template_id, level FROM template_level ORDER BY template_id, position"
                ),
                "level of a template",
                r => (r.Template, r.Level),
                r => (r.Template, It: Named<EquipmentLevel>(r.Level))
            )
            .ToLookup(r => r.Template, r => r.It);
        return ById(
            connection.Query<(long Id, string Code, string Name, long? Parent, string Description, string Rules)>(
                "SELECT id, code, name, parent_id, description, rules FROM template"
            ),
            "template",
            r => (r.Id, r.Name),
            r => new Template(r.Id, r.Code, r.Name, r.Parent, r.Description)
            {
                Properties = [.. properties[r.Id]],
                Patches = PatchesOf(r.Id),
                Parts = [.. parts[r.Id]],
                Levels = [.. levels[r.Id]],
                Rules = Part("naming rules", r.Id, r.Name, r.Rules, ImmutableArray<NamingRule>.Empty),
                Labels = LabelsOf(r.Id),
            }
        );
    }

    private ImmutableDictionary<long, Equipment> Equipment() =>
        ById(
            connection.Query<(
                long Id,
                string Code,
                string Name,
                string Level,
                long? Parent,
                long? Template,
                int Position,
                long? Part,
                string Refused
            )>("SELECT id, code, name, level, parent_id, template_id, position, part_id, refused FROM equipment"),
            "equipment",
            r => (r.Id, r.Name),
            r => new Equipment(r.Id, r.Code, r.Name, Named<EquipmentLevel>(r.Level), r.Parent, r.Template, r.Position, r.Part)
            {
                Refused = Part("refused tags", r.Id, r.Name, r.Refused, ImmutableHashSet<RefusedTag>.Empty),
                Labels = LabelsOf(r.Id),
                Patches = PatchesOf(r.Id),
            }
        );

    private ImmutableDictionary<long, Controller> Controllers() =>
        ById(
            connection.Query<(long Id, string Name, string Connection, string Classes, long Interval)>(
                "SELECT id, name, connection, update_classes, update_interval_ms FROM controller"
            ),
            "controller",
            r => (r.Id, r.Name),
            r => new Controller(r.Id, r.Name, Json.Read<ConnectionEntry>(r.Connection).Read(), TimeSpan.FromMilliseconds(r.Interval))
            {
                UpdateClasses = Json.Read<ImmutableArray<UpdateClass>>(r.Classes),
            }
        );

    private ImmutableDictionary<long, Tag> Tags(ImmutableDictionary<long, Controller> controllers) =>
        ById(
            connection.Query<TagRow>(
                """
                SELECT id, controller_id AS ControllerId, name, place, type, word_order AS WordOrder, description, count, unit,
                  update_class AS UpdateClass,
                    range_low AS Low, range_high AS High, device_id AS DeviceId, point_id AS PointId FROM tag
                """
            ),
            "tag",
            r => (r.Id, r.Name),
            r =>
                r.ToTag(
                    controllers.TryGetValue(r.ControllerId, out var its)
                        ? its.Protocol
                        : throw new FormatException("Its controller could not be read.")
                )
        );

    private ImmutableDictionary<long, DeviceLayout> Layouts() =>
        ById(
            connection.Query<(long Id, string Code, string Name, string Separator, string Points)>(
                "SELECT id, code, name, separator, points FROM device_layout"
            ),
            "layout",
            r => (r.Id, r.Name),
            r => new DeviceLayout(r.Id, r.Code, r.Name, r.Separator, Json.Read<ImmutableArray<LayoutPoint>>(r.Points))
        );

    private ImmutableDictionary<long, Device> Devices() =>
        connection
            .Query<(long Id, long Controller, long Layout, string Name, int Base, int BitBase, int? Unit)>(
                "SELECT id, controller_id, layout_id, name, base, bit_base, unit_id FROM device"
            )
            .ToImmutableDictionary(r => r.Id, r => new Device(r.Id, r.Controller, r.Layout, r.Name, r.Base, r.BitBase, r.Unit));

    private ImmutableDictionary<(long, long), PropertyBinding> Bindings() =>
        Some(
                connection.Query<(long Equipment, long Property, long Tag, string? Slice, string? Simulation, string? Checked)>(
                    "SELECT equipment_id, property_id, tag_id, slice, simulation, checked FROM binding"
                ),
                "binding",
                r => (r.Equipment, $"binding of property {r.Property}"),
                r => new PropertyBinding(
                    r.Equipment,
                    r.Property,
                    r.Tag,
                    r.Slice is null ? null : Slice.Parse(r.Slice) ?? throw new FormatException($"'{r.Slice}' is no part of a tag."),
                    r.Simulation is null ? null : Json.Read<Simulation>(r.Simulation)
                )
                {
                    Checked = r.Checked is null ? null : Json.Read<BindingCheck>(r.Checked),
                }
            )
            .ToImmutableDictionary(b => (b.EquipmentId, b.PropertyId));

    private long NextId()
    {
        var kept = connection.QuerySingleOrDefault<string?>("SELECT value FROM meta WHERE key = 'next_id'");
        var highest = connection.ExecuteScalar<long?>(
            """
            SELECT max(id) FROM (
                SELECT max(id) AS id FROM state_list UNION ALL SELECT max(id) FROM own_unit UNION ALL SELECT max(id) FROM library_scale
                UNION ALL SELECT max(id) FROM template UNION ALL SELECT max(id) FROM property UNION ALL SELECT max(id) FROM template_part
                UNION ALL SELECT max(id) FROM equipment UNION ALL SELECT max(id) FROM controller UNION ALL SELECT max(id) FROM tag
                UNION ALL SELECT max(id) FROM device_layout UNION ALL SELECT max(id) FROM device UNION ALL SELECT max(id) FROM calendar
                UNION ALL SELECT max(id) FROM naming_convention)
            """
        ) ?? 0;
        return Math.Max(
            long.TryParse(kept, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var next)
                ? next
                : 1,
            highest + 1
        );
    }

    private ImmutableDictionary<long, PropertyPatch> PatchesOf(long layer)
    {
        _patches ??= Some(
                connection.Query<(long Layer, long Property, string Facts)>("SELECT layer_id, property_id, facts FROM property_patch"),
                "what a layer says of a property",
                r => (r.Layer, $"property {r.Property}"),
                r => (r.Layer, r.Property, Facts: Json.Read<PropertyPatch>(r.Facts))
            )
            .GroupBy(r => r.Layer)
            .ToDictionary(g => g.Key, g => g.ToImmutableDictionary(r => r.Property, r => r.Facts));
        return _patches.GetValueOrDefault(layer, ImmutableDictionary<long, PropertyPatch>.Empty);
    }

    private Dictionary<long, ImmutableDictionary<long, PropertyPatch>>? _patches;

    private ImmutableSortedDictionary<string, string> LabelsOf(long owner)
    {
        _labels ??= connection
            .Query<(long Owner, string Key, string Value)>("SELECT owner_id, key, value FROM label")
            .GroupBy(row => row.Owner)
            .ToDictionary(g => g.Key, g => g.ToImmutableSortedDictionary(row => row.Key, row => row.Value, StringComparer.Ordinal));
        return _labels.GetValueOrDefault(owner, Labels.None);
    }

    private Dictionary<long, ImmutableSortedDictionary<string, string>>? _labels;

    private ImmutableDictionary<long, T> ById<TRow, T>(
        IEnumerable<TRow> rows,
        string kind,
        Func<TRow, (long Id, string Name)> naming,
        Func<TRow, T> read
    )
        where T : Entity => Some(rows, kind, naming, read).ToImmutableDictionary(e => e.Id);

    /// <summary>What can be read of some rows; what cannot is set aside, named, with the row as it is kept.</summary>
    private List<T> Some<TRow, T>(IEnumerable<TRow> rows, string kind, Func<TRow, (long Id, string Name)> naming, Func<TRow, T> read)
    {
        var some = new List<T>();
        foreach (var row in rows)
        {
            try
            {
                some.Add(read(row));
            }
            catch (Exception e) when (IsUnreadable(e))
            {
                var (id, name) = naming(row);
                _aside.Add(new(kind, id, name, e.Message.Split('\n')[0].Trim(), row!.ToString() ?? ""));
            }
        }
        return some;
    }

    /// <summary>A part of an entity that it can do without: when it cannot be read the rest still can.</summary>
    private T Part<T>(string kind, long id, string name, string json, T without)
    {
        try
        {
            return Json.Read<T>(json);
        }
        catch (Exception e) when (IsUnreadable(e))
        {
            _aside.Add(new(kind, id, name, e.Message.Split('\n')[0].Trim(), json));
            return without;
        }
    }

    private static bool IsUnreadable(Exception e) =>
        e
            is FormatException
                or System.Text.Json.JsonException
                or ArgumentException
                or OverflowException
                or InvalidOperationException
                or NotSupportedException
                or KeyNotFoundException
                or NullReferenceException
                or InvalidCastException;

    private static T Named<T>(string name)
        where T : struct, Enum =>
        Enum.TryParse<T>(name, out var value) && Enum.IsDefined(value)
            ? value
            : throw new FormatException($"'{name}' is no {typeof(T).Name}.");

    /// <summary>A row of tags. SQLite gives whole numbers as long, whatever they count.</summary>
    private sealed record TagRow(
        long Id,
        long ControllerId,
        string Name,
        string Place,
        string Type,
        string WordOrder,
        string Description,
        long Count,
        string? Unit,
        string? UpdateClass,
        double? Low,
        double? High,
        long? DeviceId,
        long? PointId
    )
    {
        /// <summary>What is worth showing of a row that cannot be read.</summary>
        public override string ToString() =>
            $"{Place}, {Type}, "
            + $"{WordOrder}{(Count == 1 ? "" : $", {Count} elements")}{(Unit is null ? "" : $", {Unit}")}"
            + $"{(Description.Length == 0 ? "" : $": {Description}")}";

        public Tag ToTag(Protocol protocol) =>
            new(
                Id,
                ControllerId,
                Name,
                protocol.Rules().ReadAddress(Place, out var problem) ?? throw new FormatException(problem),
                Named<RawType>(Type),
                Named<WordOrder>(WordOrder),
                Description,
                (int)Count,
                Unit
            )
            {
                UpdateClass = UpdateClass,
                Range = Low is { } low && High is { } high ? new Span(low, high) : null,
                DeviceId = DeviceId,
                PointId = PointId,
            };
    }
}
