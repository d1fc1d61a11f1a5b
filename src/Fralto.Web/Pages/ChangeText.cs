using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Web.Pages;

/// <summary>A change field by field, as people read it.</summary>
public static class ChangeText
{
    /// <summary>The fields that differ: what they belong to, before and after; a new or removed entity shows all it has.</summary>
    public static IEnumerable<(string What, string Before, string After)> Of(ModelChange change, PlantModel model)
    {
        var (before, after) = (Fields(change.Before, model), Fields(change.After, model));
        var name = NameOf((change.After ?? change.Before)!, model);
        foreach (var field in before.Keys.Union(after.Keys))
        {
            var (was, now) = (before.GetValueOrDefault(field, ""), after.GetValueOrDefault(field, ""));
            if (was != now) yield return ($"{name}: {field}", was, now);
        }
    }

    /// <summary>What an entity is called.</summary>
    public static string NameOf(object entity, PlantModel model) => entity switch
    {
        StateSet it => it.Name,
        OwnUnit it => it.Symbol,
        LibraryScale it => it.Name,
        Template it => it.Name,
        Equipment it => it.Name,
        Controller it => it.Name,
        Tag it => it.Name,
        DeviceLayout it => it.Name,
        Device it => it.Name,
        PropertyBinding it => model.Equipment.GetValueOrDefault(it.EquipmentId)?.Name ?? $"equipment {it.EquipmentId}",
        _ => "",
    };

    private static Dictionary<string, string> Fields(object? entity, PlantModel model)
    {
        var fields = new Dictionary<string, string>();
        switch (entity)
        {
            case StateSet it:
                (fields["name"], fields["code"], fields["states"]) = (it.Name, it.Code, string.Join(", ", it.States.Select(s => $"{s.Value} {s.Name}")));
                break;
            case OwnUnit it:
                (fields["symbol"], fields["code"], fields["name"]) = (it.Symbol, it.Code, it.Name);
                fields["is"] = string.Create(CultureInfo.InvariantCulture, $"{it.Factor} {UnitCatalogue.Standard.SymbolOf(it.BaseCode)}");
                break;
            case LibraryScale it:
                (fields["name"], fields["code"], fields["description"], fields["scale"]) = (it.Name, it.Code, it.Description, Text(it.Scale, model));
                break;
            case Template it:
                (fields["name"], fields["code"], fields["description"]) = (it.Name, it.Code, it.Description);
                foreach (var p in it.Properties) fields[$"property {p.Code}"] = $"{p.Name}, {p.Kind} {p.Type}{(p.IsRequired ? "" : ", optional")}";
                foreach (var p in it.Parts) fields[$"part {p.Code}"] = $"{p.Name}, {(p.Count > 1 ? $"{p.Count} " : "")}{model.Templates.GetValueOrDefault(p.TemplateId)?.Name} at {LevelRules.NameOf(p.Level)}";
                fields["levels"] = string.Join(", ", it.Levels.Select(LevelRules.NameOf));
                fields["labels"] = Labels.Text(it.Labels);
                AddPatches(fields, it.Patches, model);
                break;
            case Equipment it:
                (fields["name"], fields["code"], fields["level"]) = (it.Name, it.Code, LevelRules.NameOf(it.Level));
                fields["below"] = it.ParentId is { } parent ? model.Equipment.GetValueOrDefault(parent)?.Name ?? $"equipment {parent}" : "";
                fields["labels"] = Labels.Text(it.Labels);
                fields["position"] = it.Order.ToString(CultureInfo.InvariantCulture);
                AddPatches(fields, it.Patches, model);
                break;
            case Controller it:
                (fields["name"], fields["address"], fields["update interval"]) = (it.Name, $"{it.Protocol.Words()}, {it.Connection.Place}", $"{it.UpdateInterval.TotalMilliseconds} ms");
                fields["update classes"] = string.Join(", ", it.UpdateClasses.Select(c => $"{c.Name} {c.Interval.TotalMilliseconds} ms"));
                fields["connection"] = string.Join(", ", it.Protocol.Rules().Details(it.Connection));
                break;
            case Tag it:
                (fields["name"], fields["address"], fields["type"], fields["description"]) = (it.Name, it.Address.ToString(), $"{it.TypeText} {it.WordOrder.Letters()}{(it.Unit is { } unit ? $" in {model.Units.SymbolOf(unit)}" : "")}", it.Description);
                fields["update class"] = it.UpdateClass ?? "";
                fields["range"] = Text(it.Range) ?? "";
                break;
            case DeviceLayout it:
                (fields["name"], fields["code"]) = (it.Name, it.Code);
                foreach (var p in it.Points) fields[$"point {p.Name}"] = $"{new ModbusAddress(p.Area, p.Offset, p.Bit)} {p.Type.Word()}{(p.Count > 1 ? $"[{p.Count}]" : "")} {p.WordOrder.Letters()} {p.Description}".TrimEnd();
                break;
            case Device it:
                (fields["name"], fields["base"]) = (it.Name, $"{it.Base}, bits {it.BitBase}{(it.UnitId is { } its ? $", unit {its}" : "")}");
                break;
            case PropertyBinding it:
                fields[$"tag of {PropertyName(it.PropertyId, model)}"] = (model.Tags.GetValueOrDefault(it.TagId)?.Name ?? $"tag {it.TagId}") + it.Slice + (it.Simulation is { } s ? string.Create(CultureInfo.InvariantCulture, $", simulated: {s.Shape} {s.Low} … {s.High}") : "");
                break;
        }
        return fields;
    }

