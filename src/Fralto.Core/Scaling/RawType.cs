namespace Fralto.Core.Scaling;

/// <summary>How the bits of a tag are read.</summary>
public enum RawType
{
    /// <summary>A single bit.</summary>
    Bool,

    /// <summary>Whole number of 16 bits, with sign.</summary>
    Int16,

    /// <summary>Whole number of 16 bits.</summary>
    UInt16,

    /// <summary>Whole number of 32 bits, with sign.</summary>
    Int32,

    /// <summary>Whole number of 32 bits.</summary>
    UInt32,

    /// <summary>Number of 32 bits with a floating point (IEEE 754).</summary>
    Float32,

    /// <summary>Whole number of 8 bits, with sign.</summary>
    Int8,

    /// <summary>Whole number of 8 bits.</summary>
    UInt8,

    /// <summary>Whole number of 64 bits, with sign.</summary>
    Int64,

    /// <summary>Whole number of 64 bits.</summary>
    UInt64,

    /// <summary>Number of 64 bits with a floating point (IEEE 754).</summary>
    Float64,

    /// <summary>Four decimal digits in a 16-bit word, a nibble each.</summary>
    Bcd16,

    /// <summary>Eight decimal digits in two 16-bit words.</summary>
    Bcd32,

    /// <summary>Text of a fixed number of bytes, two a register, ended early by a zero byte.</summary>
    Text,
}
