using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Takes a template out; with its descendants, instances and parts only when that is said.</summary>
/// <param name="Id">The template.</param>
/// <param name="WithAll">True takes along everything that inherits from it, is an instance of it, or has it as a part.</param>
public sealed record RemoveTemplate(long Id, bool WithAll = false) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(Id, out var template))
            return Gone("The template");
        var family = model.Index.FamilyOf(Id).ToArray();
        var ids = family.Select(t => t.Id).ToHashSet();
        var wholes = model.Templates.Values.Where(t => !ids.Contains(t.Id) && t.Parts.Any(p => ids.Contains(p.TemplateId))).ToArray();
        var instances = model.Index.ReachOf(Id);
        if (!WithAll && (instances > 0 || family.Length > 1 || wholes.Length > 0))
            return EditOutcome.Refused(
                "",
                $"{template.Name} has {Count(instances, "instance")} and "
                    + $"{Count(family.Length - 1, "descendant")}"
                    + $"{(wholes.Length > 0 ? $", and is a part of {NamesOf(wholes)}" : "")}; "
                    + $"take those out first, or all together."
            );
        var gone = RemoveEquipment.Of(model, family.SelectMany(t => model.Index.InstancesOf(t.Id)).Select(e => e.Id));
        if (RemoveEquipment.Told(model, gone.Changes) is { } told)
            return EditOutcome.Refused("", told);
        var parts = wholes.SelectMany(t => t.Parts).Where(p => ids.Contains(p.TemplateId)).Select(p => p.Id).ToHashSet();
        var words = WithAll
            ? $" with {Count(family.Length - 1, "descendant")}, "
                + $"{gone.Words}"
                + $"{(parts.Count > 0 ? $", and as a part of {NamesOf(wholes)}" : "")}"
            : "";
        return EditOutcome.Changed(
            $"Take out template {template.Name}{words}",
            [
                .. gone.Changes,
                .. wholes.Select(t => new ModelChange(t, t with { Parts = t.Parts.RemoveAll(p => parts.Contains(p.Id)) })),
                .. model.NamingConventions.Values.Where(p => p.TemplateId is { } of && ids.Contains(of)).OrderBy(p => p.Id).Select(Removed),
                .. family.Reverse().Select(Removed),
            ]
        );
    }

    private static string NamesOf(IEnumerable<Template> templates) =>
        string.Join(", ", templates.Select(t => t.Name).Order(StringComparer.Ordinal));
}