    private static void AddPatches(Dictionary<string, string> fields, IEnumerable<KeyValuePair<long, PropertyPatch>> patches, PlantModel model)
    {
        foreach (var (id, patch) in patches)
        {
            var name = PropertyName(id, model);
            void Add(string what, string? text)
            {
                if (text is not null) fields[$"{name} {what}"] = text;
            }
            Add("unit", patch.Unit is { } unit ? model.Units.SymbolOf(unit) : null);
            Add("range", Text(patch.Range));
            Add("scale", patch.Scale is { } scale ? Text(scale, model) : patch.ScaleId is { } named ? model.Scales.GetValueOrDefault(named)?.Name ?? $"scale {named}" : null);
            Add("state set", patch.StateSetId is { } set ? model.StateSets.GetValueOrDefault(set)?.Name ?? $"state set {set}" : null);
            Add("value", patch.Value);
            Add("description", patch.Description);
            foreach (var (condition, limit) in patch.Limits)
                Add(condition.Letters(), limit.Off == true ? "off" : string.Create(CultureInfo.InvariantCulture, $"{limit.Setpoint}, deadband {limit.Deadband}, priority {limit.Priority}{(limit.OnDelay is { } on ? $", on-delay {on} s" : "")}{(limit.OffDelay is { } off ? $", off-delay {off} s" : "")}"));
        }
    }

    private static string PropertyName(long id, PlantModel model) =>
        model.Templates.Values.SelectMany(t => t.Properties).FirstOrDefault(p => p.Id == id)?.Name ?? $"property {id}";

    private static string Text(Scale scale, PlantModel model) => scale.Words + (scale.Unit is { } unit ? $" {model.Units.SymbolOf(unit)}" : "")
        + (scale.Outside == OutsideRule.Keep ? "" : $", outside: {scale.Outside}") + (scale is TableScale table ? $": {string.Join("; ", table.Points.Take(8).Select(p => string.Create(CultureInfo.InvariantCulture, $"{p.Input} {p.Value}")))}{(table.Points.Length > 8 ? " …" : "")}" : "");

    private static string? Text(Span? span) => span is { } s ? string.Create(CultureInfo.InvariantCulture, $"{s.Low} … {s.High}") : null;
}
