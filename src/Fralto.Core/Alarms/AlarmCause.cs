namespace Fralto.Core.Alarms;

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

    /// <summary>A person has reset what is latched.</summary>
    ResetByOperator,

    /// <summary>It had its time: what clears by itself after a while has done so.</summary>
    ClearedByTime,

    /// <summary>An operator has put it away for a time.</summary>
    ShelvedByOperator,

    /// <summary>An operator has brought it back.</summary>
    UnshelvedByOperator,

    /// <summary>The time it was shelved for is over.</summary>
    ShelvingEnded,

    /// <summary>The model says that its limit does not count now.</summary>
    SuppressionBegan,

    /// <summary>Its limit counts again.</summary>
    SuppressionEnded,

    /// <summary>It was taken out of service for maintenance.</summary>
    TakenOutOfService,

    /// <summary>It was put back into service.</summary>
    PutBackInService,

    /// <summary>A response it set off has done its work; this moves nothing.</summary>
    ResponseDone,

    /// <summary>A response it set off has failed; this moves nothing.</summary>
    ResponseFailed,
}
