namespace Fralto.Core.Alarms;

/// <summary>The alarm state transitions of ISA-18.2 and IEC 62682 as one table; letters are those of the standard's diagram.</summary>
public static class AlarmTransitions
{
    /// <summary>From and cause, to the state of an alarm that lasts, and to that of one that is latched where it is another.</summary>
    private static readonly Dictionary<(AlarmState From, AlarmCause Cause), (AlarmState Lasting, AlarmState Latched)> Table = Build();

    /// <summary>The state after a cause; the same state when the cause has nothing to change.</summary>
    /// <param name="state">The state before.</param>
    /// <param name="cause">What happened.</param>
    /// <param name="behaviour">How the alarm behaves.</param>
    /// <param name="isTrue">Whether the condition is there: what is brought back out of G, H or I goes by it.</param>
    public static AlarmState After(AlarmState state, AlarmCause cause, AlarmBehaviour behaviour = default, bool isTrue = false)
    {
        var next =
            state.IsPutAway() && Brings(state, cause)
                ? isTrue
                    ? AlarmState.Unacknowledged
                    : AlarmState.Normal
                : Table.TryGetValue((state, cause), out var row)
                    ? behaviour.IsLatched
                        ? row.Latched
                        : row.Lasting
                    : state;
        // An event has gone as soon as it is there.
        if (behaviour.IsMomentary && next == AlarmState.Unacknowledged)
            next = cause == AlarmCause.ConditionRaised ? AlarmState.ReturnedUnacknowledged : AlarmState.Normal;
        return !behaviour.NeedsNoAcknowledgement
            ? next
            : next switch
            {
                AlarmState.Unacknowledged => AlarmState.Acknowledged,
                AlarmState.ReturnedUnacknowledged => AlarmState.Normal,
                AlarmState.LatchedUnacknowledged => AlarmState.LatchedAcknowledged,
                _ => next,
            };
    }

    /// <summary>True where a cause brings an alarm back that was put away in this way.</summary>
    private static bool Brings(AlarmState state, AlarmCause cause) =>
        (state, cause)
            is
                (AlarmState.Shelved, AlarmCause.UnshelvedByOperator or AlarmCause.ShelvingEnded)
                or
                (AlarmState.SuppressedByDesign, AlarmCause.SuppressionEnded)
                or
                (AlarmState.OutOfService, AlarmCause.PutBackInService);

    private static Dictionary<(AlarmState, AlarmCause), (AlarmState, AlarmState)> Build()
    {
        var table = new Dictionary<(AlarmState, AlarmCause), (AlarmState, AlarmState)>();
        void Row(AlarmState from, AlarmCause cause, AlarmState to, AlarmState? latched = null) =>
            table[(from, cause)] = (to, latched ?? to);

        Row(AlarmState.Normal, AlarmCause.ConditionRaised, AlarmState.Unacknowledged); // A to B
        Row(AlarmState.Unacknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.Acknowledged); // B to C
        // C to A, and C to F
        Row(AlarmState.Acknowledged, AlarmCause.ConditionCleared, AlarmState.Normal, AlarmState.LatchedAcknowledged);
        // B to D, and B to E
        Row(AlarmState.Unacknowledged, AlarmCause.ConditionCleared, AlarmState.ReturnedUnacknowledged, AlarmState.LatchedUnacknowledged);
        Row(AlarmState.ReturnedUnacknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.Normal); // D to A
        Row(AlarmState.ReturnedUnacknowledged, AlarmCause.ConditionRaised, AlarmState.Unacknowledged); // D to B
        Row(AlarmState.LatchedUnacknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.LatchedAcknowledged); // E to F
        Row(AlarmState.LatchedAcknowledged, AlarmCause.ResetByOperator, AlarmState.Normal); // F to A
        // Beside the diagram: what comes again while it is latched is news.
        Row(AlarmState.LatchedUnacknowledged, AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        Row(AlarmState.LatchedAcknowledged, AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        // Beside the diagram: what has gone may clear by itself.
        Row(AlarmState.ReturnedUnacknowledged, AlarmCause.ClearedByTime, AlarmState.Normal);
        Row(AlarmState.LatchedUnacknowledged, AlarmCause.ClearedByTime, AlarmState.Normal);
        Row(AlarmState.LatchedAcknowledged, AlarmCause.ClearedByTime, AlarmState.Normal);
        foreach (var state in AlarmStates.All)
        {
            // Beside the diagram: there is no alarm any more.
            Row(state, AlarmCause.NoLongerWatched, AlarmState.Normal);
            // Any of A to F to G, H, I; of several, out of service goes before shelved, and shelved before suppressed.
            if (state is not (AlarmState.Shelved or AlarmState.OutOfService))
                Row(state, AlarmCause.ShelvedByOperator, AlarmState.Shelved);
            if (!state.IsPutAway())
                Row(state, AlarmCause.SuppressionBegan, AlarmState.SuppressedByDesign);
            Row(state, AlarmCause.TakenOutOfService, AlarmState.OutOfService);
        }
        return table;
    }
}
