namespace Fralto.Core.Limits;

/// <summary>What moves an alarm from one state to the next.</summary>
public enum AlarmCause
{
    ConditionRaised,
    ConditionCleared,
    AcknowledgedByOperator,

    /// <summary>Its limit, its binding or its instance was taken away: what the value does is no longer looked at.</summary>
    NoLongerWatched,
}
