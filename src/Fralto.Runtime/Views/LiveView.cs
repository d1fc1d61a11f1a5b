using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Runtime.Views;

/// <summary>One place's values as they stand, and a command that is being given there.</summary>
public sealed class LiveView
{
    /// <summary>The place; null for the whole plant.</summary>
    public Equipment? Place { get; private init; }

    /// <summary>From the enterprise down to the place.</summary>
    public IReadOnlyList<Equipment> Lineage { get; private init; } = [];

    /// <summary>What lies one level below.</summary>
    public IReadOnlyList<Equipment> Below { get; private init; } = [];

    /// <summary>The point of the command being given; null when none is, or the plan that runs does not have it yet.</summary>
    public (PlanPoint Point, PointValue Value)? Commanded { get; private init; }

    /// <summary>The tag the command is written to.</summary>
    public Tag? CommandTag { get; private init; }

    /// <summary>Looks at a place.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="at">The place; null for the whole plant.</param>
    /// <param name="command">The cell a command is being given to.</param>
    /// <returns>What is shown; null when the place is no longer there.</returns>
    public static LiveView? Of(PlantModel model, EngineSnapshot snapshot, long? at, (long EquipmentId, long PropertyId)? command)
    {
        if (at is { } asked && !model.Equipment.ContainsKey(asked))
            return null;
        // The plan that runs may be a moment older than the model.
        (PlanPoint Point, PointValue Value)? commanded = null;
        Tag? tag = null;
        if (
            command is var (equipment, property)
            && model.Bindings.TryGetValue((equipment, property), out var binding)
            && snapshot.Find(equipment, property) is { } found
        )
            (commanded, tag) = (found, model.Tags[binding.TagId]);
        return new()
        {
            Place = at is { } id ? model.Equipment[id] : null,
            Lineage = at is { } below ? model.Index.LineageOf(below) : [],
            Below = [.. model.Index.ChildrenOf(at)],
            Commanded = commanded,
            CommandTag = tag,
        };
    }
}
