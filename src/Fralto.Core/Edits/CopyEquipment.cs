using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Copies a node with everything below it and all that is set there.</summary>
/// <param name="Id">What to copy.</param>
/// <param name="ParentId">Where the copy goes; null for the top of the plant.</param>
/// <param name="Code">Code of the copy; nodes below it keep theirs.</param>
/// <param name="Name">Name of the copy.</param>
/// <param name="WithBindings">True binds the copies to the same tags, so that each feeds both; commands stay with the original.</param>
public sealed record CopyEquipment(long Id, long? ParentId, string Code, string Name, bool WithBindings) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Equipment? parent = null;
        if (!model.Equipment.TryGetValue(Id, out var source))
            return Gone("The equipment");
        if (ParentId is { } parentId && !model.Equipment.TryGetValue(parentId, out parent))
            return Gone("The place to copy it to");
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        Check(problems, nameof(Code), Naming.CodeProblem(Code));
        Check(problems, "Below", LevelRules.Misfit(parent?.Level, source.Level));
        if (model.Index.ChildrenOf(ParentId).Any(e => string.Equals(e.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(
                new(nameof(Code), $"{(parent is null ? "The plant" : parent.Name)} already has a {Code}; codes are unique among siblings.")
            );
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);

        var copyOf = new Dictionary<long, long>();
        var changes = new List<ModelChange>();
        foreach (var node in model.Index.Below(Id))
        {
            copyOf[node.Id] = model.NextId + copyOf.Count;
            changes.Add(
                Added(
                    node.Id == Id
                        ? node with
                        {
                            Refused = [],
                            Id = copyOf[Id],
                            Code = Code,
                            Name = Name,
                            ParentId = ParentId,
                            Order = model.Index.NextOrderBelow(ParentId),
                            PartId = null,
                        }
                        : node with
                        {
                            Refused = [],
                            Id = copyOf[node.Id],
                            ParentId = copyOf[node.ParentId!.Value],
                        }
                )
            );
        }
        // A tag that takes commands feeds one property only, so it stays with the original.
        var bindings = WithBindings
            ? model.Index.Below(Id).SelectMany(e => model.Index.BoundOf(e).Where(b => !IsCommand(model, e, b))).ToArray()
            : [];
        changes.AddRange(bindings.Select(b => Added(new PropertyBinding(copyOf[b.EquipmentId], b.PropertyId, b.TagId, b.Slice))));
        return EditOutcome.Changed(
            $"Copy {source.Name} to {Name} with {Count(copyOf.Count - 1, "node")} below it and {Count(bindings.Length, "binding")}",
            changes
        );
    }

    private static bool IsCommand(PlantModel model, Equipment node, PropertyBinding binding) =>
        model
            .Index.PropertiesOf(node.TemplateId!.Value)
            .Any(p => p.Id == binding.PropertyId && p.Declaration.Kind == Properties.PropertyKind.Command);
}
