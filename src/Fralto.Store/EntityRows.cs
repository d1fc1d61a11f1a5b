using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Store;

/// <summary>The statements that write one change, in the order they are to run: a table or two for each kind of entity.</summary>
internal sealed class EntityRows(ModelChange change) : IEntityVisitor<IEnumerable<(string Sql, object Parameters)>>
{
    public IEnumerable<(string Sql, object Parameters)> Of(StateList it)
    {
        yield return ("DELETE FROM state WHERE state_list_id = @Id", it);
        if (change.After is null)
            yield return ("DELETE FROM state_list WHERE id = @Id", it);
        else
        {
            yield return (
                "INSERT INTO state_list (id, code, name) VALUES (@Id, @Code, @Name) ON CONFLICT (id) DO UPDATE SET code = "
                    + "excluded.code, name = excluded.name",
                it
            );
            yield return (
                "INSERT INTO state (state_list_id, value, name, abnormal, key) VALUES (@Id, @Value, @Name, @IsAbnormal, @Key)",
                it.States.Select(s => new
                {
                    it.Id,
                    s.Value,
                    s.Name,
                    s.IsAbnormal,
                    s.Key,
                })
            );
        }
    }

    public IEnumerable<(string Sql, object Parameters)> Of(OwnUnit it)
    {
        yield return (
            change.After is null
                ? "DELETE FROM own_unit WHERE id = @Id"
                : """
                INSERT INTO own_unit (id, code, symbol, name, factor, base_code) VALUES (@Id, @Code, @Symbol, @Name, @Factor, @BaseCode)
                ON CONFLICT (id) DO UPDATE SET code = excluded.code, symbol = excluded.symbol, name = excluded.name,
                  factor = excluded.factor, base_code = excluded.base_code
                """,
            it
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(NamingConvention it)
    {
        yield return (
            change.After is null
                ? "DELETE FROM naming_convention WHERE id = @Id"
                : """
                INSERT INTO naming_convention (id, level, template_id, is_of_names, text)
                VALUES (@Id, @Level, @TemplateId, @IsOfNames, @Text)
                ON CONFLICT (id) DO UPDATE SET level = excluded.level, template_id = excluded.template_id,
                is_of_names = excluded.is_of_names, text = excluded.text
                """,
            new
            {
                it.Id,
                Level = it.Level?.ToString(),
                it.TemplateId,
                it.IsOfNames,
                it.Text,
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(AlarmSetup it)
    {
        yield return (
            change.After is null
                ? "DELETE FROM alarm_setup WHERE id = @Id"
                : """
                INSERT INTO alarm_setup (id, rules, responses, lists, mail, languages, log_days)
                VALUES (@Id, @Rules, @Responses, @Lists, @Mail, @Languages, @LogDays)
                ON CONFLICT (id) DO UPDATE SET rules = excluded.rules, responses = excluded.responses, lists = excluded.lists,
                  mail = excluded.mail, languages = excluded.languages, log_days = excluded.log_days
                """,
            new
            {
                it.Id,
                Rules = Json.Write(it.Rules),
                Responses = Json.Write(it.Responses),
                Lists = Json.Write(it.Lists),
                Mail = it.Mail is { } mail ? Json.Write(mail) : null,
                Languages = Json.Write(it.Languages),
                it.LogDays,
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(SiteCalendar it)
    {
        yield return (
            change.After is null
                ? "DELETE FROM calendar WHERE id = @Id"
                : """
                INSERT INTO calendar (id, time_zone, shifts) VALUES (@Id, @TimeZone, @Shifts)
                ON CONFLICT (id) DO UPDATE SET time_zone = excluded.time_zone, shifts = excluded.shifts
                """,
            new
            {
                it.Id,
                it.TimeZone,
                Shifts = Json.Write(it.Shifts),
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(LibraryScale it)
    {
        yield return (
            change.After is null
                ? "DELETE FROM library_scale WHERE id = @Id"
                : """
                INSERT INTO library_scale (id, code, name, description, scale) VALUES (@Id, @Code, @Name, @Description, @Scale)
                ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, description = excluded.description,
                  scale = excluded.scale
                """,
            new
            {
                it.Id,
                it.Code,
                it.Name,
                it.Description,
                Scale = Json.Write(it.Scale),
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(Template it)
    {
        yield return ("DELETE FROM property WHERE template_id = @Id", it);
        yield return ("DELETE FROM template_part WHERE template_id = @Id", it);
        yield return ("DELETE FROM template_level WHERE template_id = @Id", it);
        if (change.After is null)
        {
            yield return ("DELETE FROM template WHERE id = @Id", it);
            foreach (var row in PatchRows(it.Id, ImmutableDictionary<long, PropertyPatch>.Empty).Concat(LabelRows(it.Id, Labels.None)))
                yield return row;
            yield break;
        }
        yield return (
            """
            INSERT INTO template (id, code, name, parent_id, description, rules) VALUES (@Id, @Code, @Name, @ParentId, @Description, @Rules)
            ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, parent_id = excluded.parent_id,
              description = excluded.description, rules = excluded.rules
            """,
            new
            {
                it.Id,
                it.Code,
                it.Name,
                it.ParentId,
                it.Description,
                Rules = Json.Write(it.Rules),
            }
        );
        yield return (
            "INSERT INTO property (id, template_id, position, code, name, kind, type, required) VALUES (@Id, @Template, @Position, "
                + "@Code, @Name, @Kind, @Type, @IsRequired)",
            it.Properties.Select(
                (p, i) =>
                    new
                    {
                        p.Id,
                        Template = it.Id,
                        Position = i,
                        p.Code,
                        p.Name,
                        Kind = p.Kind.ToString(),
                        Type = p.Type.ToString(),
                        p.IsRequired,
                    }
            )
        );
        yield return (
            "INSERT INTO template_part (id, template_id, position, code, name, part_template_id, level, count) VALUES (@Id, @Whole, "
                + "@Position, @Code, @Name, @TemplateId, @Level, @Count)",
            it.Parts.Select(
                (p, i) =>
                    new
                    {
                        p.Id,
                        Whole = it.Id,
                        Position = i,
                        p.Code,
                        p.Name,
                        p.TemplateId,
                        Level = p.Level.ToString(),
                        p.Count,
                    }
            )
        );
        yield return (
            "INSERT INTO template_level (template_id, position, level) VALUES (@Id, @Position, @Level)",
            it.Levels.Select(
                (l, i) =>
                    new
                    {
                        it.Id,
                        Position = i,
                        Level = l.ToString(),
                    }
            )
        );
        foreach (var row in LabelRows(it.Id, it.Labels).Concat(PatchRows(it.Id, it.Patches)))
            yield return row;
    }

    public IEnumerable<(string Sql, object Parameters)> Of(Equipment it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM equipment WHERE id = @Id", it);
            foreach (var row in PatchRows(it.Id, ImmutableDictionary<long, PropertyPatch>.Empty).Concat(LabelRows(it.Id, Labels.None)))
                yield return row;
            yield break;
        }
        yield return (
            """
            INSERT INTO equipment (id, code, name, level, parent_id, template_id, position, part_id, refused)
            VALUES (@Id, @Code, @Name, @Level, @ParentId, @TemplateId, @Order, @PartId, @Refused)
            ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, level = excluded.level,
                parent_id = excluded.parent_id, template_id = excluded.template_id, position = excluded.position,
                part_id = excluded.part_id, refused = excluded.refused
            """,
            new
            {
                it.Id,
                it.Code,
                it.Name,
                Level = it.Level.ToString(),
                it.ParentId,
                it.TemplateId,
                it.Order,
                it.PartId,
                Refused = Json.Write(it.Refused),
            }
        );
        if (change.Before is not Equipment was || !PropertyPatch.SameLayer(was.Patches, it.Patches))
            foreach (var row in PatchRows(it.Id, it.Patches))
                yield return row;
        if (change.Before is not Equipment before || !before.Labels.SequenceEqual(it.Labels))
            foreach (var row in LabelRows(it.Id, it.Labels))
                yield return row;
    }

    public IEnumerable<(string Sql, object Parameters)> Of(Controller it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM controller WHERE id = @Id", it);
            yield break;
        }
        yield return (
            """
            INSERT INTO controller (id, name, connection, update_classes, update_interval_ms) VALUES (@Id, @Name, @Connection, @Classes,
              @Interval)
            ON CONFLICT (id) DO UPDATE SET name = excluded.name, connection = excluded.connection, update_classes = excluded.update_classes,
                update_interval_ms = excluded.update_interval_ms
            """,
            new
            {
                it.Id,
                it.Name,
                Connection = Json.Write(it.Connection.Written(new ConnectionEntry())),
                Classes = Json.Write(it.UpdateClasses),
                Interval = (long)it.UpdateInterval.TotalMilliseconds,
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(Tag it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM tag WHERE id = @Id", it);
            yield break;
        }
        yield return (
            """
            INSERT INTO tag (id, controller_id, name, place, type, word_order, description, count, unit, update_class, range_low,
              range_high, device_id, point_id)
            VALUES (@Id, @ControllerId, @Name, @Place, @Type, @WordOrder, @Description, @Count, @Unit, @UpdateClass, @Low, @High,
              @DeviceId, @PointId)
            ON CONFLICT (id) DO UPDATE SET controller_id = excluded.controller_id, name = excluded.name, place = excluded.place,
                type = excluded.type, word_order = excluded.word_order, description = excluded.description, count = excluded.count,
                  unit = excluded.unit,
                update_class = excluded.update_class, range_low = excluded.range_low, range_high = excluded.range_high,
                device_id = excluded.device_id, point_id = excluded.point_id
            """,
            new
            {
                it.Id,
                it.ControllerId,
                it.Name,
                Place = it.Address.ToString(),
                Type = it.Type.ToString(),
                WordOrder = it.WordOrder.ToString(),
                it.Description,
                it.Count,
                it.Unit,
                it.UpdateClass,
                it.Range?.Low,
                it.Range?.High,
                it.DeviceId,
                it.PointId,
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(DeviceLayout it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM device_layout WHERE id = @Id", it);
            yield break;
        }
        yield return (
            """
            INSERT INTO device_layout (id, code, name, separator, points) VALUES (@Id, @Code, @Name, @Separator, @Points)
            ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, separator = excluded.separator,
              points = excluded.points
            """,
            new
            {
                it.Id,
                it.Code,
                it.Name,
                it.Separator,
                Points = Json.Write(it.Points),
            }
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(Device it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM device WHERE id = @Id", it);
            yield break;
        }
        yield return (
            """
            INSERT INTO device (id, controller_id, layout_id, name, base, bit_base, unit_id) VALUES (@Id, @ControllerId, @LayoutId, @Name,
              @Base, @BitBase, @UnitId)
            ON CONFLICT (id) DO UPDATE SET controller_id = excluded.controller_id, layout_id = excluded.layout_id, name = excluded.name,
              base = excluded.base,
                bit_base = excluded.bit_base, unit_id = excluded.unit_id
            """,
            it
        );
    }

    public IEnumerable<(string Sql, object Parameters)> Of(PropertyBinding it)
    {
        if (change.After is null)
        {
            yield return ("DELETE FROM binding WHERE equipment_id = @EquipmentId AND property_id = @PropertyId", it);
            yield break;
        }
        yield return (
            """
            INSERT INTO binding (equipment_id, property_id, tag_id, slice, simulation, checked) VALUES (@EquipmentId, @PropertyId, @TagId,
              @Slice, @Simulation, @Checked)
            ON CONFLICT (equipment_id, property_id) DO UPDATE SET tag_id = excluded.tag_id, slice = excluded.slice,
              simulation = excluded.simulation, checked = excluded.checked
            """,
            new
            {
                it.EquipmentId,
                it.PropertyId,
                it.TagId,
                Slice = it.Slice?.ToString(),
                Simulation = it.Simulation is null ? null : Json.Write(it.Simulation),
                Checked = it.Checked is null ? null : Json.Write(it.Checked),
            }
        );
    }

    private static IEnumerable<(string Sql, object Parameters)> LabelRows(long owner, ImmutableSortedDictionary<string, string> labels)
    {
        yield return ("DELETE FROM label WHERE owner_id = @owner", new { owner });
        yield return (
            "INSERT INTO label (owner_id, key, value) VALUES (@owner, @Key, @Value)",
            labels.Select(l => new
            {
                owner,
                l.Key,
                l.Value,
            })
        );
    }

    private static IEnumerable<(string Sql, object Parameters)> PatchRows(long layer, ImmutableDictionary<long, PropertyPatch> patches)
    {
        yield return ("DELETE FROM property_patch WHERE layer_id = @layer", new { layer });
        yield return (
            "INSERT INTO property_patch (layer_id, property_id, facts) VALUES (@layer, @Property, @Facts)",
            patches.Select(p => new
            {
                layer,
                Property = p.Key,
                Facts = Json.Write(p.Value),
            })
        );
    }
}
