using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Recording;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Exchange;

/// <summary>A change field by field, as people read it.</summary>
public sealed class ChangeText : IEntityVisitor<Dictionary<string, string>>
{
    private readonly PlantModel _model;

    private ChangeText(PlantModel model) => _model = model;

    /// <summary>The fields that differ: what they belong to, before and after; a new or removed entity shows all it has.</summary>
    public static IEnumerable<(string What, string Before, string After)> Of(ModelChange change, PlantModel model)
    {
        var text = new ChangeText(model);
        var (before, after) = (text.Fields(change.Before), text.Fields(change.After));
        var entity = (change.After ?? change.Before)!;
        var name = EntityKinds.NameOf(entity, model);
        foreach (var field in before.Keys.Union(after.Keys))
        {
            var (was, now) = (before.GetValueOrDefault(field, ""), after.GetValueOrDefault(field, ""));
            if (was != now)
                yield return ($"{name}: {field}", was, now);
        }
    }

    /// <summary>What a template is called, with its code where another has the same name: codes alone are unique.</summary>
    private string TemplateText(long id) =>
        _model.Templates.GetValueOrDefault(id) is not { } template ? $"template {id}"
        : _model.Templates.Values.Any(t => t.Id != id && t.Name == template.Name) ? $"{template.Name} ({template.Code})"
        : template.Name;

    private Dictionary<string, string> Fields(object? entity) => entity is null ? [] : EntityKinds.Visit(entity, this);

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(StateList it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["code"], fields["states"]) = (
            it.Name,
            it.Code,
            string.Join(
                ", ",
                it.States.Select(s => $"{s.Value} {s.Name}{(s.Key is { } key ? $" ({key})" : "")}{(s.IsAbnormal ? " abnormal" : "")}")
            )
        );
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(SiteCalendar it) =>
        new() { ["time zone"] = it.TimeZone, ["shifts"] = string.Join(", ", it.Shifts.Select(s => $"{s.Name} from {s.Start:HH\\:mm}")) };

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(AlarmSetup it)
    {
        var fields = new Dictionary<string, string>();
        foreach (var rule in it.Rules)
            fields[$"rule {rule.Name}"] =
                $"at most {LimitFormula.Seconds(rule.Longest.TotalSeconds)}, offers "
                + string.Join(", ", rule.Presets.Select(p => LimitFormula.Seconds(p.TotalSeconds)));
        foreach (var response in it.Responses)
            fields[$"response {response.Name}"] = string.Join(
                ", ",
                new[]
                {
                    $"{response.Kind} {response.Target}",
                    response.Text,
                    response.ClearText is { } clear ? $"then {clear}" : "",
                    response.Priorities.IsEmpty ? "" : $"priorities {string.Join(' ', response.Priorities)}",
                    response.Label ?? "",
                }.Where(t => t.Length > 0)
            );
        foreach (var list in it.Lists)
            fields[$"told {list.Name}"] = TextOf(list);
        if (it.Mail is { } mail)
            fields["mail server"] =
                $"{mail.Host}:{mail.Port}, {mail.Security}, from {mail.From}{(mail.User is { } user ? $", as {user}" : "")}";
        if (!it.Languages.IsEmpty)
            fields["languages"] = string.Join(", ", it.Languages);
        if (it.LogDays != AlarmSetup.StandardLogDays)
            fields["log is kept"] = $"{it.LogDays} d";
        return fields;
    }

