using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a node out, with everything below it and all their bindings.</summary>
public sealed record RemoveEquipment(long Id) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Equipment.TryGetValue(Id, out var node)) return Gone("The equipment");
        var subtree = model.Index.Below(Id).ToArray();
        var ids = subtree.Select(e => e.Id).ToHashSet();
        var bindings = model.Bindings.Values.Where(b => ids.Contains(b.EquipmentId)).ToArray();
        return EditOutcome.Changed(
            $"Take out {node.Name} with {Count(subtree.Length - 1, "node")} below it and {Count(bindings.Length, "binding")}",
            [.. bindings.Select(Removed), .. subtree.Reverse().Select(Removed)]);
    }
}
