using System.Collections.Immutable;

namespace Fralto.Core.Alarms;

/// <summary>One alarm that is not normal.</summary>
/// <param name="Key">What it is the alarm of.</param>
/// <param name="State">Where it stands.</param>
/// <param name="RaisedAt">When the condition last appeared; when it was put away, for one that was normal then.</param>
/// <param name="RaisedValue">The value that raised it; not-a-number when none did.</param>
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
    /// <summary>True while the condition is there, also where the alarm is put away.</summary>
    public bool IsTrue { get; init; }

    /// <summary>When it was acknowledged; null when it was not.</summary>
    public DateTimeOffset? AcknowledgedAt { get; init; }

    /// <summary>What was said when it was acknowledged; empty for nothing.</summary>
    public string Comment { get; init; } = "";

    /// <summary>What it says, as it was when it was raised; empty for nothing.</summary>
    public string Message { get; init; } = "";

    /// <summary>What it says in other languages, a line each: de = …; empty for none.</summary>
    public string Translations { get; init; } = "";

    /// <summary>What was captured when it was raised: name and value.</summary>
    public ImmutableArray<KeyValuePair<string, string>> Captured { get; init; } = [];

    /// <summary>That it is shelved; null when it is not.</summary>
    public AlarmShelving? Shelving { get; init; }

    /// <summary>That it is out of service; null when it is not.</summary>
    public AlarmLeave? Leave { get; init; }

    /// <summary>True while its limit does not count.</summary>
    public bool IsSuppressed { get; init; }

    /// <inheritdoc/>
    public bool Equals(Alarm? other) =>
        other is not null
        && (Key, State, RaisedAt, ClearedAt) == (other.Key, other.State, other.RaisedAt, other.ClearedAt)
        && RaisedValue.Equals(other.RaisedValue)
        && (AcknowledgedBy, AcknowledgedAt, Comment) == (other.AcknowledgedBy, other.AcknowledgedAt, other.Comment)
        && (Message, Translations) == (other.Message, other.Translations)
        && (IsTrue, IsSuppressed, Shelving, Leave) == (other.IsTrue, other.IsSuppressed, other.Shelving, other.Leave)
        && Captured.SequenceEqual(other.Captured);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Key, State, RaisedAt);

    /// <summary>True while the condition is there and stands before the operator.</summary>
    public bool IsActive => State is AlarmState.Unacknowledged or AlarmState.Acknowledged;
}
