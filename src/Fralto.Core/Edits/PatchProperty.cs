using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Says something about a property in a layer above which it is declared: a descendant template refines it, an instance overrides
/// it.</summary>
/// <param name="Layers">Templates or instances that have the property; all get the same.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Set">What the layers say from now on; fields it is silent about stay.</param>
/// <param name="Reset">Fields that first go back to what the layers before say.</param>
public sealed record PatchProperty(ImmutableArray<long> Layers, long PropertyId, PropertyPatch Set, ImmutableArray<PatchField> Reset) : Edit
{
    /// <summary>What a layer says is exactly this from now on.</summary>
    public static PatchProperty Exactly(long layer, long propertyId, PropertyPatch patch) =>
        new([layer], propertyId, patch, PropertyPatch.AllFields);

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var changes = new List<ModelChange>();
        ResolvedProperty? property = null;
        foreach (var layer in Layers)
        {
            var (before, properties) = Find(model, layer);
            if (before is null)
                return Gone("The template or equipment");
            property = properties.FirstOrDefault(p => p.Id == PropertyId);
            if (property is null)
                return Gone("The property");
            if (property.DeclaredBy == layer)
                return EditOutcome.Refused("", $"{property.Name} is declared here; change it where it is declared.");
            var own = Reset.Aggregate(property.Own, (patch, field) => patch.Without(field)).With(Set);
            var after = With(before, own);
            if (!before.Equals(after))
                changes.Add(new ModelChange(before, after));
        }
        if (property is null)
            return EditOutcome.Refused("", "Choose at least one template or instance.");
        var next = model.Apply(changes);
        var problems = new List<Problem>();
        foreach (var layer in Layers)
        {
            var resolved = Find(next, layer).Properties.First(p => p.Id == PropertyId);
            problems.AddRange(FactRules.Problems(next, resolved.Declaration, resolved.Facts));
            problems.AddRange(FactRules.BelowProblems(next, layer, PropertyId));
            if (
                next.Bindings.TryGetValue((layer, PropertyId), out var bound)
                && BindingRules.Misfit(next, resolved, next.Tags[bound.TagId], bound.Slice) is { } misfit
            )
                problems.Add(new("", $"{misfit} Unbind it first."));
            if (Set.Formula is not null && FormulaRules.Problem(next, layer, resolved) is { } wrong)
                problems.Add(new(nameof(PropertyPatch.Formula), wrong.Words));
            if (problems.Count == 0 && !(Set.Limits.IsEmpty && Set.Others.IsEmpty))
                problems.AddRange(LimitFormulaRules.Problems(next, layer, resolved));
            if (problems.Count > 0)
                return EditOutcome.Refused(problems);
        }
        var where = Layers.Length == 1 ? NameOf(model, Layers[0]) : $"{Layers.Length} of them";
        var what =
            Set.Value is { } value ? $"{property.Name} = {value}"
            : Set.IsEmpty ? $"{property.Name} as inherited"
            : $"{property.Name} set here";
        return EditOutcome.Changed($"{where}: {what}", changes);
    }

    private static (Entity? Layer, ImmutableArray<ResolvedProperty> Properties) Find(PlantModel model, long id) =>
        model.Templates.TryGetValue(id, out var template) ? (template, model.Index.PropertiesOf(id))
        : model.Equipment.TryGetValue(id, out var instance) ? (instance, model.Index.PropertiesOf(instance))
        : (null, []);

    private static string NameOf(PlantModel model, long id) => model.Templates.GetValueOrDefault(id)?.Name ?? model.Equipment[id].Name;

    private Entity With(Entity layer, PropertyPatch own)
    {
        ImmutableDictionary<long, PropertyPatch> Lay(ImmutableDictionary<long, PropertyPatch> patches) =>
            own.IsEmpty ? patches.Remove(PropertyId) : patches.SetItem(PropertyId, own);
        return layer is Template template
            ? template with
            {
                Patches = Lay(template.Patches),
            }
            : (Equipment)layer with
            {
                Patches = Lay(((Equipment)layer).Patches),
            };
    }
}