    private string TextOf(NoticeList list) =>
        string.Join(
            ", ",
            new[]
            {
                string.Join(' ', list.Addresses),
                list.PlaceId is { } place
                    ? $"at or below {(_model.Equipment.ContainsKey(place) ? _model.Index.PathOf(place) : "what has gone")}"
                    : null,
                list.Label,
                list.Priorities.IsEmpty ? null : $"priorities {string.Join(' ', list.Priorities)}",
                list.Days.IsEmpty ? null : string.Join(' ', list.Days),
                list is { From: { } from, Until: { } until } ? $"{from:HH\\:mm} to {until:HH\\:mm}" : null,
                list.RepeatAfter is { } again ? $"again after {LimitFormula.Seconds(again.TotalSeconds)}, {list.Repeats} times" : null,
                list.EscalateAfter is { } wait ? $"{list.EscalateTo} after {LimitFormula.Seconds(wait.TotalSeconds)}" : null,
                list.TellsReturn ? "also of the return" : null,
                list.OnlyEscalated ? "only of what is handed on" : null,
                list.Language is { } language ? $"in {language}" : null,
            }.Where(t => t is not null)
        );

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(NamingConvention it) =>
        new()
        {
            ["of"] = it.TemplateId is { } template
                ? $"template {TemplateText(template)}"
                : LevelRules.NameOf(it.Level ?? EquipmentLevel.Other),
            ["written"] = it.IsOfNames ? "names" : "codes",
            ["pattern"] = it.Text,
        };

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(OwnUnit it)
    {
        var fields = new Dictionary<string, string>();
        (fields["symbol"], fields["code"], fields["name"]) = (it.Symbol, it.Code, it.Name);
        fields["is"] = string.Create(CultureInfo.InvariantCulture, $"{it.Factor} {UnitCatalogue.Standard.SymbolOf(it.BaseCode)}");
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(LibraryScale it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["code"], fields["description"], fields["scale"]) = (it.Name, it.Code, it.Description, Text(it.Scale));
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(Template it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["code"], fields["description"]) = (it.Name, it.Code, it.Description);
        fields["inherits"] = it.ParentId is { } parent ? TemplateText(parent) : "";
        foreach (var p in it.Properties)
            fields[$"property {p.Code}"] = $"{p.Name}, {p.Kind} {p.Type}{(p.IsRequired ? "" : ", optional")}";
        foreach (var p in it.Parts)
            fields[$"part {p.Code}"] =
                $"{p.Name}, {(p.Count > 1 ? $"{p.Count} " : "")}{TemplateText(p.TemplateId)} at " + $"{LevelRules.NameOf(p.Level)}";
        fields["levels"] = string.Join(", ", it.Levels.Select(LevelRules.NameOf));
        fields["labels"] = Labels.Text(it.Labels);
        AddPatches(fields, it.Patches);
        foreach (var rule in it.Rules)
            fields[$"rule for the {rule.Face.ToString().ToLowerInvariant()} of {PropertyName(rule.PropertyId)}"] = rule.Pattern.ToString();
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(Equipment it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["code"], fields["level"]) = (it.Name, it.Code, LevelRules.NameOf(it.Level));
        fields["below"] = it.ParentId is { } parent ? _model.Equipment.GetValueOrDefault(parent)?.Name ?? $"equipment {parent}" : "";
        fields["labels"] = Labels.Text(it.Labels);
        fields["position"] = it.Order.ToString(CultureInfo.InvariantCulture);
        AddPatches(fields, it.Patches);
        fields["instance of"] = it.TemplateId is { } template ? TemplateText(template) : "";
        fields["made as part"] = it.PartId is { } part ? PartName(part) : "";
        foreach (var refused in it.Refused.GroupBy(r => r.PropertyId))
            fields[$"tags refused for {PropertyName(refused.Key)}"] = string.Join(
                ", ",
                refused.Select(r => _model.Tags.GetValueOrDefault(r.TagId)?.Name ?? $"tag {r.TagId}").Order(StringComparer.Ordinal)
            );
        return fields;
    }

