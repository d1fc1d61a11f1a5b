namespace Fralto.Core.Limits;

/// <summary>States of an alarm that is neither shelved, suppressed nor out of service (ANSI/ISA-18.2-2016, IEC 62682:2014).</summary>
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
}
