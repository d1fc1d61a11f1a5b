using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Adds a scale to the library, or changes one when an id is given: every property that uses it by name has the change at
/// once.</summary>
public sealed record SaveScale(long? Id, string Code, string Name, string Description, Scale Scale) : Edit
{
    private const int MostProblems = 3;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        LibraryScale? before = null;
        if (Id is { } id && !model.Scales.TryGetValue(id, out before))
            return Gone("The scale");
        var after = new LibraryScale(Id ?? model.NextId, Code, Name, Description, Scale);
        var problems = EntityRules.Problems(model, after).ToList();
        if (model.Scales.Values.Any(s => s.Id != Id && string.Equals(s.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a scale with the code {Code}."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var change = new ModelChange(before, after);
        if (before is not null && Broken(model.Apply([change]), after.Id).Take(MostProblems).ToArray() is { Length: > 0 } broken)
            return EditOutcome.Refused(broken);
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} scale {Name}", change);
    }

    /// <summary>The properties that use a scale by name: the layer that says so, and the property.</summary>
    public static IEnumerable<(Entity Layer, long PropertyId)> UsersOf(PlantModel model, long scaleId) =>
        model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .SelectMany(t => t.Patches.Where(p => p.Value.ScaleId == scaleId).Select(p => ((Entity)t, p.Key)))
            .Concat(
                model.Index.EquipmentInOrder.SelectMany(e =>
                    e.Patches.Where(p => p.Value.ScaleId == scaleId).Select(p => ((Entity)e, p.Key))
                )
            );

    /// <summary>How many properties of instances have each scale, for all scales in one pass.</summary>
    public static IReadOnlyDictionary<long, int> CountsOf(PlantModel model)
    {
        var counts = new Dictionary<long, int>();
        void Add(PropertyPatch facts, int times)
        {
            if (facts.ScaleId is { } id)
                counts[id] = counts.GetValueOrDefault(id) + times;
        }
        foreach (var template in model.Templates.Values)
        {
            var properties = model.Index.PropertiesOf(template.Id);
            foreach (var property in properties)
                Add(property.Facts, model.Index.InstanceCountOf(template.Id));
            // Instances that say something themselves are counted by what they say.
            foreach (var instance in model.Index.InstancesOf(template.Id).Where(e => !e.Patches.IsEmpty))
            foreach (var property in properties)
                if (instance.Patches.TryGetValue(property.Id, out var own) && own.HasScale)
                {
                    Add(property.Facts, -1);
                    Add(own, 1);
                }
        }
        return counts;
    }

    /// <summary>The instances whose property has the scale, whichever layer says so.</summary>
    public static IEnumerable<(Equipment Instance, ResolvedProperty Property)> ReachOf(PlantModel model, long scaleId)
    {
        var named = UsersOf(model, scaleId).Select(u => u.PropertyId).ToHashSet();
        return named.Count == 0
            ? []
            : model
                .Index.EquipmentInOrder.Where(e => e.TemplateId is not null)
                .SelectMany(e =>
                    model.Index.PropertiesOf(e).Where(p => named.Contains(p.Id) && p.Facts.ScaleId == scaleId).Select(p => (e, p))
                );
    }

    private static IEnumerable<Problem> Broken(PlantModel next, long scaleId)
    {
        foreach (var (layer, propertyId) in UsersOf(next, scaleId))
        {
            var properties = layer is Template t ? next.Index.PropertiesOf(t.Id) : next.Index.PropertiesOf((Equipment)layer);
            var property = properties.First(p => p.Id == propertyId);
            var where = layer is Template template ? template.Name : next.Index.PathOf(layer.Id);
            foreach (var problem in FactRules.Problems(next, property.Declaration, property.Facts))
                yield return new("", $"{where}, {property.Name}: {problem.Message}");
            if (layer is Template)
                foreach (var problem in FactRules.BelowProblems(next, layer.Id, propertyId))
                    yield return problem;
        }
        foreach (var (instance, property) in ReachOf(next, scaleId))
            if (
                next.Bindings.TryGetValue((instance.Id, property.Id), out var binding)
                && BindingRules.Misfit(next, property, next.Tags[binding.TagId], binding.Slice) is { } misfit
            )
                yield return new("", $"{next.Index.PathOf(instance.Id)}: {misfit} Unbind it first.");
    }
}
