namespace Fralto.Core.Alarms;

/// <summary>What can be said of the states of alarms.</summary>
public static class AlarmStates
{
    /// <summary>All states, in the order of their letters.</summary>
    public static IReadOnlyList<AlarmState> All { get; } = Enum.GetValues<AlarmState>();

    /// <summary>True for what is put away: shelved, suppressed by design, out of service.</summary>
    public static bool IsPutAway(this AlarmState state) =>
        state is AlarmState.Shelved or AlarmState.SuppressedByDesign or AlarmState.OutOfService;

    /// <summary>True where somebody has yet to acknowledge.</summary>
    public static bool IsUnacknowledged(this AlarmState state) =>
        state is AlarmState.Unacknowledged or AlarmState.ReturnedUnacknowledged or AlarmState.LatchedUnacknowledged;

    /// <summary>True where the condition has gone and the alarm waits for its reset.</summary>
    public static bool IsLatched(this AlarmState state) => state is AlarmState.LatchedUnacknowledged or AlarmState.LatchedAcknowledged;

    /// <summary>True for what stands before the operator: neither normal nor put away.</summary>
    public static bool IsStanding(this AlarmState state) => state != AlarmState.Normal && !state.IsPutAway();
}
