using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Moves a node with everything below it to another place, or to another position among its siblings. Ids, bindings and what is
/// set stay.</summary>
/// <param name="Id">What to move.</param>
/// <param name="ParentId">The place it goes below; null for the top of the plant.</param>
/// <param name="BeforeId">The sibling it goes before; null for the end.</param>
public sealed record MoveEquipment(long Id, long? ParentId, long? BeforeId = null) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Equipment? parent = null;
        if (!model.Equipment.TryGetValue(Id, out var node))
            return Gone("The equipment");
        if (ParentId is { } parentId && !model.Equipment.TryGetValue(parentId, out parent))
            return Gone("The place to move it to");
        if (ParentId is { } target && model.Index.LineageOf(target).Any(e => e.Id == Id))
            return EditOutcome.Refused("Below", $"{parent!.Name} lies at or below {node.Name}; a place cannot move into itself.");
        if (LevelRules.Misfit(parent?.Level, node.Level) is { } misfit)
            return EditOutcome.Refused("Below", misfit);
        var siblings = model.Index.ChildrenOf(ParentId).Where(e => e.Id != Id).ToList();
        if (siblings.Any(e => string.Equals(e.Code, node.Code, StringComparison.OrdinalIgnoreCase)))
            return EditOutcome.Refused(
                "Below",
                $"{(parent is null ? "The plant" : parent.Name)} already has a {node.Code}; change one of the codes first."
            );
        var at = BeforeId is { } before ? siblings.FindIndex(e => e.Id == before) : siblings.Count;
        if (at < 0)
            return Gone("The sibling to put it before");
        // Below another parent it is no longer that parent's part.
        siblings.Insert(at, node with { ParentId = ParentId, PartId = node.ParentId == ParentId ? node.PartId : null });
        var changes = siblings
            .Select((e, i) => new ModelChange(model.Equipment[e.Id], e with { Order = i + 1 }))
            .Where(c => !c.Before!.Equals(c.After))
            .ToArray();
        return changes.Length == 0
            ? EditOutcome.Refused("Below", $"{node.Name} is there already.")
            : EditOutcome.Changed(
                node.ParentId == ParentId ? $"Reorder {node.Name}" : $"Move {node.Name} below {(parent is null ? "the top" : parent.Name)}",
                changes
            );
    }
}
