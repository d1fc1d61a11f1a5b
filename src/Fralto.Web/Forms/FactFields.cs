using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>The fields of what one layer says about a property: the same on a declaring template, a descendant and an instance.</summary>
/// <param name="Form">The form they belong to.</param>
/// <param name="Inherited">What the layers before say, shown faintly in empty fields.</param>
/// <param name="Sets">The state sets to choose from.</param>
/// <param name="IsLayer">True on a descendant or instance: an empty field inherits, and a limit can be taken away.</param>
public sealed record FactFields(FormState Form, PropertyPatch Inherited, IEnumerable<StateSet> Sets, bool IsLayer)
{
    /// <summary>Stands where several layers differ.</summary>
    public const string MixedText = "mixed";

    private const string Off = "off";

    /// <summary>Fields in which several layers that are edited together differ.</summary>
    public IReadOnlySet<string> Mixed { get; init; } = new HashSet<string>();

    /// <summary>What stands faintly in an empty field: "mixed", or what is inherited.</summary>
    public string? Otherwise(string field, string? inherited) => Mixed.Contains(field) ? MixedText : inherited;

    public IEnumerable<(string Value, string Text)> StateSets =>
        Sets.OrderBy(s => s.Name, StringComparer.Ordinal).Select(s => (ValueText.Plain(s.Id), s.Name)).Prepend(("", Mixed.Contains("StateSetId") ? MixedText : IsLayer ? "as inherited" : "none"));

    public IEnumerable<(string Value, string Text)> PrioritiesOf(LimitCondition condition) =>
        [("", Mixed.Contains($"{condition}Priority") ? MixedText : InheritedOf(condition, l => l.Priority) is { } inherited ? $"({inherited})" : ""), ("1", "1"), ("2", "2"), ("3", "3"), ("4", "4"), .. IsLayer ? [(Off, "no limit")] : Array.Empty<(string, string)>()];

    /// <summary>What an empty limit field inherits; null for nothing.</summary>
    public string? InheritedOf(LimitCondition condition, Func<LimitPatch, double?> field) =>
        Inherited.Limits.TryGetValue(condition, out var limit) && limit.Off != true ? ValueText.Plain(field(limit)) : null;

    /// <summary>The fields filled from a patch.</summary>
    public static IEnumerable<(string, object?)> Of(PropertyPatch patch) =>
    [
        ("Unit", patch.Unit), ("StateSetId", patch.StateSetId), ("Value", patch.Value), ("Description", patch.Description),
        ("RangeLow", ValueText.Plain(patch.Range?.Low)), ("RangeHigh", ValueText.Plain(patch.Range?.High)),
        ("RawLow", ValueText.Plain(patch.Scale?.Raw.Low)), ("RawHigh", ValueText.Plain(patch.Scale?.Raw.High)),
        ("EngineeringLow", patch.Scale?.Engineering == patch.Range ? "" : ValueText.Plain(patch.Scale?.Engineering.Low)),
        ("EngineeringHigh", patch.Scale?.Engineering == patch.Range ? "" : ValueText.Plain(patch.Scale?.Engineering.High)),
        .. patch.Limits.SelectMany(l => new (string, object?)[]
        {
            ($"{l.Key}Setpoint", ValueText.Plain(l.Value.Setpoint)), ($"{l.Key}Deadband", ValueText.Plain(l.Value.Deadband)),
            ($"{l.Key}Priority", l.Value.Off == true ? Off : l.Value.Priority),
        }),
    ];

    /// <summary>What the fields say; an empty field says nothing.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="kind">Kind of the property: only a fixed one has a value.</param>
    /// <param name="type">Type of the property: fields of other types are passed over.</param>
    /// <param name="inherited">What the layers before say: a scale maps onto their range when the form gives none.</param>
    public static PropertyPatch Read(FormReader reader, PropertyKind kind, PropertyType type, PropertyPatch inherited)
    {
        var facts = type.IsNumeric() ? ReadNumber(reader, inherited) : type == PropertyType.State ? new() { StateSetId = reader.Id("StateSetId") } : PropertyPatch.Empty;
        return facts with
        {
            Value = kind == PropertyKind.Fixed && reader.Text("Value") is { Length: > 0 } value ? value : null,
            Description = reader.Text("Description") is { Length: > 0 } text ? text : null,
        };
    }

    private static PropertyPatch ReadNumber(FormReader reader, PropertyPatch inherited)
    {
        string? unit = null;
        if (reader.Text("Unit") is { Length: > 0 } text)
        {
            unit = UnitCatalogue.Match(text)?.Code;
            if (unit is null) reader.Refuse("Unit", $"'{text}' names no unit, or several. Choose one from the list.");
        }
        var range = ReadSpan(reader, "RangeLow", "RangeHigh", "the range");
        var raw = ReadSpan(reader, "RawLow", "RawHigh", "the raw signal") ?? (reader.Text("EngineeringLow").Length > 0 ? inherited.Scale?.Raw : null);
        var engineering = ReadSpan(reader, "EngineeringLow", "EngineeringHigh", "what the scale yields") ?? range ?? inherited.Scale?.Engineering ?? inherited.Range;
        if (raw is not null && engineering is null) reader.Refuse("RawHigh", "A scale needs a range, or what it yields, to map the raw signal onto.");
        var limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;
        foreach (var condition in LimitConditions.All)
            if (ReadLimit(reader, condition) is { } limit) limits = limits.Add(condition, limit);
        return new() { Unit = unit, Range = range, Scale = raw is { } r && engineering is { } e ? new(r, e) : null, Limits = limits };
    }

    private static LimitPatch? ReadLimit(FormReader reader, LimitCondition condition)
    {
        if (reader.Text($"{condition}Priority") == Off) return new(Off: true);
        var (setpoint, deadband, priority) = (reader.Number($"{condition}Setpoint"), reader.Number($"{condition}Deadband"), reader.Number($"{condition}Priority"));
        if (priority is { } p && p != Math.Floor(p)) reader.Refuse($"{condition}Priority", "A priority is 1, 2, 3 or 4.");
        return setpoint is null && deadband is null && priority is null ? null : new(setpoint, deadband, (int?)priority);
    }

    private static Span? ReadSpan(FormReader reader, string low, string high, string what)
    {
        var (from, to) = (reader.Number(low), reader.Number(high));
        if (from is { } l && to is { } h) return new Span(l, h);
        if (from is null != to is null) reader.Refuse(from is null ? low : high, $"Give both ends of {what}, or neither.");
        return null;
    }
}
