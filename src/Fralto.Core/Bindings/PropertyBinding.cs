using Fralto.Core.Scaling;

namespace Fralto.Core.Bindings;

/// <summary>Says which tag feeds a property of an instance.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="TagId">The tag.</param>
/// <param name="Slice">The part of the tag; null for all of it.</param>
/// <param name="Simulation">What stands in for the tag while it is being simulated; null when the tag itself is heard.</param>
public sealed record PropertyBinding(long EquipmentId, long PropertyId, long TagId, Slice? Slice = null, Simulation? Simulation = null)
{
    /// <summary>Who checked it on the plant, and when; null when nobody has since it was bound.</summary>
    public BindingCheck? Checked { get; init; }
}
