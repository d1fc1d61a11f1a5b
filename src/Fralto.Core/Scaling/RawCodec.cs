namespace Fralto.Core.Scaling;

/// <summary>Between 16-bit words and raw numbers.</summary>
public static class RawCodec
{
    /// <summary>How many registers a type fills; a bool fills one bit and counts as one.</summary>
    public static int WordsOf(RawType type) => type is RawType.Int32 or RawType.UInt32 or RawType.Float32 ? 2 : 1;

    /// <summary>Reads one number from words as they came from the device.</summary>
    /// <param name="words">At least <see cref="WordsOf"/> words.</param>
    /// <param name="type">A register type; bool reads any bit set as 1.</param>
    /// <param name="order">Order of the two words of a 32-bit type.</param>
    /// <remarks>Each arm widens by itself: left to the compiler, integers and a float meet as float and lose their last digits.</remarks>
    /// <returns>The number; not-a-number or infinity when the device sent that as float32.</returns>
    public static double Read(ReadOnlySpan<ushort> words, RawType type, WordOrder order) => type switch
    {
        RawType.Bool => words[0] != 0 ? 1d : 0d,
        RawType.Int16 => (double)(short)words[0],
        RawType.UInt16 => (double)words[0],
        RawType.Int32 => (double)(int)Join(words, order),
        RawType.UInt32 => (double)Join(words, order),
        RawType.Float32 => (double)BitConverter.UInt32BitsToSingle(Join(words, order)),
        _ => throw new ArgumentOutOfRangeException(nameof(type), type, null),
    };

    /// <summary>Writes one number into words as the device wants them.</summary>
    /// <returns>False, and no word changed, when the number does not fit the type.</returns>
    public static bool TryWrite(double value, RawType type, WordOrder order, System.Span<ushort> words)
    {
        var whole = Math.Round(value, MidpointRounding.AwayFromZero);
        switch (type)
        {
            case RawType.Bool when whole is 0 or 1:
                words[0] = (ushort)whole;
                return true;
            case RawType.Int16 when whole is >= short.MinValue and <= short.MaxValue:
                words[0] = (ushort)(short)whole;
                return true;
            case RawType.UInt16 when whole is >= 0 and <= ushort.MaxValue:
                words[0] = (ushort)whole;
                return true;
            case RawType.Int32 when whole is >= int.MinValue and <= int.MaxValue:
                Split((uint)(int)whole, order, words);
                return true;
            case RawType.UInt32 when whole is >= 0 and <= uint.MaxValue:
                Split((uint)whole, order, words);
                return true;
            case RawType.Float32 when !double.IsFinite(value) || Math.Abs(value) <= float.MaxValue:
                Split(BitConverter.SingleToUInt32Bits((float)value), order, words);
                return true;
            default:
                return false;
        }
    }

    private static uint Join(ReadOnlySpan<ushort> words, WordOrder order) => order == WordOrder.HighFirst
        ? ((uint)words[0] << 16) | words[1]
        : ((uint)words[1] << 16) | words[0];

    private static void Split(uint bits, WordOrder order, System.Span<ushort> words)
    {
        var (high, low) = ((ushort)(bits >> 16), (ushort)bits);
        (words[0], words[1]) = order == WordOrder.HighFirst ? (high, low) : (low, high);
    }
}