    private string PartName(long partId) =>
        _model.Templates.Values.FirstOrDefault(t => t.Parts.Any(p => p.Id == partId)) is { } owner
            ? $"{owner.Parts.First(p => p.Id == partId).Code} of {owner.Name}"
            : $"part {partId}";

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(Controller it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["address"], fields["update interval"]) = (
            it.Name,
            $"{it.Protocol.Words()}, {it.Connection.Place}",
            $"{it.UpdateInterval.TotalMilliseconds} ms"
        );
        fields["update classes"] = UpdateClassText.Of(it.UpdateClasses, "; ");
        fields["connection"] = string.Join(", ", it.Protocol.Rules().Details(it.Connection));
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(Tag it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["address"], fields["type"], fields["description"]) = (
            it.Name,
            it.Address.ToString(),
            $"{it.TypeText} {it.WordOrder.Letters()}{(it.Unit is { } unit ? $" in {_model.Units.SymbolOf(unit)}" : "")}",
            it.Description
        );
        fields["update class"] = it.UpdateClass ?? "";
        fields["range"] = Text(it.Range) ?? "";
        fields["controller"] = _model.Controllers.GetValueOrDefault(it.ControllerId)?.Name ?? $"controller {it.ControllerId}";
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(DeviceLayout it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["code"]) = (it.Name, it.Code);
        foreach (var p in it.Points)
            fields[$"point {p.Name}"] =
                $"{new ModbusAddress(p.Area, p.Offset, p.Bit)} {p.Type.Word()}{(p.Count > 1 ? $"[{p.Count}]" : "")} "
                + $"{p.WordOrder.Letters()} {p.Description}".TrimEnd();
        fields["separator"] = it.Separator;
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(Device it)
    {
        var fields = new Dictionary<string, string>();
        (fields["name"], fields["base"]) = (it.Name, $"{it.Base}, bits {it.BitBase}{(it.UnitId is { } its ? $", unit {its}" : "")}");
        fields["layout"] = _model.Layouts.GetValueOrDefault(it.LayoutId)?.Name ?? $"layout {it.LayoutId}";
        fields["controller"] = _model.Controllers.GetValueOrDefault(it.ControllerId)?.Name ?? $"controller {it.ControllerId}";
        return fields;
    }

    Dictionary<string, string> IEntityVisitor<Dictionary<string, string>>.Of(PropertyBinding it)
    {
        var fields = new Dictionary<string, string>();
        fields[$"tag of {PropertyName(it.PropertyId)}"] =
            (_model.Tags.GetValueOrDefault(it.TagId)?.Name ?? $"tag {it.TagId}")
            + it.Slice
            + (it.Simulation is { } s ? string.Create(CultureInfo.InvariantCulture, $", simulated: {s.Shape} {s.Low} … {s.High}") : "");
        if (it.Checked is { } check)
            fields[$"check of {PropertyName(it.PropertyId)}"] = string.Create(
                CultureInfo.InvariantCulture,
                $"{check.By}, {check.At:yyyy-MM-dd HH:mm:ss}"
            );
        return fields;
    }

    private void AddPatches(Dictionary<string, string> fields, IEnumerable<KeyValuePair<long, PropertyPatch>> patches)
    {
        foreach (var (id, patch) in patches)
        {
            var name = PropertyName(id);
            foreach (var (what, text) in Of(patch))
                fields[$"{name} {what}"] = text;
            foreach (var (code, limit) in LimitsOf(patch))
                fields[$"{name} {code}"] = string.Join(", ", Pieces(limit));
        }
    }

    /// <summary>What a layer says of a property beside its limits, field by field.</summary>
    /// <param name="patch">What it says.</param>
    /// <param name="model">The model, for names and units.</param>
    public static IReadOnlyList<(string What, string Text)> Of(PropertyPatch patch, PlantModel model) =>
        [.. new ChangeText(model).Of(patch)];

    private IEnumerable<(string What, string Text)> Of(PropertyPatch patch) =>
        new (string What, string? Text)[]
        {
            ("unit", patch.Unit is { } unit ? _model.Units.SymbolOf(unit) : null),
            ("range", Text(patch.Range)),
            (
                "scale",
                patch.Scale is { } scale ? Text(scale)
                : patch.ScaleId is { } named ? _model.Scales.GetValueOrDefault(named)?.Name ?? $"scale {named}"
                : null
            ),
            ("state list", patch.StateListId is { } set ? _model.StateLists.GetValueOrDefault(set)?.Name ?? $"state list {set}" : null),
            ("value", patch.Value),
            ("formula", patch.Formula),
            ("at a start", patch.AtStart),
            ("follows at most every", Seconds(patch.FollowSeconds)),
            ("follows when moved by", patch.FollowDeadband?.ToString("R", CultureInfo.InvariantCulture)),
            ("valid for", Seconds(patch.ValidSeconds)),
            ("recording", patch.Recording is { } recording ? RecordingText.Of(recording) : null),
            (
                "key figure",
                patch.IsKeyFigure is { } figure
                    ? figure
                        ? "yes"
                        : "no"
                    : null
            ),
            ("description", patch.Description),
        }.Where(f => f.Text is not null)!;

