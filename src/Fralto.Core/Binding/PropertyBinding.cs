namespace Fralto.Core.Binding;

/// <summary>Says which tag feeds a property of an instance.</summary>
public sealed record PropertyBinding(long EquipmentId, long PropertyId, long TagId);
