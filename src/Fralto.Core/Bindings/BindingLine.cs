using Fralto.Core.Scaling;

namespace Fralto.Core.Bindings;

/// <summary>One binding to be made.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="TagId">The tag.</param>
/// <param name="Slice">The part of the tag; null for all of it.</param>
public readonly record struct BindingLine(long EquipmentId, long PropertyId, long TagId, Slice? Slice = null);
