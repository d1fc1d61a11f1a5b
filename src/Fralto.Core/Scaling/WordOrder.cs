namespace Fralto.Core.Scaling;

/// <summary>The order of words, and of the two bytes inside each. Modbus fixes the bytes inside a register, not the order of registers;
/// devices differ in both.</summary>
/// <remarks>The letters name the bytes from the most significant on, in the order in which they arrive; 64-bit values go on in the same
/// way.</remarks>
public enum WordOrder
{
    /// <summary>Most significant word first: ABCD, ABCDEFGH.</summary>
    HighFirst,

    /// <summary>Least significant word first: CDAB, GHEFCDAB.</summary>
    LowFirst,

    /// <summary>Most significant word first, the bytes of each word swapped: BADC, BADCFEHG.</summary>
    HighFirstSwapped,

    /// <summary>Least significant word first, the bytes of each word swapped: DCBA, HGFEDCBA.</summary>
    LowFirstSwapped,
}
