using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a template out; refused while it has instances or descendants.</summary>
public sealed record RemoveTemplate(long Id) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(Id, out var template)) return Gone("The template");
        var instances = model.Index.InstancesOf(Id).Count();
        var descendants = model.Index.TemplatesBelow(Id).Count();
        return instances + descendants > 0
            ? EditOutcome.Refused("", $"{template.Name} has {Count(instances, "instance")} and {Count(descendants, "descendant")}; take those out first.")
            : EditOutcome.Changed($"Take out template {template.Name}", Removed(template));
    }
}
