namespace Fralto.Core.Limits;

/// <summary>What moves an alarm from one state to the next.</summary>
public enum AlarmCause
{
    /// <summary>The value went beyond the limit and stayed for the on-delay.</summary>
    ConditionRaised,

    /// <summary>The value came back and stayed for the off-delay.</summary>
    ConditionCleared,

    /// <summary>A person has seen it.</summary>
    AcknowledgedByOperator,

    /// <summary>Its limit, its binding or its instance was taken away: what the value does is no longer looked at.</summary>
    NoLongerWatched,
}
