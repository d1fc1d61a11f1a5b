namespace Fralto.Core.Scaling;

/// <summary>What is fixed for each raw type.</summary>
public static class RawTypes
{
    /// <summary>How many 16-bit registers one value fills; a bool fills one bit and counts as one, a character of text half.</summary>
    public static int Words(this RawType type) =>
        type switch
        {
            RawType.Int32 or RawType.UInt32 or RawType.Float32 or RawType.Bcd32 => 2,
            RawType.Int64 or RawType.UInt64 or RawType.Float64 => 4,
            _ => 1,
        };

    /// <summary>True for IEEE 754 numbers.</summary>
    public static bool IsFloat(this RawType type) => type is RawType.Float32 or RawType.Float64;

    /// <summary>Reads a type as people write it: float32, int16[8], text[16], and the names of IEC 61131-3 (REAL, DINT, WORD
    /// ...).</summary>
    /// <returns>The type and its count; null when the text is none.</returns>
    public static (RawType Type, int Count)? Parse(string text)
    {
        var word = text.AsSpan().Trim();
        var count = 1;
        var bracket = word.IndexOf('[');
        if (bracket > 0)
        {
            if (
                !word.EndsWith("]")
                || !int.TryParse(
                    word[(bracket + 1)..^1],
                    System.Globalization.NumberStyles.None,
                    System.Globalization.CultureInfo.InvariantCulture,
                    out count
                )
                || count < 1
            )
                return null;
            word = word[..bracket];
        }
        return Spellings.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(word, out var type) ? (type, count) : null;
    }

    private static readonly Dictionary<string, RawType> Spellings = new(StringComparer.OrdinalIgnoreCase)
    {
        ["bool"] = RawType.Bool,
        ["boolean"] = RawType.Bool,
        ["bit"] = RawType.Bool,
        ["int8"] = RawType.Int8,
        ["sint"] = RawType.Int8,
        ["uint8"] = RawType.UInt8,
        ["usint"] = RawType.UInt8,
        ["byte"] = RawType.UInt8,
        ["int16"] = RawType.Int16,
        ["int"] = RawType.Int16,
        ["short"] = RawType.Int16,
        ["uint16"] = RawType.UInt16,
        ["uint"] = RawType.UInt16,
        ["word"] = RawType.UInt16,
        ["int32"] = RawType.Int32,
        ["dint"] = RawType.Int32,
        ["uint32"] = RawType.UInt32,
        ["udint"] = RawType.UInt32,
        ["dword"] = RawType.UInt32,
        ["int64"] = RawType.Int64,
        ["lint"] = RawType.Int64,
        ["uint64"] = RawType.UInt64,
        ["ulint"] = RawType.UInt64,
        ["lword"] = RawType.UInt64,
        ["float32"] = RawType.Float32,
        ["float"] = RawType.Float32,
        ["real"] = RawType.Float32,
        ["float64"] = RawType.Float64,
        ["double"] = RawType.Float64,
        ["lreal"] = RawType.Float64,
        ["bcd16"] = RawType.Bcd16,
        ["bcd32"] = RawType.Bcd32,
        ["text"] = RawType.Text,
        ["string"] = RawType.Text,
    };

    /// <summary>Bits of a whole number that can be sliced; 0 when the type has none.</summary>
    /// <remarks>64-bit words are carried as double precision numbers, which keep 53 bits; declare them as two 32-bit words to slice
    /// them.</remarks>
    public static int SliceableBits(this RawType type) =>
        type switch
        {
            RawType.Int8 or RawType.UInt8 => 8,
            RawType.Int16 or RawType.UInt16 => 16,
            RawType.Int32 or RawType.UInt32 => 32,
            _ => 0,
        };

    /// <summary>The numbers a type can hold.</summary>
    public static Span RangeOf(this RawType type) =>
        type switch
        {
            RawType.Bool => new(0, 1),
            RawType.Int8 => new(sbyte.MinValue, sbyte.MaxValue),
            RawType.UInt8 => new(0, byte.MaxValue),
            RawType.Int16 => new(short.MinValue, short.MaxValue),
            RawType.UInt16 => new(0, ushort.MaxValue),
            RawType.Int32 => new(int.MinValue, int.MaxValue),
            RawType.UInt32 => new(0, uint.MaxValue),
            RawType.Int64 => new(long.MinValue, long.MaxValue),
            RawType.UInt64 => new(0, ulong.MaxValue),
            RawType.Bcd16 => new(0, 9999),
            RawType.Bcd32 => new(0, 99_999_999),
            RawType.Float32 => new(float.MinValue, float.MaxValue),
            _ => new(double.MinValue, double.MaxValue),
        };

    /// <summary>The type's name as it is shown and typed.</summary>
    public static string Word(this RawType type) => type.ToString().ToLowerInvariant();
}
