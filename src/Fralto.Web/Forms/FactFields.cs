using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>The fields of what one layer says about a property: the same on a declaring template, a descendant and an instance.</summary>
/// <param name="Model">Where units, scales and state lists are looked up.</param>
/// <param name="Form">The form they belong to.</param>
/// <param name="Inherited">What the layers before say, shown faintly in empty fields.</param>
/// <param name="IsLayer">True on a descendant or instance: an empty field inherits, and a limit can be taken away.</param>
public sealed record FactFields(PlantModel Model, FormState Form, PropertyPatch Inherited, bool IsLayer)
{
    /// <summary>Stands where several layers differ.</summary>
    public const string MixedText = "mixed";

    /// <summary>The choice of a scale that is said here, not taken from the library.</summary>
    public const string OwnScale = "own";

    private const string Off = "off";

    /// <summary>Fields in which several layers that are edited together differ.</summary>
    public IReadOnlySet<string> Mixed { get; init; } = new HashSet<string>();

    /// <summary>The template or instance they belong to; null where there are several: formulas are not typed then.</summary>
    public long? Layer { get; init; }

    /// <summary>The property; null for a new one.</summary>
    public long? PropertyId { get; init; }

    /// <summary>Limits that are none of the four levels, with their conditions in words, and whether this layer says something of
    /// them.</summary>
    public IEnumerable<(string Code, (string Words, bool Own) Limit)> OtherLimits
    {
        get
        {
            if (Layer is not { } layer || PropertyId is not { } id)
                return [];
            var property = (
                Model.Templates.ContainsKey(layer) ? Model.Index.PropertiesOf(layer)
                : Model.Equipment.TryGetValue(layer, out var node) ? Model.Index.PropertiesOf(node)
                : []
            ).FirstOrDefault(p => p.Id == id);
            if (property is null || property.Facts.Others.IsEmpty)
                return [];
            var words = LimitFormula
                .Of(property)
                .Where(f => !f.IsGate)
                .ToDictionary(f => f.Code, f => f.Words(Model.Units.SymbolOf(property.Facts.Unit)));
            return property.Facts.Others.Select(o =>
                (o.Key, (words.GetValueOrDefault(o.Key, "taken away"), property.Own.Others.ContainsKey(o.Key)))
            );
        }
    }

    /// <summary>What stands faintly in an empty field: "mixed", or what is inherited.</summary>
    public string? Otherwise(string field, string? inherited) => Mixed.Contains(field) ? MixedText : inherited;

    public IEnumerable<(string Value, string Text)> StateLists =>
        Model
            .StateLists.Values.OrderBy(s => s.Name, StringComparer.Ordinal)
            .Select(s => (ValueText.Plain(s.Id), s.Name))
            .Prepend(
                (
                    "",
                    Mixed.Contains("StateListId") ? MixedText
                    : IsLayer ? "as inherited"
                    : "none"
                )
            );

    /// <summary>No scale, one of its own, or one of the library.</summary>
    public IEnumerable<(string Value, string Text)> ScaleChoices =>
        [
            (
                "",
                Mixed.Contains("ScaleChoice") ? MixedText
                : !IsLayer ? "none: the raw number is the value"
                : Model.ScaleOf(Inherited) is { } scale
                    ? $"as inherited: {(Inherited.ScaleId is { } id ? Model.Scales[id].Name : scale.Words)}"
                : "as inherited: none"
            ),
            (OwnScale, "a scale of its own"),
            .. Model
                .Scales.Values.OrderBy(s => s.Name, StringComparer.Ordinal)
                .Select(s => (ValueText.Plain(s.Id), $"{s.Name}: {s.Scale.Words}")),
        ];

    public IEnumerable<(string Value, string Text)> PrioritiesOf(LimitCondition condition) =>
        [
            (
                "",
                Mixed.Contains($"{condition}Priority") ? MixedText
                : Inherited.Limits.TryGetValue(condition, out var inherited) && inherited.Off != true && inherited.Priority is { } priority
                    ? $"({priority})"
                : $"({Limit.DefaultPriority})"
            ),
            ("1", "1"),
            ("2", "2"),
            ("3", "3"),
            ("4", "4"),
            .. IsLayer ? [(Off, "no limit")] : Array.Empty<(string, string)>(),
        ];

    /// <summary>What an empty limit field inherits; null for nothing.</summary>
    public string? InheritedOf(LimitCondition condition, Func<LimitPatch, double?> field) =>
        Inherited.Limits.TryGetValue(condition, out var limit) && limit.Off != true && field(limit) is { } value
            ? ValueText.Plain(value)
            : null;

