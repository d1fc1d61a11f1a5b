namespace Fralto.Core.Planning;

/// <summary>Something the planner says about the model.</summary>
/// <param name="Code">Stable code, for example FR101.</param>
/// <param name="Severity">How much it matters.</param>
/// <param name="EquipmentId">The instance it is about; 0 when it is about none.</param>
/// <param name="Subject">Name of the property or tag it is about.</param>
/// <param name="Words">What is said of the subject; shared by all findings of a kind.</param>
public sealed record Finding(string Code, FindingSeverity Severity, long EquipmentId, string Subject, string Words)
{
    /// <summary>In words.</summary>
    public string Message => $"{Subject} {Words}";
}
