using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Planning;

/// <summary>Compiles a model into a plan and says what is odd about it.</summary>
public static class Planner
{
    /// <summary>A measured property has no tag.</summary>
    public const string Unbound = "FR101";

    /// <summary>A tag feeds nothing.</summary>
    public const string UnusedTag = "FR102";

    /// <summary>A number has no range to be shown on.</summary>
    public const string NoRange = "FR103";

    public static PlanResult Compile(PlantModel model)
    {
        var findings = ImmutableArray.CreateBuilder<Finding>();
        var tags = model.Tags.Values.OrderBy(t => t.Id)
            .Select(t => new PlanTag(t.Id, t.ControllerId, model.Controllers[t.ControllerId].StaleAfter)).ToImmutableArray();
        var tagIndex = new Dictionary<long, int>(tags.Length);
        for (var i = 0; i < tags.Length; i++) tagIndex[tags[i].TagId] = i;

        var points = ImmutableArray.CreateBuilder<PlanPoint>(model.Bindings.Count);
        var setups = ImmutableArray.CreateBuilder<PointSetup>(model.Bindings.Count);
        foreach (var instance in model.Index.EquipmentInOrder)
        {
            foreach (var property in model.Index.PropertiesOf(instance))
            {
                if (!property.TakesTag) continue;
                if (property.Declaration.Type.IsNumeric() && property.ShownRange is null)
                    findings.Add(new(NoRange, FindingSeverity.Hint, instance.Id, $"{property.Name} has no range: it is shown as a bare number"));
                if (!model.Bindings.TryGetValue((instance.Id, property.Id), out var binding))
                {
                    findings.Add(new(Unbound, property.Declaration.IsRequired ? FindingSeverity.Warning : FindingSeverity.Hint, instance.Id, $"{property.Name} has no tag"));
                    continue;
                }
                var states = property.Facts.StateSetId is { } set ? model.StateSets.GetValueOrDefault(set) : null;
                points.Add(new PlanPoint(
                    instance.Id, property.Id, $"{model.Index.PathOf(instance.Id)}/{property.Code}", tagIndex[binding.TagId],
                    property.Facts.Unit, property.ShownRange, property.Declaration.Type == PropertyType.Number ? Resolution.DecimalsOf(property.ShownRange) : 0, states, property.Limits, property.Declaration.Type));
                setups.Add(new PointSetup(property.Facts.Scale, property.ShownRange, property.Limits));
            }
        }
        foreach (var tag in model.Tags.Values.Where(t => !model.Index.BindingsOf(t.Id).Any()).OrderBy(t => t.Name, StringComparer.Ordinal))
            findings.Add(new(UnusedTag, FindingSeverity.Hint, 0, $"{model.Controllers[tag.ControllerId].Name} {tag.Name} feeds nothing"));
        return new PlanResult(new Plan(points.ToImmutable(), setups.ToImmutable(), tags), findings.ToImmutable());
    }
}
