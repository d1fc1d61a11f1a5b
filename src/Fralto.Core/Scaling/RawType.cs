namespace Fralto.Core.Scaling;

/// <summary>How the bits of a tag are read as a number.</summary>
public enum RawType
{
    Bool,
    Int16,
    UInt16,
    Int32,
    UInt32,
    Float32,
}
