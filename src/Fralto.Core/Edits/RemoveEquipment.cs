using System.Collections.Immutable;
using Fralto.Core.Hierarchy;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes nodes out, with everything below them and all their bindings.</summary>
/// <param name="Ids">The nodes; one below another goes with it.</param>
public sealed record RemoveEquipment(ImmutableArray<long> Ids) : Edit
{
    /// <summary>Takes one node out.</summary>
    /// <param name="id">The node.</param>
    public RemoveEquipment(long id)
        : this([id]) { }

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Ids.IsEmpty)
            return EditOutcome.Refused("", "Choose the equipment first.");
        if (Ids.Any(id => !model.Equipment.ContainsKey(id)))
            return Gone(Ids.Length == 1 ? "The equipment" : "Some of the equipment");
        var (changes, nodes, bindings) = Gather(model, Ids);
        if (Told(model, changes) is { } told)
            return EditOutcome.Refused("", told);
        var roots = Ids.Distinct().Count();
        var name = roots == 1 ? model.Equipment[Ids[0]].Name : Count(roots, "piece", "pieces");
        return EditOutcome.Changed(
            $"Take out {name} with {Count(nodes - roots, "node")} below {(roots == 1 ? "it" : "them")} and {Count(bindings, "binding")}",
            changes
        );
    }

    /// <summary>The changes that take nodes out, with everything below them and their bindings, and what goes in words.</summary>
    internal static (ImmutableArray<ModelChange> Changes, string Words) Of(PlantModel model, IEnumerable<long> roots)
    {
        var (changes, nodes, bindings) = Gather(model, roots);
        return (changes, $"{Count(nodes, "node")} of the plant and {Count(bindings, "binding")}");
    }

    /// <summary>Why nodes stay: somebody is told of their alarms, and would be told of none; null when nobody is.</summary>
    /// <param name="model">The model.</param>
    /// <param name="changes">What goes.</param>
    internal static string? Told(PlantModel model, IEnumerable<ModelChange> changes)
    {
        var lists = model.AlarmSetup.Lists.Where(l => l.PlaceId is not null).ToLookup(l => l.PlaceId!.Value);
        return lists.Count == 0
            ? null
            : changes
                .Select(c => c is { Before: Equipment node, After: null } ? lists[node.Id].FirstOrDefault() : null)
                .OfType<NoticeList>()
                .Select(l =>
                    $"{l.Name} is told of the alarms below {model.Equipment[l.PlaceId!.Value].Name}; give that list another place first "
                    + "(Alarms, Who is told)."
                )
                .FirstOrDefault();
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
