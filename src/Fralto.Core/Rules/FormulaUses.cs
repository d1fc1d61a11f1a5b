using Fralto.Core.Basics;
using Fralto.Core.Formulas;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Rules;

/// <summary>Which property is worked out of which.</summary>
public static class FormulaUses
{
    /// <summary>The properties the formula of one takes, each once.</summary>
    /// <param name="model">The model.</param>
    /// <param name="layer">The template or instance that has the property.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    public static IEnumerable<(string Reference, ResolvedProperty Property)> UsesOf(PlantModel model, long layer, ResolvedProperty property)
    {
        if (property.Facts.Formula is not { } text)
            yield break;
        var names = NamesOf(model, layer);
        var seen = new HashSet<string>();
        var formula = Formula.Read(text, model.Units, FormulaNames.Codes(model));
        foreach (var (reference, at, _) in formula.References)
            if (Find(names, formula, reference, at) is { } found && seen.Add($"{reference}"))
                yield return ($"{reference}", found);
    }

    /// <summary>How many formulas stand one on the other in a property: 0 for one that has none.</summary>
    /// <param name="model">The model.</param>
    /// <param name="layer">The template or instance that has the property.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    /// <param name="known">What has been found out before, by property.</param>
    public static int DepthOf(PlantModel model, long layer, ResolvedProperty property, Dictionary<long, int> known)
    {
        if (property.Facts.Formula is null)
            return 0;
        if (known.TryGetValue(property.Id, out var depth))
            return depth;
        // What comes round to itself is no deeper for that.
        known[property.Id] = 0;
        var below = UsesOf(model, layer, property).ToArray();
        return known[property.Id] = 1 + below.Select(u => DepthOf(model, u.Property.DeclaredBy, u.Property, known)).DefaultIfEmpty(0).Max();
    }

    /// <summary>Where a property is taken by a formula: each template or instance that says such a formula itself.</summary>
    /// <param name="model">The model.</param>
    /// <param name="propertyId">The property that is taken.</param>
    public static IEnumerable<(Entity Layer, ResolvedProperty User)> UsersOf(PlantModel model, long propertyId) =>
        Said(model)
            .Where(said => PlacesOf(model, said.Layer.Id, said.Property.Own.Formula!, propertyId).Any())
            .Select(said => (said.Layer, said.Property));

    /// <summary>The formulas that name a property, as they are when it has another code.</summary>
    /// <param name="model">The model before.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="code">Its other code.</param>
    /// <returns>By layer and by the property that has the formula.</returns>
    public static IReadOnlyDictionary<(long Layer, long Property), string> Renamed(PlantModel model, long propertyId, string code)
    {
        var renamed = new Dictionary<(long, long), string>();
        foreach (var (layer, property) in Said(model))
        {
            var text = property.Own.Formula!;
            // From the end, so that what stands before keeps its place.
            foreach (var (at, end) in PlacesOf(model, layer.Id, text, propertyId).OrderByDescending(p => p.At))
                text = text[..at] + code + text[end..];
            if (text != property.Own.Formula)
                renamed[(layer.Id, property.Id)] = text;
        }
        return renamed;
    }

    /// <summary>What layers say of limits that name a property, as it is when the property has another code.</summary>
    /// <param name="model">The model before.</param>
    /// <param name="propertyId">The property.</param>
    /// <param name="code">Its other code.</param>
    /// <returns>By layer and by the property that has the limits.</returns>
    public static IReadOnlyDictionary<(long Layer, long Property), PropertyPatch> RenamedLimits(
        PlantModel model,
        long propertyId,
        string code
    )
    {
        var renamed = new Dictionary<(long, long), PropertyPatch>();
        var layers = model
            .Templates.Values.Select(t => (Layer: (Entity)t, t.Patches))
            .Concat(model.Equipment.Values.Where(e => !e.Patches.IsEmpty).Select(e => (Layer: (Entity)e, e.Patches)));
        foreach (var (layer, patches) in layers.OrderBy(l => l.Layer.Id))
        foreach (var (property, patch) in patches)
        {
            if (patch.Limits.IsEmpty && patch.Others.IsEmpty)
                continue;
            string? Carried(string? text)
            {
                if (text is null)
                    return null;
                foreach (var (at, end) in PlacesOf(model, layer.Id, text, propertyId).OrderByDescending(p => p.At))
                    text = text[..at] + code + text[end..];
                return text;
            }
            string? InBraces(string? text) => text is null ? null : AlarmText.Fill(text, name => $"{{{Carried(name)}}}");
            string? InLines(string? text) =>
                text is null
                    ? null
                    : string.Join('\n', text.Split('\n').Select(l => l.Contains('=', StringComparison.Ordinal) ? InBraces(l) : Carried(l)));
            LimitPatch Follow(LimitPatch says) =>
                says with
                {
                    From = says.Kind is LimitKind.StateIs or LimitKind.StateIsNot ? says.From : Carried(says.From),
                    CountsWhile = Carried(says.CountsWhile),
                    Message = InBraces(says.Message),
                    Capture = InLines(says.Capture),
                    Translations = InBraces(says.Translations),
                };
            var after = patch with
            {
                Limits = patch.Limits.SetItems(patch.Limits.Select(l => KeyValuePair.Create(l.Key, Follow(l.Value)))),
                Others = patch.Others.SetItems(patch.Others.Select(l => KeyValuePair.Create(l.Key, Follow(l.Value)))),
            };
            if (after != patch)
                renamed[(layer.Id, property)] = after;
        }
        return renamed;
    }

    /// <summary>Layers that say a formula themselves.</summary>
    private static IEnumerable<(Entity Layer, ResolvedProperty Property)> Said(PlantModel model)
    {
        foreach (var template in model.Templates.Values.Where(t => t.Patches.Values.Any(p => p.Formula is not null)).OrderBy(t => t.Id))
        foreach (var property in model.Index.PropertiesOf(template.Id).Where(p => p.Own.Formula is not null))
            yield return (template, property);
        foreach (
            var node in model
                .Equipment.Values.Where(e => !e.Patches.IsEmpty && e.Patches.Values.Any(p => p.Formula is not null))
                .OrderBy(e => e.Id)
        )
        foreach (var property in model.Index.PropertiesOf(node).Where(p => p.Own.Formula is not null))
            yield return (node, property);
    }

    /// <summary>Where in a formula the code of a property stands.</summary>
    private static IEnumerable<(int At, int End)> PlacesOf(PlantModel model, long layer, string text, long propertyId)
    {
        var names = NamesOf(model, layer);
        var formula = Formula.Read(text, model.Units, FormulaNames.Codes(model));
        foreach (var (reference, at, end) in formula.References)
            if (Find(names, formula, reference, at)?.Id == propertyId)
                yield return (end - reference.Code.Length, end);
    }

    private static FormulaNames NamesOf(PlantModel model, long layer) =>
        model.Equipment.TryGetValue(layer, out var instance) ? FormulaNames.Of(model, instance) : FormulaNames.Of(model, layer);

    /// <summary>The property a reference means, also inside a set, where it is seen from the set's template.</summary>
    private static ResolvedProperty? Find(FormulaNames names, Formula formula, FormulaReference reference, int at) =>
        (formula.TemplateAt(at) is { } template ? names.Below(template) as FormulaNames : names)?.Find(reference)?.Property;
}
