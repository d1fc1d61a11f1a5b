namespace Fralto.Core.Scaling;

/// <summary>Which 16-bit word of a 32-bit value comes first. Modbus fixes the bytes inside a register, not the order of registers.</summary>
public enum WordOrder
{
    /// <summary>Most significant word first (bytes A B C D).</summary>
    HighFirst,

    /// <summary>Least significant word first (bytes C D A B).</summary>
    LowFirst,
}
