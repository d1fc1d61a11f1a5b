using System.Collections.Immutable;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Moves a property to the template's parent (pull up) or to a descendant (push down). Its id, and so every override and binding,
/// stays.</summary>
/// <param name="TemplateId">The template that declares it.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="TargetId">An ancestor or a descendant that declares it from now on.</param>
public sealed record MoveProperty(long TemplateId, long PropertyId, long TargetId) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var source))
            return Gone("The template");
        if (!model.Templates.TryGetValue(TargetId, out var to))
            return Gone("The template to move it to");
        if (source.Properties.FirstOrDefault(p => p.Id == PropertyId) is not { } property)
            return Gone("The property");
        var index = model.Index;
        var up = index.AncestryOf(TemplateId).Any(t => t.Id == TargetId && t.Id != TemplateId);
        if (!up && !index.FamilyOf(TemplateId).Any(t => t.Id == TargetId && t.Id != TemplateId))
            return EditOutcome.Refused("", $"{to.Name} is neither an ancestor nor a descendant of {source.Name}.");
        if (
            up
            && index
                .FamilyOf(TargetId)
                .Concat(index.AncestryOf(TargetId))
                .FirstOrDefault(t => t.Properties.Any(p => p.Id != PropertyId && SameCode(p, property)))
                is { } clash
        )
            return EditOutcome.Refused("", $"{clash.Name} already has a property with the code {property.Code}.");
        if (!up && Losing(model, TargetId).ToArray() is { Length: > 0 } losing)
            return EditOutcome.Refused(
                "",
                $"{string.Join(", ", losing.Take(3))}{(losing.Length > 3 ? $" and {losing.Length - 3} more" : "")} would lose what is "
                    + $"bound or set there: they are no {to.Name}."
            );

        // What the declaring template says goes along; what the target has refined already lies over it.
        var facts = source
            .Patches.GetValueOrDefault(PropertyId, PropertyPatch.Empty)
            .With(up ? PropertyPatch.Empty : Between(model, TargetId));
        var rules = up
            ? []
            : source
                .Rules.Where(r => r.PropertyId == PropertyId && !to.Rules.Any(own => own.PropertyId == PropertyId && own.Face == r.Face))
                .ToArray();
        var changes = new List<ModelChange>
        {
            new(
                source,
                source with
                {
                    Properties = source.Properties.Remove(property),
                    Patches = source.Patches.Remove(PropertyId),
                    Rules = up ? source.Rules : WithoutRules(source),
                }
            ),
            new(
                to,
                to with
                {
                    Properties = to.Properties.Add(property),
                    Patches = facts.IsEmpty ? to.Patches.Remove(PropertyId) : to.Patches.SetItem(PropertyId, facts),
                    Rules = [.. to.Rules.AddRange(rules).OrderBy(r => r.PropertyId).ThenBy(r => r.Face)],
                }
            ),
        };
        if (!up)
            changes.AddRange(
                index
                    .FamilyOf(TemplateId)
                    .Where(t =>
                        t.Id != TemplateId
                        && t.Id != TargetId
                        && !index.FamilyOf(TargetId).Any(f => f.Id == t.Id)
                        && (t.Patches.ContainsKey(PropertyId) || t.Rules.Any(r => r.PropertyId == PropertyId))
                    )
                    .Select(t => new ModelChange(t, t with { Patches = t.Patches.Remove(PropertyId), Rules = WithoutRules(t) }))
            );
        return EditOutcome.Changed(
            $"{(up ? "Pull" : "Push")} {property.Name} {(up ? "up" : "down")} from {source.Name} to {to.Name}",
            changes
        );
    }

    private ImmutableArray<NamingRule> WithoutRules(Template template) => template.Rules.RemoveAll(r => r.PropertyId == PropertyId);

    private static bool SameCode(PropertyDeclaration one, PropertyDeclaration other) =>
        string.Equals(one.Code, other.Code, StringComparison.OrdinalIgnoreCase);

    /// <summary>What the templates below the declaring one, down to the target, say about the property.</summary>
    private PropertyPatch Between(PlantModel model, long targetId) =>
        model
            .Index.AncestryOf(targetId)
            .SkipWhile(t => t.Id != TemplateId)
            .Skip(1)
            .Aggregate(PropertyPatch.Empty, (patch, t) => patch.With(t.Patches.GetValueOrDefault(PropertyId, PropertyPatch.Empty)));

    /// <summary>Instances that would no longer have the property although something is bound or set there.</summary>
    private IEnumerable<string> Losing(PlantModel model, long targetId)
    {
        var keeping = model.Index.FamilyOf(targetId).Select(t => t.Id).ToHashSet();
        return model
            .Index.FamilyOf(TemplateId)
            .Where(t => !keeping.Contains(t.Id))
            .SelectMany(t => model.Index.InstancesOf(t.Id))
            .Where(e => e.Patches.ContainsKey(PropertyId) || model.Bindings.ContainsKey((e.Id, PropertyId)))
            .Select(e => e.Name);
    }
}
