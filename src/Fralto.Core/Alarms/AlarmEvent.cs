namespace Fralto.Core.Alarms;

/// <summary>One step of one alarm.</summary>
/// <param name="Key">The alarm.</param>
/// <param name="Time">When, by the clock on the wall; steps that wait for a delay have the time at which it was over.</param>
/// <param name="State">The state it went to.</param>
/// <param name="Cause">What moved it.</param>
/// <param name="Value">The value at that moment; not-a-number where there is none.</param>
/// <param name="Path">The property's path at that moment.</param>
/// <param name="Priority">1 to 4.</param>
/// <param name="Who">Who did it; null for what the plant did.</param>
public sealed record AlarmEvent(
    AlarmKey Key,
    DateTimeOffset Time,
    AlarmState State,
    AlarmCause Cause,
    double Value,
    string Path,
    int Priority,
    string? Who = null
)
{
    /// <summary>Code of the limit: HH, H, L, LL, or its own.</summary>
    public string Limit { get; init; } = "";

    /// <summary>What the alarm says, as it was when it was raised; empty for nothing.</summary>
    public string Message { get; init; } = "";

    /// <summary>What it says in other languages, a line each: de = …; empty for none.</summary>
    public string Translations { get; init; } = "";

    /// <summary>What was said with it, or why; empty for nothing.</summary>
    public string Comment { get; init; } = "";

    /// <summary>When the value was read, by the clock of its source; null for what no value did.</summary>
    public DateTimeOffset? SourceTime { get; init; }
}
