namespace Fralto.Core.Properties;

/// <summary>What one layer says about one limit; a null field says nothing.</summary>
/// <param name="Setpoint">The limit itself, in the property's unit.</param>
/// <param name="Deadband">How far the value must come back before the alarm clears, in the property's unit; 0 or more.</param>
/// <param name="Priority">1 (highest) to 4.</param>
/// <param name="Off">True takes the limit away below this layer.</param>
/// <param name="OnDelay">Seconds the condition must last before the alarm is raised; 0 or more.</param>
/// <param name="OffDelay">Seconds it must be gone before the alarm clears; 0 or more.</param>
public sealed record LimitPatch(
    double? Setpoint = null,
    double? Deadband = null,
    int? Priority = null,
    bool? Off = null,
    double? OnDelay = null,
    double? OffDelay = null
)
{
    /// <summary>This patch with what a later layer says laid over it.</summary>
    public LimitPatch With(LimitPatch later) =>
        new(
            later.Setpoint ?? Setpoint,
            later.Deadband ?? Deadband,
            later.Priority ?? Priority,
            // A layer that gives a setpoint again brings back a limit that an earlier one has taken away.
            later.Off
                ?? (later.Setpoint is null ? Off : null),
            later.OnDelay ?? OnDelay,
            later.OffDelay ?? OffDelay
        );
}
