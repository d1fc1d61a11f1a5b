using Fralto.Core.Controllers;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Declares a tag and binds a property of an instance to it: both, or neither.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Tag">The new tag.</param>
public sealed record DeclareAndBind(long EquipmentId, long PropertyId, SaveTag Tag) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Tag.Id is not null)
            return EditOutcome.Refused("", "The tag is there already; choose it from the list.");
        var declared = Tag.On(model);
        if (declared.IsRefused)
            return declared;
        var tag = declared.Changes.Select(c => c.After).OfType<Tag>().Single();
        var next = model.Apply(declared.Changes);
        var bound = new Bind(EquipmentId, PropertyId, tag.Id).On(next);
        return bound.IsRefused
            ? bound
            : EditOutcome.Changed($"Declare {tag.Name}. {bound.Summary}", Several.Merged([.. declared.Changes, .. bound.Changes]));
    }
}
