namespace Fralto.Core.Alarms;

/// <summary>States of an alarm (ANSI/ISA-18.2-2016, IEC 62682:2014); letters are those of the standard's diagram.</summary>
public enum AlarmState
{
    /// <summary>A: no condition, nothing to acknowledge.</summary>
    Normal,

    /// <summary>B: the condition is there and nobody has acknowledged it.</summary>
    Unacknowledged,

    /// <summary>C: the condition is there and acknowledged.</summary>
    Acknowledged,

    /// <summary>D: the condition has gone before anybody acknowledged it.</summary>
    ReturnedUnacknowledged,

    /// <summary>E: the condition has gone, the alarm stays until it is reset, and nobody has acknowledged it.</summary>
    LatchedUnacknowledged,

    /// <summary>F: the condition has gone, the alarm stays until it is reset, and it is acknowledged.</summary>
    LatchedAcknowledged,

    /// <summary>G: put away by an operator, for a time.</summary>
    Shelved,

    /// <summary>H: put away by the model: its limit does not count now.</summary>
    SuppressedByDesign,

    /// <summary>I: put away for maintenance, until it is put back.</summary>
    OutOfService,
}
