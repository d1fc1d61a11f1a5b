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
using Microsoft.Data.Sqlite;

namespace Fralto.Store;

/// <summary>From the model into its tables.</summary>
internal static class ModelRows
{
    /// <summary>Writes changes whatever their order: what goes is out of the way first, and codes and names that change are let go of before they are given anew.</summary>
    public static void Write(SqliteConnection connection, SqliteTransaction transaction, IReadOnlyCollection<ModelChange> changes)
    {
        var gone = new RowBatch();
        foreach (var change in changes.Where(c => c.After is null)) Write(gone, change);
        gone.Execute(connection, transaction);
        if (changes.Count > 1)
        {
            var letGo = new RowBatch();
            foreach (var change in changes)
                if (LetGo(change) is { } sql) letGo.Add(sql, change.After!);
            letGo.Execute(connection, transaction);
        }
        var there = new RowBatch();
        foreach (var change in changes.Where(c => c.After is not null)) Write(there, change);
        there.Execute(connection, transaction);
    }

    private static string? LetGo(ModelChange change) => (change.Before, change.After) switch
    {
        (StateSet was, StateSet now) when was.Code != now.Code => "UPDATE state_set SET code = '~' || id WHERE id = @Id",
        (LibraryScale was, LibraryScale now) when was.Code != now.Code => "UPDATE library_scale SET code = '~' || id WHERE id = @Id",
        (OwnUnit was, OwnUnit now) when was.Code != now.Code => "UPDATE own_unit SET code = '~' || id WHERE id = @Id",
        (Template was, Template now) when was.Code != now.Code => "DELETE FROM property WHERE template_id = @Id; DELETE FROM template_part WHERE template_id = @Id; UPDATE template SET code = '~' || id WHERE id = @Id",
        (Template, Template) => "DELETE FROM property WHERE template_id = @Id; DELETE FROM template_part WHERE template_id = @Id",
        (Equipment was, Equipment now) when (was.Code, was.ParentId) != (now.Code, now.ParentId) => "UPDATE equipment SET code = '~' || id WHERE id = @Id",
        (DeviceLayout was, DeviceLayout now) when was.Code != now.Code => "UPDATE device_layout SET code = '~' || id WHERE id = @Id",
        (Controller was, Controller now) when was.Name != now.Name => "UPDATE controller SET name = '~' || id WHERE id = @Id",
        (Tag was, Tag now) when (was.Name, was.ControllerId) != (now.Name, now.ControllerId) => "UPDATE tag SET name = '~' || id WHERE id = @Id",
        _ => null,
    };

