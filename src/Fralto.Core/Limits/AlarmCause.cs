namespace Fralto.Core.Limits;

/// <summary>What moves an alarm from one state to the next.</summary>
public enum AlarmCause
{
    ConditionRaised,
    ConditionCleared,
    AcknowledgedByOperator,
}
