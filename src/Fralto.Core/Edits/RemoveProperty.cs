using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a property out of the template that declares it, with its bindings and everything any layer says about it.</summary>
public sealed record RemoveProperty(long TemplateId, long PropertyId) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        if (template.Properties.FirstOrDefault(p => p.Id == PropertyId) is not { } property)
            return Gone("The property");
        var family = model.Index.FamilyOf(TemplateId).ToArray();
        var bindings = family
            .SelectMany(t => model.Index.InstancesOf(t.Id))
            .Select(e => model.Bindings.GetValueOrDefault((e.Id, PropertyId)))
            .OfType<PropertyBinding>()
            .ToArray();
        var templates = family
            .Where(t => t.Id != TemplateId && (t.Patches.ContainsKey(PropertyId) || t.Rules.Any(r => r.PropertyId == PropertyId)))
            .Select(t => new ModelChange(
                t,
                t with
                {
                    Patches = t.Patches.Remove(PropertyId),
                    Rules = t.Rules.RemoveAll(r => r.PropertyId == PropertyId),
                }
            ));
        var instances = family
            .SelectMany(t => model.Index.InstancesOf(t.Id))
            .Where(e => e.Patches.ContainsKey(PropertyId))
            .Select(e => new ModelChange(e, e with { Patches = e.Patches.Remove(PropertyId) }))
            .ToArray();
        var after = template with
        {
            Properties = template.Properties.Remove(property),
            Patches = template.Patches.Remove(PropertyId),
            Rules = template.Rules.RemoveAll(r => r.PropertyId == PropertyId),
        };
        return EditOutcome.Changed(
            $"Take out {property.Name} of {template.Name} with {Count(bindings.Length, "binding")} and "
                + $"{Count(instances.Length, "value")} set at instances",
            [.. bindings.Select(Removed), .. instances, .. templates, new ModelChange(template, after)]
        );
    }
}
