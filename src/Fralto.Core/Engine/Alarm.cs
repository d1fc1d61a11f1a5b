using Fralto.Core.Limits;

namespace Fralto.Core.Engine;

/// <summary>One alarm that is not normal.</summary>
/// <param name="Key">What it is the alarm of.</param>
/// <param name="State">Where it stands.</param>
/// <param name="RaisedAt">When the condition last appeared.</param>
/// <param name="RaisedValue">The value that raised it.</param>
/// <param name="ClearedAt">When the condition went away; null while it is there.</param>
/// <param name="AcknowledgedBy">Who acknowledged it; null when nobody has.</param>
public sealed record Alarm(
    AlarmKey Key,
    AlarmState State,
    DateTimeOffset RaisedAt,
    double RaisedValue,
    DateTimeOffset? ClearedAt = null,
    string? AcknowledgedBy = null
)
{
    /// <summary>True while the condition is there.</summary>
    public bool IsActive => State is AlarmState.Unacknowledged or AlarmState.Acknowledged;
}