    /// <summary>The fields filled from a patch.</summary>
    public static IEnumerable<(string, object?)> Of(PropertyPatch patch, PlantModel model) =>
        [
            ("Unit", UnitField.Text(patch.Unit, model)),
            ("StateListId", patch.StateListId),
            ("Value", patch.Value),
            ("Formula", patch.Formula),
            ("ValidSeconds", ValueText.Plain(patch.ValidSeconds)),
            ("AtStart", patch.AtStart),
            ("FollowSeconds", ValueText.Plain(patch.FollowSeconds)),
            ("FollowDeadband", ValueText.Plain(patch.FollowDeadband)),
            (
                "Record",
                patch.Recording?.Off switch
                {
                    true => Off,
                    false => On,
                    null => "",
                }
            ),
            ("RecordDeadband", RecordingText.Deadband(patch.Recording)),
            ("RecordEvery", ValueText.Plain(patch.Recording?.Every)),
            ("RecordWhile", patch.Recording?.While),
            ("KeepDays", ValueText.Plain(patch.Recording?.KeepDays)),
            ("KeepCount", ValueText.Plain(patch.Recording?.KeepCount)),
            ("KeepSummedDays", ValueText.Plain(patch.Recording?.KeepSummedDays)),
            (
                "KeyFigure",
                patch.IsKeyFigure switch
                {
                    true => On,
                    false => Off,
                    null => "",
                }
            ),
            ("Description", patch.Description),
            ("RangeLow", ValueText.Plain(patch.Range?.Low)),
            ("RangeHigh", ValueText.Plain(patch.Range?.High)),
            (
                "ScaleChoice",
                patch.ScaleId is { } id ? ValueText.Plain(id)
                : patch.Scale is null ? ""
                : OwnScale
            ),
            // What a scale yields is left open where it is the range.
            .. ScaleFields
                .Of(patch.Scale, model)
                .Select(f =>
                    f.Item1.StartsWith("Engineering", StringComparison.Ordinal) && patch.Scale?.Engineering == patch.Range
                        ? (f.Item1, "")
                        : f
                ),
            .. patch.Limits.SelectMany(l =>
                new (string, object?)[]
                {
                    ($"{l.Key}Setpoint", ValueText.Plain(l.Value.Setpoint)),
                    ($"{l.Key}Deadband", ValueText.Plain(l.Value.Deadband)),
                    ($"{l.Key}Priority", l.Value.Off == true ? Off : l.Value.Priority),
                    ($"{l.Key}OnDelay", ValueText.Plain(l.Value.OnDelay)),
                    ($"{l.Key}OffDelay", ValueText.Plain(l.Value.OffDelay)),
                }
            ),
        ];

    /// <summary>What the fields say; an empty field says nothing.</summary>
    /// <param name="model">Where units and scales are looked up.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="kind">Kind of the property: only a fixed one has a value.</param>
    /// <param name="type">Type of the property: fields of other types are passed over.</param>
    /// <param name="inherited">What the layers before say: a scale maps onto their range when the form gives none.</param>
    public static PropertyPatch Read(PlantModel model, FormReader reader, PropertyKind kind, PropertyType type, PropertyPatch inherited)
    {
        var facts =
            type.IsNumeric() ? ReadNumber(model, reader, inherited)
            : type is PropertyType.State or PropertyType.Boolean ? new() { StateListId = reader.Id("StateListId") }
            : PropertyPatch.Empty;
        return facts with
        {
            Formula =
                kind is PropertyKind.Calculated or PropertyKind.Command && reader.Text("Formula") is { Length: > 0 } formula
                    ? formula
                    : null,
            AtStart = kind == PropertyKind.Command && reader.Text("AtStart") is { Length: > 0 } start ? start : null,
            FollowSeconds = kind == PropertyKind.Command ? reader.Number("FollowSeconds") : null,
            FollowDeadband = kind == PropertyKind.Command ? reader.Number("FollowDeadband") : null,
            ValidSeconds = kind == PropertyKind.Entered ? reader.Number("ValidSeconds") : null,
            Value = kind == PropertyKind.Fixed && reader.Text("Value") is { Length: > 0 } value ? value : null,
            Recording = kind == PropertyKind.Fixed ? null : ReadRecording(reader, type),
            IsKeyFigure = reader.Text("KeyFigure") switch
            {
                On => true,
                Off => false,
                _ => null,
            },
            Description = reader.Text("Description") is { Length: > 0 } text ? text : null,
        };
    }

