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
    /// <summary>The move that dropping one node on another asks for: before a sibling, else below it.</summary>
    /// <param name="model">The model.</param>
    /// <param name="id">What is dropped.</param>
    /// <param name="onto">What it is dropped on.</param>
    /// <returns>The move; null when one of them is no longer there.</returns>
    public static MoveEquipment? Onto(PlantModel model, long id, long onto) =>
        !model.Equipment.TryGetValue(id, out var node) || !model.Equipment.TryGetValue(onto, out var target) ? null
        : node.ParentId == target.ParentId ? new(id, node.ParentId, onto)
        : new(id, onto);

    /// <summary>The move of a node one up or down among its siblings.</summary>
    /// <param name="model">The model.</param>
    /// <param name="id">The node.</param>
    /// <param name="up">True for up.</param>
    /// <returns>The move; null where there is no further to go, or the node is no longer there.</returns>
    public static MoveEquipment? ByOne(PlantModel model, long id, bool up)
    {
        if (!model.Equipment.TryGetValue(id, out var node))
            return null;
        var siblings = model.Index.ChildrenOf(node.ParentId).ToList();
        var at = siblings.FindIndex(e => e.Id == id);
        if (up ? at == 0 : at == siblings.Count - 1)
            return null;
        // Down by one means before the one after next; the last but one goes to the end.
        return new(id, node.ParentId, up ? siblings[at - 1].Id : siblings.ElementAtOrDefault(at + 2)?.Id);
    }

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
