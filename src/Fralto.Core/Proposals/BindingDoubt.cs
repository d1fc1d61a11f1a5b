namespace Fralto.Core.Proposals;

/// <summary>Something about a binding that a person should look at.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Words">What was found, in words.</param>
public sealed record BindingDoubt(long EquipmentId, long PropertyId, DoubtKind Kind, string Words);
