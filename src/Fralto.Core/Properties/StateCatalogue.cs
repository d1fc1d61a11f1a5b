using System.Collections.Immutable;

namespace Fralto.Core.Properties;

/// <summary>State lists that many plants have, to begin with.</summary>
/// <remarks>The two lists of a procedure are the states and modes of ISA-88 (IEC 61512-1), from memory; their numbers, and all other
/// lists, are common practice, no source.</remarks>
public static class StateCatalogue
{
    /// <summary>All of them. None has an id.</summary>
    public static ImmutableArray<StateList> All { get; } =
    [
        Of("OffOn", "Off and on", "Off", "On"),
        Of("ClosedOpen", "Closed and open", "Closed", "Open"),
        Of("NoYes", "No and yes", "No", "Yes"),
        Of("StoppedRunning", "Stopped and running", "Stopped", "Running"),
        Of("StoppedRunningFault", "Stopped, running, fault", "Stopped", "Running", "Fault!"),
        Of("HealthyFault", "Healthy and fault", "Healthy", "Fault!"),
        Of("ManualAuto", "Manual and automatic", "Manual", "Automatic"),
        Of("RemoteLocal", "Remote and local", "Remote", "Local"),
        Of("NotReadyReady", "Not ready and ready", "Not ready", "Ready"),
        Of("ValvePosition", "Valve position", "Moving", "Closed", "Open", "Fault!"),
        Of("BatchModes", "Modes of a procedure", "Automatic", "Semi-automatic", "Manual"),
        Of(
            "BatchStates",
            "States of a procedure",
            "Idle",
            "Running",
            "Complete",
            "Pausing",
            "Paused",
            "Holding",
            "Held",
            "Restarting",
            "Stopping",
            "Stopped",
            "Aborting!",
            "Aborted!"
        ),
    ];

    private static StateList Of(string code, string name, params ReadOnlySpan<string> states)
    {
        var list = ImmutableArray.CreateBuilder<State>(states.Length);
        for (var value = 0; value < states.Length; value++)
            list.Add(new(value, states[value].TrimEnd('!'), states[value][^1] == '!'));
        return new(0, code, name, list.MoveToImmutable());
    }
}
