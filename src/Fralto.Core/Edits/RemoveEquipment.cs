using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a node out, with everything below it and all their bindings.</summary>
public sealed record RemoveEquipment(long Id) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Equipment.TryGetValue(Id, out var node))
            return Gone("The equipment");
        var (changes, nodes, bindings) = Gather(model, [Id]);
        return EditOutcome.Changed(
            $"Take out {node.Name} with {Count(nodes - 1, "node")} below it and {Count(bindings, "binding")}",
            changes
        );
    }

    /// <summary>The changes that take nodes out, with everything below them and their bindings, and what goes in words.</summary>
    internal static (ImmutableArray<ModelChange> Changes, string Words) Of(PlantModel model, IEnumerable<long> roots)
    {
        var (changes, nodes, bindings) = Gather(model, roots);
        return (changes, $"{Count(nodes, "node")} of the plant and {Count(bindings, "binding")}");
    }

    private static (ImmutableArray<ModelChange> Changes, int Nodes, int Bindings) Gather(PlantModel model, IEnumerable<long> roots)
    {
        var nodes = new Dictionary<long, Equipment>();
        foreach (var root in roots.Where(id => !nodes.ContainsKey(id)))
        foreach (var node in model.Index.Below(root))
            nodes.TryAdd(node.Id, node);
        var bindings = nodes.Values.SelectMany(n => model.Index.BoundOf(n)).ToArray();
        return (
            [.. bindings.Select(Removed), .. nodes.Values.OrderByDescending(n => model.Index.LineageOf(n.Id).Count).Select(Removed)],
            nodes.Count,
            bindings.Length
        );
    }
}
