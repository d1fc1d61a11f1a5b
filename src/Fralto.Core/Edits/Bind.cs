using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Binds a property of an instance to a tag, or to a part of one, in place of any tag it had.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="TagId">The tag.</param>
/// <param name="Slice">The part of the tag; null for all of it.</param>
/// <param name="Share">True lets the tag feed this property beside those it feeds already; never for a command.</param>
public sealed record Bind(long EquipmentId, long PropertyId, long TagId, Slice? Slice = null, bool Share = false) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model) => new BindMany([new(EquipmentId, PropertyId, TagId, Slice)], Share).On(model);
}
