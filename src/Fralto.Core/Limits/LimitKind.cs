namespace Fralto.Core.Limits;

/// <summary>What a limit that is not one of the four levels looks at.</summary>
public enum LimitKind
{
    /// <summary>The value is further from another than the setpoint allows.</summary>
    Deviation,

    /// <summary>The value rises or falls faster than the setpoint, a minute, over a window.</summary>
    Rate,

    /// <summary>The state is this one.</summary>
    StateIs,

    /// <summary>The state is any but this one.</summary>
    StateIsNot,

    /// <summary>A formula is true.</summary>
    Formula,

    /// <summary>The value is Bad for as long as the on-delay.</summary>
    BadQuality,

    /// <summary>The value has not moved for the setpoint in seconds.</summary>
    NoChange,
}
