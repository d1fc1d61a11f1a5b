namespace Fralto.Core.Planning;

/// <summary>Something the planner says about the model.</summary>
/// <param name="Code">Stable code, for example FR101.</param>
/// <param name="Severity">How much it matters.</param>
/// <param name="EquipmentId">The instance it is about; 0 when it is about none.</param>
/// <param name="Message">In words.</param>
public sealed record Finding(string Code, FindingSeverity Severity, long EquipmentId, string Message);
