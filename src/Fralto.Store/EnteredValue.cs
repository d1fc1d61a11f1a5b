namespace Fralto.Store;

/// <summary>What somebody has entered.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Value">The value as text: numbers with a decimal point, true or false, the number of a state.</param>
/// <param name="At">When.</param>
/// <param name="Who">Who.</param>
public sealed record EnteredValue(long EquipmentId, long PropertyId, string Value, DateTimeOffset At, string Who);
