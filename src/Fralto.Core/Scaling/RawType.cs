namespace Fralto.Core.Scaling;

/// <summary>How the bits of a tag are read.</summary>
public enum RawType
{
    Bool,
    Int16,
    UInt16,
    Int32,
    UInt32,
    Float32,
    Int8,
    UInt8,
    Int64,
    UInt64,
    Float64,

    /// <summary>Four decimal digits in a 16-bit word, a nibble each.</summary>
    Bcd16,

    /// <summary>Eight decimal digits in two 16-bit words.</summary>
    Bcd32,

    /// <summary>Text of a fixed number of bytes, two a register, ended early by a zero byte.</summary>
    Text,
}