    /// <summary>The limits a layer says something of, by their codes.</summary>
    public static IEnumerable<(string Code, LimitPatch Limit)> LimitsOf(PropertyPatch patch) =>
        patch.Limits.Select(l => (l.Key.Letters(), l.Value)).Concat(patch.Others.Select(l => (l.Key, l.Value)));

    private static string? Seconds(double? seconds) => seconds is { } s ? string.Create(CultureInfo.InvariantCulture, $"{s} s") : null;

    /// <summary>What is said of a limit, piece by piece.</summary>
    public static IReadOnlyList<string> Pieces(LimitPatch limit)
    {
        if (limit.Off == true)
            return ["off"];
        static string? Number(double? number, string words) =>
            number is { } n ? string.Create(CultureInfo.InvariantCulture, $"{words}{n}") : null;
        return
        [
            .. new[]
            {
                limit.Kind?.ToString(),
                Number(limit.Setpoint, ""),
                limit.From,
                Number(limit.WindowSeconds, "window s "),
                Number(limit.Deadband, "deadband "),
                Number(limit.DeadbandPercent, "deadband % "),
                Number(limit.Priority, "priority "),
                Number(limit.OnDelay, "on-delay s "),
                Number(limit.OffDelay, "off-delay s "),
                limit.Class is { } its ? $"class {its}" : null,
                limit.Message is { } message ? $"says {message}" : null,
                limit.Cause is { } cause ? $"cause: {cause}" : null,
                limit.Consequence is { } consequence ? $"consequence: {consequence}" : null,
                limit.Action is { } action ? $"action: {action}" : null,
                Number(limit.RespondSeconds, "to respond s "),
                limit.Document,
                limit.NoAcknowledgement == true ? "not acknowledged" : null,
                limit.Latched == true ? "latched" : null,
                limit.Momentary == true ? "an event" : null,
                Number(limit.ClearsAfter, "clears after s "),
                limit.CountsWhile is { } gate ? $"counts while {gate}" : null,
                Number(limit.CountsAfter, "counts after s "),
                limit.AlwaysNews == true ? "always news" : null,
                limit.Shelving is { } rule ? $"shelved by {rule}" : null,
                limit.Responses is { } responses ? $"sets off {responses}" : null,
                limit.Capture is { } capture ? $"captures {capture}" : null,
                limit.Translations is { } translations ? $"in other languages {translations}" : null,
            }.OfType<string>(),
        ];
    }

    private string PropertyName(long id) =>
        _model.Templates.Values.SelectMany(t => t.Properties).FirstOrDefault(p => p.Id == id)?.Name ?? $"property {id}";

    private string Text(Scale scale) =>
        scale.Words
        + (scale.Unit is { } unit ? $" {_model.Units.SymbolOf(unit)}" : "")
        + (scale.Outside == OutsideRule.Keep ? "" : $", outside: {scale.Outside}")
        + (
            scale is TableScale table
                ? $": {string.Join("; ", table.Points.Take(8).Select(Text))}" + $"{(table.Points.Length > 8 ? " …" : "")}"
                : ""
        );

    private static string Text(TablePoint point) => string.Create(CultureInfo.InvariantCulture, $"{point.Input} {point.Value}");

    private static string? Text(Span? span) => span is { } s ? string.Create(CultureInfo.InvariantCulture, $"{s.Low} … {s.High}") : null;
}
