using Fralto.Core.Binding;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Binds a property of an instance to a tag, or to a part of one, in place of any tag it had.</summary>
public sealed record Bind(long EquipmentId, long PropertyId, long TagId, Slice? Slice = null) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Equipment.TryGetValue(EquipmentId, out var instance)) return Gone("The equipment");
        if (model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == PropertyId) is not { } property) return Gone("The property");
        if (!model.Tags.TryGetValue(TagId, out var tag)) return Gone("The tag");
        if (BindingRules.Misfit(model, property, tag, Slice) is { } misfit) return EditOutcome.Refused(nameof(TagId), misfit);
        if (model.Index.BindingsOf(TagId).FirstOrDefault(b => (b.EquipmentId, b.PropertyId) != (EquipmentId, PropertyId) && Scaling.Slice.Overlap(b.Slice, Slice)) is { } other)
            return EditOutcome.Refused(nameof(TagId), $"{tag.Name}{other.Slice} already feeds {model.Index.PathOf(other.EquipmentId)}; unbind it there first.");
        var before = model.Bindings.GetValueOrDefault((EquipmentId, PropertyId));
        return EditOutcome.Changed($"Bind {instance.Name} {property.Name} to {tag.Name}{Slice}", new ModelChange(before, new PropertyBinding(EquipmentId, PropertyId, TagId, Slice, before?.Simulation)));
    }
}
