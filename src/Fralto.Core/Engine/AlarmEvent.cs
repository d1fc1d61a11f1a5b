using Fralto.Core.Limits;

namespace Fralto.Core.Engine;

/// <summary>One step of one alarm.</summary>
/// <param name="Key">The alarm.</param>
/// <param name="Time">When.</param>
/// <param name="State">The state it went to.</param>
/// <param name="Cause">What moved it.</param>
/// <param name="Value">The value at that moment.</param>
/// <param name="Path">The property's path at that moment.</param>
/// <param name="Priority">1 to 4.</param>
/// <param name="Who">Who acknowledged; null for what the plant did.</param>
public sealed record AlarmEvent(
    AlarmKey Key,
    DateTimeOffset Time,
    AlarmState State,
    AlarmCause Cause,
    double Value,
    string Path,
    int Priority,
    string? Who = null
);
