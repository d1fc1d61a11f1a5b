namespace Fralto.Core.Limits;

/// <summary>The alarm state transitions of ISA-18.2 and IEC 62682 as one table; letters are those of the standard's diagram.</summary>
public static class AlarmTransitions
{
    private static readonly Dictionary<(AlarmState, AlarmCause), AlarmState> Table = new()
    {
        [(AlarmState.Normal, AlarmCause.ConditionRaised)] = AlarmState.Unacknowledged, // A to B
        [(AlarmState.Unacknowledged, AlarmCause.AcknowledgedByOperator)] = AlarmState.Acknowledged, // B to C
        [(AlarmState.Acknowledged, AlarmCause.ConditionCleared)] = AlarmState.Normal, // C to A
        [(AlarmState.Unacknowledged, AlarmCause.ConditionCleared)] = AlarmState.ReturnedUnacknowledged, // B to D
        [(AlarmState.ReturnedUnacknowledged, AlarmCause.AcknowledgedByOperator)] = AlarmState.Normal, // D to A
        [(AlarmState.ReturnedUnacknowledged, AlarmCause.ConditionRaised)] = AlarmState.Unacknowledged, // D to B
        // Beside the standard's diagram: there is no alarm any more.
        [(AlarmState.Unacknowledged, AlarmCause.NoLongerWatched)] = AlarmState.Normal,
        [(AlarmState.Acknowledged, AlarmCause.NoLongerWatched)] = AlarmState.Normal,
        [(AlarmState.ReturnedUnacknowledged, AlarmCause.NoLongerWatched)] = AlarmState.Normal,
    };

    /// <summary>The state after a cause; the same state when the cause has nothing to change.</summary>
    public static AlarmState After(AlarmState state, AlarmCause cause) => Table.TryGetValue((state, cause), out var next) ? next : state;
}
