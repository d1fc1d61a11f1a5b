namespace Fralto.Core.Limits;

/// <summary>The fields of a limit a message can point at.</summary>
public enum LimitField
{
    /// <summary>Where the limit is.</summary>
    Setpoint,

    /// <summary>How far the value has to come back.</summary>
    Deadband,

    /// <summary>How urgent it is, 1 to 4.</summary>
    Priority,

    /// <summary>How long the value has to stay beyond, in seconds.</summary>
    OnDelay,

    /// <summary>How long the value has to stay back, in seconds.</summary>
    OffDelay,
}
