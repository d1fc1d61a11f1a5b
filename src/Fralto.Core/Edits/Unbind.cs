using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes the tag off a property of an instance.</summary>
public sealed record Unbind(long EquipmentId, long PropertyId) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Bindings.TryGetValue((EquipmentId, PropertyId), out var binding))
            return Gone("The binding");
        return EditOutcome.Changed($"Unbind {model.Equipment[EquipmentId].Name} from {model.Tags[binding.TagId].Name}", Removed(binding));
    }
}