    private const string On = "on";

    /// <summary>Recorded, not recorded, or as the layers before say.</summary>
    public IEnumerable<(string Value, string Text)> RecordChoices =>
        [
            (
                "",
                Mixed.Contains("Record") ? MixedText
                : IsLayer ? (Inherited.Recording?.Off == true ? "as inherited: not recorded" : "as inherited: recorded")
                : "recorded"
            ),
            .. IsLayer ? [(On, "recorded")] : Array.Empty<(string, string)>(),
            (Off, "not recorded"),
        ];

    /// <summary>Shown by its place, not shown, or as the layers before say.</summary>
    public IEnumerable<(string Value, string Text)> KeyFigureChoices =>
        [
            (
                "",
                Mixed.Contains("KeyFigure") ? MixedText
                : IsLayer ? (Inherited.IsKeyFigure == true ? "as inherited: shown" : "as inherited: not shown")
                : "not shown"
            ),
            (On, "shown"),
            .. IsLayer ? [(Off, "not shown")] : Array.Empty<(string, string)>(),
        ];

    /// <summary>What a form says of recording; null for nothing.</summary>
    internal static RecordingPatch? ReadRecording(FormReader reader, PropertyType type)
    {
        var deadband = type.IsNumeric() ? reader.Text("RecordDeadband") : "";
        var isPercent = deadband.EndsWith('%');
        var number = deadband.Length == 0 ? null : FieldText.Number(deadband.TrimEnd('%').Trim(), out _);
        if (deadband.Length > 0 && number is null)
            reader.Refuse("RecordDeadband", "Write a number in the unit, or one in percent of the range: 0.2 %.");
        var count = reader.Number("KeepCount");
        if (count is { } values && values != Math.Floor(values))
            reader.Refuse("KeepCount", "A whole number of values.");
        var says = new RecordingPatch
        {
            Off = reader.Text("Record") switch
            {
                Off => true,
                On => false,
                _ => null,
            },
            Deadband = isPercent ? null : number,
            DeadbandPercent = isPercent ? number : null,
            Every = reader.Number("RecordEvery"),
            While = reader.Text("RecordWhile") is { Length: > 0 } condition ? condition : null,
            KeepDays = reader.Number("KeepDays"),
            KeepCount = (long?)count,
            KeepSummedDays = reader.Number("KeepSummedDays"),
        };
        return says == RecordingPatch.Empty ? null : says;
    }

    private static PropertyPatch ReadNumber(PlantModel model, FormReader reader, PropertyPatch inherited)
    {
        var unit = UnitField.Read(reader, "Unit", model);
        var range = reader.Ends("RangeLow", "RangeHigh", "the range");
        var choice =
            reader.Has("ScaleChoice") ? reader.Text("ScaleChoice")
            : reader.Text("RawLow").Length > 0 ? OwnScale
            : "";
        var named = choice is "" or OwnScale ? null : reader.Id("ScaleChoice", "Choose a scale from the list.");
        var scale = choice == OwnScale ? ScaleFields.Read(reader, model, range ?? inherited.Range ?? model.RangeOf(inherited)) : null;
        var limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;
        foreach (var condition in LimitConditions.All)
            if (ReadLimit(reader, condition) is { } limit)
                limits = limits.Add(condition, limit);
        return new()
        {
            Unit = unit,
            Range = range,
            Scale = scale,
            ScaleId = named,
            Limits = limits,
        };
    }

    private static LimitPatch? ReadLimit(FormReader reader, LimitCondition condition)
    {
        if (reader.Text($"{condition}Priority") == Off)
            return new(Off: true);
        var (setpoint, deadband, priority) = (
            reader.Number($"{condition}Setpoint"),
            reader.Number($"{condition}Deadband"),
            reader.Number($"{condition}Priority")
        );
        if (priority is { } p && p != Math.Floor(p))
            reader.Refuse($"{condition}Priority", "A priority is 1, 2, 3 or 4.");
        var (onDelay, offDelay) = (reader.Number($"{condition}OnDelay"), reader.Number($"{condition}OffDelay"));
        return (setpoint ?? deadband ?? priority ?? onDelay ?? offDelay) is null
            ? null
            : new(setpoint, deadband, (int?)priority, null, onDelay, offDelay);
    }
}
