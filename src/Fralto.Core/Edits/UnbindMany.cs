using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes the tags off many properties at once; those that have none stay as they are.</summary>
public sealed record UnbindMany(ImmutableArray<(long EquipmentId, long PropertyId)> Cells) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var bound = Cells.Distinct().Select(c => model.Bindings.GetValueOrDefault(c)).OfType<PropertyBinding>().ToArray();
        return bound.Length == 0 ? EditOutcome.Refused("", "None of these is bound.")
            : bound.Length == 1 ? new Unbind(bound[0].EquipmentId, bound[0].PropertyId).On(model)
            : EditOutcome.Changed(
                $"Unbind {Count(bound.Length, "property", "properties")} of "
                    + $"{Count(bound.Select(b => b.EquipmentId).Distinct().Count(), "instance")}",
                [.. bound.Select(Removed)]
            );
    }
}
