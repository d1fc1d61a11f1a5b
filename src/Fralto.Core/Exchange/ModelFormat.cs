using System.Collections.Immutable;
using System.Globalization;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Hierarchy;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Exchange;

/// <summary>The JSON format of a whole model: a model becomes a document, a document becomes bytes, and back.</summary>
/// <remarks>Everything is written in one stable order, so that the same model yields the same bytes wherever its ids come from.</remarks>
public static class ModelFormat
{
    /// <summary>How documents are written and read: camel case, names of enumerations, no member the format does not know.</summary>
    public static readonly JsonSerializerOptions Json = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
        RespectNullableAnnotations = true,
        Encoder = JavaScriptEncoder.Create(System.Text.Unicode.UnicodeRanges.All),
        WriteIndented = true,
        NewLine = "\n",
        Converters = { new JsonStringEnumConverter(namingPolicy: null, allowIntegerValues: false) },
    };

    /// <summary>The bytes of a model, UTF-8.</summary>
    public static byte[] Write(PlantModel model) => JsonSerializer.SerializeToUtf8Bytes(DocumentOf(model), Json);

    /// <summary>The document in some bytes; null and a problem, with the place in the file, when they hold none.</summary>
    public static ModelDocument? Read(ReadOnlySpan<byte> utf8, out Problem? problem)
    {
        problem = null;
        if (utf8.StartsWith("\uFEFF"u8))
            utf8 = utf8[3..];
        try
        {
            var document = JsonSerializer.Deserialize<ModelDocument>(utf8, Json);
            if (document is null)
                problem = new("$", "The file holds null where a model was expected.");
            else if (document.Format != ModelDocument.FormatName)
                problem = new("$.format", $"The format is '{document.Format}'; a model says \"{ModelDocument.FormatName}\".");
            else if (document.Version != ModelDocument.CurrentVersion)
                problem = new(
                    "$.version",
                    $"The version is {document.Version}; this program reads version {ModelDocument.CurrentVersion}."
                );
            else if (MissingEntries.Find(document) is { } missing)
                problem = new(missing, "null stands here where an entry was expected; take it out.");
            return problem is null ? document : null;
        }
        catch (Exception e) when (e is InvalidOperationException or ArgumentException)
        {
            // An escape can name half of a character pair, which no string holds (RFC 8259, section 8.2).
            problem = new("$", $"The file holds text that is none: {e.Message}");
            return null;
        }
        catch (JsonException e)
        {
            problem = new(e.Path ?? "$", JsonTrouble.Words(e));
            return null;
        }
    }

    /// <summary>The document of a model.</summary>
    public static ModelDocument DocumentOf(PlantModel model) =>
        new()
        {
            StateLists =
            [
                .. model
                    .StateLists.Values.OrderBy(s => s.Code, StringComparer.Ordinal)
                    .Select(s => new ModelDocument.StateListEntry(
                        s.Code,
                        s.Name,
                        [.. s.States.Select(t => new ModelDocument.StateEntry(t.Value, t.Name, t.IsAbnormal ? true : null, t.Key))]
                    )),
            ],
            ShelvingRules = model.AlarmSetups.Values.FirstOrDefault()?.Rules is { } rules
                ?
                [
                    .. rules.Select(r => new ModelDocument.ShelvingRuleEntry(
                        r.Name,
                        r.Longest.TotalMinutes,
                        [.. r.Presets.Select(p => p.TotalMinutes)]
                    )),
                ]
                : null,
            Responses = model.Responses.IsEmpty
                ? null
                :
                [
                    .. model.Responses.Select(r => new ModelDocument.ResponseEntry(r.Name, r.Kind)
                    {
                        Target = r.Target,
                        Text = r.Text.Length > 0 ? r.Text : null,
                        ClearText = r.ClearText,
                        Priorities = r.Priorities.IsEmpty ? null : r.Priorities,
                        Label = r.Label,
                    }),
                ],
            NoticeLists = model.AlarmSetup.Lists.IsEmpty ? null : [.. model.AlarmSetup.Lists.Select(l => NoticeForm.EntryOf(model, l))],
            MailServer = model.AlarmSetup.Mail is { } mail ? new(mail.Host, mail.Port, mail.Security, mail.From, mail.User) : null,
            Languages = model.AlarmSetup.Languages.IsEmpty ? null : model.AlarmSetup.Languages,
            AlarmLogDays = model.AlarmSetup.LogDays == AlarmSetup.StandardLogDays ? null : model.AlarmSetup.LogDays,
            Calendar = model.Calendars.Values.FirstOrDefault() is { } calendar
                ? new(
                    calendar.TimeZone,
                    [
                        .. calendar.Shifts.Select(s => new ModelDocument.ShiftEntry(
                            s.Name,
                            s.Start.ToString("HH:mm", CultureInfo.InvariantCulture)
                        )),
                    ]
                )
                : null,
            NamingConventions = model.NamingConventions.IsEmpty
                ? null
                :
                [
                    .. model
                        .NamingConventions.Values.OrderBy(p => p.Id)
                        .Select(p => new ModelDocument.NamingConventionEntry(
                            p.Text,
                            p.Level,
                            p.TemplateId is { } template ? model.Templates[template].Code : null,
                            p.IsOfNames
                        )),
                ],
            Units =
            [
                .. model
                    .OwnUnits.Values.OrderBy(u => u.Code, StringComparer.Ordinal)
                    .Select(u => new ModelDocument.UnitEntry(u.Code, u.Symbol, u.Name, u.Factor, u.BaseCode)),
            ],
            Scales =
            [
                .. model
                    .Scales.Values.OrderBy(s => s.Code, StringComparer.Ordinal)
                    .Select(s => new ModelDocument.LibraryScaleEntry(
                        s.Code,
                        s.Name,
                        s.Description.Length > 0 ? s.Description : null,
                        ScaleEntry.Of(s.Scale)
                    )),
            ],
            Templates = [.. model.Templates.Values.OrderBy(t => t.Code, StringComparer.Ordinal).Select(t => EntryOf(model, t))],
            Equipment = [.. model.Index.EquipmentInOrder.Select(e => EntryOf(model, e))],
            Layouts = [.. model.Layouts.Values.OrderBy(l => l.Code, StringComparer.Ordinal).Select(EntryOf)],
            Controllers = [.. model.Controllers.Values.OrderBy(c => c.Name, StringComparer.Ordinal).Select(c => EntryOf(model, c))],
            Bindings =
            [
                .. model
                    .Index.EquipmentInOrder.SelectMany(e => model.Index.BoundOf(e).Select(b => (e, b)))
                    .Select(x =>
                    {
                        var tag = model.Tags[x.b.TagId];
                        return new ModelDocument.BindingEntry(
                            model.Index.PathOf(x.e.Id),
                            model.Index.PropertiesOf(x.e.TemplateId!.Value).First(p => p.Id == x.b.PropertyId).Code,
                            model.Controllers[tag.ControllerId].Name,
                            tag.Name
                        )
                        {
                            Slice = x.b.Slice?.ToString(),
                            Simulation = x.b.Simulation is { } s ? new(s.Shape, s.Low, s.High, s.Period.TotalSeconds) : null,
                            Checked = x.b.Checked is { } check ? new(check.By, check.At) : null,
                        };
                    }),
            ],
        };

    private static ModelDocument.LayoutEntry EntryOf(DeviceLayout layout) =>
        new(
            layout.Code,
            layout.Name,
            layout.Separator.Length > 0 ? layout.Separator : null,
            [
                .. layout.Points.Select(p => new ModelDocument.LayoutPointEntry(
                    p.Name,
                    new ModbusAddress(p.Area, p.Offset, p.Bit).ToString(),
                    p.Type
                )
                {
                    WordOrder = OrderOf(p.Type, p.WordOrder),
                    Count = p.Count == 1 ? null : p.Count,
                    Unit = p.Unit,
                    UpdateClass = p.UpdateClass,
                    Description = p.Description.Length > 0 ? p.Description : null,
                }),
            ]
        );

    private static ModelDocument.ControllerEntry EntryOf(PlantModel model, Controller controller)
    {
        var devices = model
            .Devices.Values.Where(d => d.ControllerId == controller.Id)
            .OrderBy(d => d.Name, StringComparer.Ordinal)
            .ToArray();
        return controller.Connection.Written(new ModelDocument.ControllerEntry(controller.Name)) with
        {
            UpdateIntervalMs = controller.UpdateInterval.TotalMilliseconds,
            UpdateClasses = controller.UpdateClasses.IsEmpty
                ? null
                : controller.UpdateClasses.ToDictionary(c => c.Name, c => c.Interval.TotalMilliseconds),
            Sampling = !controller.UpdateClasses.Any(c => c.IsSampled)
                ? null
                : controller
                    .UpdateClasses.Where(c => c.IsSampled)
                    .ToDictionary(c => c.Name, c => new ModelDocument.SamplingEntry(c.Sampling?.TotalMilliseconds, c.Queue, c.Deadband)),
            Tags =
            [
                .. model
                    .Index.TagsOf(controller.Id)
                    .Where(t => t.DeviceId is null)
                    .OrderBy(t => t.Name, StringComparer.Ordinal)
                    .Select(t => new ModelDocument.TagEntry(t.Name, t.Type)
                    {
                        Address = t.Address.ToString() is { Length: > 0 } address ? address : null,
                        WordOrder = OrderOf(t.Type, t.WordOrder),
                        Count = t.Count == 1 ? null : t.Count,
                        Unit = t.Unit,
                        UpdateClass = t.UpdateClass,
                        Range = t.Range is { } range ? [range.Low, range.High] : null,
                        Description = t.Description.Length > 0 ? t.Description : null,
                    }),
            ],
            Devices =
                devices.Length == 0
                    ? null
                    :
                    [
                        .. devices.Select(d => new ModelDocument.DeviceEntry(
                            d.Name,
                            model.Layouts[d.LayoutId].Code,
                            d.Base,
                            d.BitBase == 0 ? null : d.BitBase,
                            d.UnitId
                        )),
                    ],
        };
    }

    private static WordOrder? OrderOf(RawType type, WordOrder order) => order != WordOrder.HighFirst || type.Words() > 1 ? order : null;

    private static ModelDocument.TemplateEntry EntryOf(PlantModel model, Template template) =>
        new(template.Code)
        {
            Name = template.Name,
            Inherits = template.ParentId is { } parent ? model.Templates[parent].Code : null,
            Description = template.Description.Length > 0 ? template.Description : null,
            Levels = template.Levels.IsEmpty ? null : template.Levels,
            Labels = template.Labels.IsEmpty ? null : template.Labels,
            Parts = template.Parts.IsEmpty
                ? null
                :
                [
                    .. template.Parts.Select(p => new ModelDocument.PartEntry(
                        p.Code,
                        p.Name,
                        model.Templates[p.TemplateId].Code,
                        p.Level,
                        p.Count == 1 ? null : p.Count
                    )),
                ],
            Properties = template.Properties.IsEmpty
                ? null
                : [.. template.Properties.Select(p => PropertyOf(model, p, template.Patches.GetValueOrDefault(p.Id, PropertyPatch.Empty)))],
            Refines = FactsOf(model, template.Id, template.Patches.Where(p => template.Properties.All(d => d.Id != p.Key))),
            NamingRules = template.Rules.IsEmpty
                ? null
                :
                [
                    .. from rule in template.Rules
                    from property in model.Index.PropertiesOf(template.Id)
                    where property.Id == rule.PropertyId
                    orderby property.Code.ToUpperInvariant(), rule.Face
                    select new ModelDocument.RuleEntry(
                        property.Code,
                        rule.Pattern.ToString(),
                        rule.Face == TagFace.Name ? null : rule.Face
                    ),
                ],
        };

    private static ModelDocument.EquipmentEntry EntryOf(PlantModel model, Equipment node) =>
        new(model.Index.PathOf(node.Id))
        {
            Name = node.Name,
            Level = node.Level,
            Template = node.TemplateId is { } template ? model.Templates[template].Code : null,
            Part =
                node.PartId is { } part && node.ParentId is { } above && model.Equipment[above].TemplateId is { } whole
                    ? model.Index.PartsOf(whole).FirstOrDefault(p => p.Id == part)?.Code
                    : null,
            Labels = node.Labels.IsEmpty ? null : node.Labels,
            Sets = node.TemplateId is { } its ? FactsOf(model, its, node.Patches) : null,
            Refused = RefusedOf(model, node),
        };

    /// <summary>What is refused of what is still there.</summary>
    private static ModelDocument.RefusedEntry[]? RefusedOf(PlantModel model, Equipment node) =>
        node.Refused.IsEmpty || node.TemplateId is not { } template ? null
        : (
            from refused in node.Refused
            join property in model.Index.PropertiesOf(template) on refused.PropertyId equals property.Id
            where model.Tags.ContainsKey(refused.TagId)
            let tag = model.Tags[refused.TagId]
            orderby property.Code, tag.Name, tag.Id
            select new ModelDocument.RefusedEntry(property.Code, model.Controllers[tag.ControllerId].Name, tag.Name)
        ).ToArray()
            is { Length: > 0 } entries
            ? entries
        : null;

    private static ModelDocument.PropertyEntry PropertyOf(PlantModel model, PropertyDeclaration property, PropertyPatch patch)
    {
        var facts = FactsOf(model, patch);
        return new(property.Code)
        {
            Name = property.Name,
            Kind = property.Kind,
            Type = property.Type,
            Required = property.IsRequired ? null : false,
            Unit = facts.Unit,
            Range = facts.Range,
            Scale = facts.Scale,
            NamedScale = facts.NamedScale,
            StateList = facts.StateList,
            Value = facts.Value,
            Formula = facts.Formula,
            ValidSeconds = facts.ValidSeconds,
            AtStart = facts.AtStart,
            FollowSeconds = facts.FollowSeconds,
            FollowDeadband = facts.FollowDeadband,
            Recording = facts.Recording,
            KeyFigure = facts.KeyFigure,
            Description = facts.Description,
            Limits = facts.Limits,
            OtherLimits = facts.OtherLimits,
        };
    }

    private static SortedDictionary<string, ModelDocument.FactsEntry>? FactsOf(
        PlantModel model,
        long templateId,
        IEnumerable<KeyValuePair<long, PropertyPatch>> patches
    )
    {
        SortedDictionary<string, ModelDocument.FactsEntry>? facts = null;
        foreach (var (id, patch) in patches)
            if (model.Index.PropertiesOf(templateId).FirstOrDefault(p => p.Id == id) is { } property)
                (facts ??= new(StringComparer.Ordinal))[property.Code] = FactsOf(model, patch);
        return facts;
    }

    private static ModelDocument.FactsEntry FactsOf(PlantModel model, PropertyPatch patch) =>
        new()
        {
            Unit = patch.Unit,
            Range = patch.Range is { } range ? [range.Low, range.High] : null,
            Scale = patch.Scale is { } scale ? ScaleEntry.Of(scale) : null,
            NamedScale = patch.ScaleId is { } named ? model.Scales[named].Code : null,
            StateList = patch.StateListId is { } set ? model.StateLists[set].Code : null,
            Value = patch.Value,
            Formula = patch.Formula,
            ValidSeconds = patch.ValidSeconds,
            AtStart = patch.AtStart,
            FollowSeconds = patch.FollowSeconds,
            FollowDeadband = patch.FollowDeadband,
            Recording = patch.Recording,
            KeyFigure = patch.IsKeyFigure,
            Description = patch.Description,
            Limits = patch.Limits.IsEmpty ? null : patch.Limits,
            OtherLimits = patch.Others.IsEmpty ? null : patch.Others,
        };
}
