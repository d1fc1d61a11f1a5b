namespace Fralto.Core.Limits;

/// <summary>The fields of a limit a message can point at.</summary>
public enum LimitField
{
    Setpoint,
    Deadband,
    Priority,
    OnDelay,
    OffDelay,
}