    private static void Write(RowBatch batch, ModelChange change)
    {
        void Run(string sql, object parameters) => batch.Add(sql, parameters);
        switch (change.After ?? change.Before)
        {
            case StateSet it:
                Run("DELETE FROM state WHERE state_set_id = @Id", it);
                if (change.After is null) Run("DELETE FROM state_set WHERE id = @Id", it);
                else
                {
                    Run("INSERT INTO state_set (id, code, name) VALUES (@Id, @Code, @Name) ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name", it);
                    Run("INSERT INTO state (state_set_id, value, name) VALUES (@Id, @Value, @Name)", it.States.Select(s => new { it.Id, s.Value, s.Name }));
                }
                break;
            case OwnUnit it:
                Run(
                    change.After is null
                        ? "DELETE FROM own_unit WHERE id = @Id"
                        : """
                          INSERT INTO own_unit (id, code, symbol, name, factor, base_code) VALUES (@Id, @Code, @Symbol, @Name, @Factor, @BaseCode)
                          ON CONFLICT (id) DO UPDATE SET code = excluded.code, symbol = excluded.symbol, name = excluded.name, factor = excluded.factor, base_code = excluded.base_code
                          """, it);
                break;
            case LibraryScale it:
                Run(
                    change.After is null
                        ? "DELETE FROM library_scale WHERE id = @Id"
                        : """
                          INSERT INTO library_scale (id, code, name, description, scale) VALUES (@Id, @Code, @Name, @Description, @Scale)
                          ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, description = excluded.description, scale = excluded.scale
                          """, new { it.Id, it.Code, it.Name, it.Description, Scale = Json.Write(it.Scale) });
                break;
            case Template it:
                WriteTemplate(Run, it, change.After is null);
                break;
            case Equipment it:
                if (change.After is null)
                {
                    Run("DELETE FROM equipment WHERE id = @Id", it);
                    WritePatches(Run, it.Id, ImmutableDictionary<long, PropertyPatch>.Empty);
                    WriteLabels(Run, it.Id, Labels.None);
                    break;
                }
                Run(
                    """
                    INSERT INTO equipment (id, code, name, level, parent_id, template_id, position, part_id, refused)
                    VALUES (@Id, @Code, @Name, @Level, @ParentId, @TemplateId, @Order, @PartId, @Refused)
                    ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, level = excluded.level,
                        parent_id = excluded.parent_id, template_id = excluded.template_id, position = excluded.position,
                        part_id = excluded.part_id, refused = excluded.refused
                    """,
                    new { it.Id, it.Code, it.Name, Level = it.Level.ToString(), it.ParentId, it.TemplateId, it.Order, it.PartId, Refused = Json.Write(it.Refused) });
                if (change.Before is not Equipment was || !PropertyPatch.SameLayer(was.Patches, it.Patches)) WritePatches(Run, it.Id, it.Patches);
                if (change.Before is not Equipment before || !before.Labels.SequenceEqual(it.Labels)) WriteLabels(Run, it.Id, it.Labels);
                break;
            case Controller it when change.After is null:
                Run("DELETE FROM controller WHERE id = @Id", it);
                break;
            case Controller it:
                Run(
                    """
                    INSERT INTO controller (id, name, connection, update_classes, update_interval_ms) VALUES (@Id, @Name, @Connection, @Classes, @Interval)
                    ON CONFLICT (id) DO UPDATE SET name = excluded.name, connection = excluded.connection, update_classes = excluded.update_classes,
                        update_interval_ms = excluded.update_interval_ms
                    """,
                    new { it.Id, it.Name, Connection = Json.Write(it.Connection.Written(new ConnectionEntry())), Classes = Json.Write(it.UpdateClasses), Interval = (long)it.UpdateInterval.TotalMilliseconds });
                break;
            case Tag it when change.After is null:
                Run("DELETE FROM tag WHERE id = @Id", it);
                break;
            case Tag it:
                Run(
                    """
                    INSERT INTO tag (id, controller_id, name, place, type, word_order, description, count, unit, update_class, range_low, range_high, device_id, point_id)
                    VALUES (@Id, @ControllerId, @Name, @Place, @Type, @WordOrder, @Description, @Count, @Unit, @UpdateClass, @Low, @High, @DeviceId, @PointId)
                    ON CONFLICT (id) DO UPDATE SET controller_id = excluded.controller_id, name = excluded.name, place = excluded.place,
                        type = excluded.type, word_order = excluded.word_order, description = excluded.description, count = excluded.count, unit = excluded.unit,
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
                    });
                break;
            case DeviceLayout it when change.After is null:
                Run("DELETE FROM device_layout WHERE id = @Id", it);
                break;
            case DeviceLayout it:
                Run(
                    """
                    INSERT INTO device_layout (id, code, name, separator, points) VALUES (@Id, @Code, @Name, @Separator, @Points)
                    ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, separator = excluded.separator, points = excluded.points
                    """, new { it.Id, it.Code, it.Name, it.Separator, Points = Json.Write(it.Points) });
                break;
            case Device it when change.After is null:
                Run("DELETE FROM device WHERE id = @Id", it);
                break;
            case Device it:
                Run(
                    """
                    INSERT INTO device (id, controller_id, layout_id, name, base, bit_base, unit_id) VALUES (@Id, @ControllerId, @LayoutId, @Name, @Base, @BitBase, @UnitId)
                    ON CONFLICT (id) DO UPDATE SET controller_id = excluded.controller_id, layout_id = excluded.layout_id, name = excluded.name, base = excluded.base,
                        bit_base = excluded.bit_base, unit_id = excluded.unit_id
                    """, it);
                break;
            case PropertyBinding it when change.After is null:
                Run("DELETE FROM binding WHERE equipment_id = @EquipmentId AND property_id = @PropertyId", it);
                break;
            case PropertyBinding it:
                Run(
                    """
                    INSERT INTO binding (equipment_id, property_id, tag_id, slice, simulation, checked) VALUES (@EquipmentId, @PropertyId, @TagId, @Slice, @Simulation, @Checked)
                    ON CONFLICT (equipment_id, property_id) DO UPDATE SET tag_id = excluded.tag_id, slice = excluded.slice, simulation = excluded.simulation, checked = excluded.checked
                    """,
                    new { it.EquipmentId, it.PropertyId, it.TagId, Slice = it.Slice?.ToString(), Simulation = it.Simulation is null ? null : Json.Write(it.Simulation), Checked = it.Checked is null ? null : Json.Write(it.Checked) });
                break;
            case var other:
                throw new InvalidOperationException($"{other?.GetType().Name} has no table.");
        }
    }

    private static void WriteTemplate(Action<string, object> run, Template it, bool gone)
    {
        run("DELETE FROM property WHERE template_id = @Id", it);
        run("DELETE FROM template_part WHERE template_id = @Id", it);
        run("DELETE FROM template_level WHERE template_id = @Id", it);
        if (gone)
        {
            run("DELETE FROM template WHERE id = @Id", it);
            WritePatches(run, it.Id, ImmutableDictionary<long, PropertyPatch>.Empty);
            WriteLabels(run, it.Id, Labels.None);
            return;
        }
        run(
            """
            INSERT INTO template (id, code, name, parent_id, description, rules) VALUES (@Id, @Code, @Name, @ParentId, @Description, @Rules)
            ON CONFLICT (id) DO UPDATE SET code = excluded.code, name = excluded.name, parent_id = excluded.parent_id, description = excluded.description, rules = excluded.rules
            """,
            new { it.Id, it.Code, it.Name, it.ParentId, it.Description, Rules = Json.Write(it.Rules) });
        run(
            "INSERT INTO property (id, template_id, position, code, name, kind, type, required) VALUES (@Id, @Template, @Position, @Code, @Name, @Kind, @Type, @IsRequired)",
            it.Properties.Select((p, i) => new { p.Id, Template = it.Id, Position = i, p.Code, p.Name, Kind = p.Kind.ToString(), Type = p.Type.ToString(), p.IsRequired }));
        run(
            "INSERT INTO template_part (id, template_id, position, code, name, part_template_id, level, count) VALUES (@Id, @Whole, @Position, @Code, @Name, @TemplateId, @Level, @Count)",
            it.Parts.Select((p, i) => new { p.Id, Whole = it.Id, Position = i, p.Code, p.Name, p.TemplateId, Level = p.Level.ToString(), p.Count }));
        run("INSERT INTO template_level (template_id, position, level) VALUES (@Id, @Position, @Level)", it.Levels.Select((l, i) => new { it.Id, Position = i, Level = l.ToString() }));
        WriteLabels(run, it.Id, it.Labels);
        WritePatches(run, it.Id, it.Patches);
    }

    private static void WriteLabels(Action<string, object> run, long owner, ImmutableSortedDictionary<string, string> labels)
    {
        run("DELETE FROM label WHERE owner_id = @owner", new { owner });
        run("INSERT INTO label (owner_id, key, value) VALUES (@owner, @Key, @Value)", labels.Select(l => new { owner, l.Key, l.Value }));
    }

    private static void WritePatches(Action<string, object> run, long layer, ImmutableDictionary<long, PropertyPatch> patches)
    {
        run("DELETE FROM property_patch WHERE layer_id = @layer", new { layer });
        run(
            "INSERT INTO property_patch (layer_id, property_id, facts) VALUES (@layer, @Property, @Facts)",
            patches.Select(p => new { layer, Property = p.Key, Facts = Json.Write(p.Value) }));
    }
}
