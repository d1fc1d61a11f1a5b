using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Gives instances the parts of their template that they lack: one later added, or one taken out.</summary>
/// <param name="Instances">The instances, of any templates.</param>
public sealed record AddParts(ImmutableArray<long> Instances) : Edit
{
    /// <summary>The edit for every instance of a template and of its descendants.</summary>
    /// <param name="model">The model.</param>
    /// <param name="templateId">The template.</param>
    public static AddParts ForAllOf(PlantModel model, long templateId) =>
        new([.. model.Index.FamilyOf(templateId).SelectMany(t => model.Index.InstancesOf(t.Id)).Select(e => e.Id)]);

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var nodes = Instances.Select(id => model.Equipment.GetValueOrDefault(id)).ToArray();
        return nodes.Any(n => n is null) ? Gone("The equipment") : To(model, nodes!);
    }

    internal static EditOutcome To(PlantModel model, IReadOnlyCollection<Equipment> instances)
    {
        var changes = new List<ModelChange>();
        var (id, reached) = (model.NextId, 0);
        foreach (var node in instances)
        {
            var order = model.Index.NextOrderBelow(node.Id);
            var before = changes.Count;
            foreach (var (part, name, code) in Instantiation.Missing(model, node))
            {
                if (Instantiation.Misfit(model, node.Level, part.Level, part.TemplateId) is { } misfit)
                    return EditOutcome.Refused("", $"{model.Index.PathOf(node.Id)}: {misfit}");
                var made = Instantiation.Of(model, new Equipment(id, code, name, part.Level, node.Id, part.TemplateId, order++, part.Id));
                if (Instantiation.PartMisfit(model, made) is { } inner)
                    return EditOutcome.Refused("", $"{model.Index.PathOf(node.Id)}: {inner}");
                changes.AddRange(made.Select(Added));
                id += made.Count;
                if (changes.Count > Instantiation.Most)
                    return EditOutcome.Refused("", $"That would make more than {Instantiation.Most} nodes at once; do it place by place.");
            }
            if (changes.Count > before)
                reached++;
        }
        return EditOutcome.Changed($"add {Count(changes.Count, "node")} to {Count(reached, "instance")} that lacked parts", changes);
    }
}
