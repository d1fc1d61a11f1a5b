using System.Text;

namespace Fralto.Core.Scaling;

/// <summary>Between 16-bit words and raw values.</summary>
public static class RawCodec
{
    private const int MostDigits = 8;

    /// <summary>How many registers a tag of so many elements fills: texts two characters a register, packed booleans 32 in two
    /// registers.</summary>
    public static int WordsOf(RawType type, int count = 1) =>
        type switch
        {
            RawType.Text => (count + 1) / 2,
            RawType.Bool => count == 1 ? 1 : (count + 31) / 32 * 2,
            _ => type.Words() * count,
        };

    /// <summary>Reads one number from words as they came from the device.</summary>
    /// <param name="words">At least as many as the type fills.</param>
    /// <param name="type">A type of number; bool reads any bit set as 1.</param>
    /// <param name="order">Order of words and bytes.</param>
    /// <returns>The number; not-a-number for a BCD nibble above 9, and whatever a float holds, which may be not-a-number or
    /// infinity.</returns>
    public static double Read(ReadOnlySpan<ushort> words, RawType type, WordOrder order)
    {
        var bits = Join(words[..type.Words()], order);
        // Each arm widens by itself: left to the compiler, integers and a float meet as float and lose their last digits.
        return type switch
        {
            RawType.Bool => bits != 0 ? 1d : 0d,
            RawType.Int8 => (double)(sbyte)bits,
            RawType.UInt8 => (double)(byte)bits,
            RawType.Int16 => (double)(short)bits,
            RawType.UInt16 => (double)(ushort)bits,
            RawType.Int32 => (double)(int)bits,
            RawType.UInt32 => (double)(uint)bits,
            RawType.Int64 => (double)(long)bits,
            RawType.UInt64 => (double)bits,
            RawType.Float32 => (double)BitConverter.UInt32BitsToSingle((uint)bits),
            RawType.Float64 => BitConverter.UInt64BitsToDouble(bits),
            RawType.Bcd16 => FromBcd(bits, 4),
            RawType.Bcd32 => FromBcd(bits, MostDigits),
            _ => throw new ArgumentOutOfRangeException(nameof(type), type, "text is no number"),
        };
    }

    /// <summary>Element n of packed booleans: bit n mod 32 of 32-bit word n div 32.</summary>
    public static bool ReadPackedBool(ReadOnlySpan<ushort> words, int element, WordOrder order) =>
        ((Join(words.Slice(element / 32 * 2, 2), order) >> (element % 32)) & 1) != 0;

    /// <summary>Text from words: two bytes each, ended by a zero byte; bytes that are no printable ASCII become '?'.</summary>
    public static string ReadText(ReadOnlySpan<ushort> words, int length, WordOrder order)
    {
        var text = new StringBuilder(length);
        for (var i = 0; i < length; i++)
        {
            var first = i % 2 == 0 != order.IsSwapped();
            var c = (byte)(first ? words[i / 2] >> 8 : words[i / 2]);
            if (c == 0)
                break;
            text.Append(c is >= 0x20 and < 0x7F ? (char)c : '?');
        }
        return text.ToString().TrimEnd();
    }

    /// <summary>Writes one number into words as the device wants them.</summary>
    /// <returns>False, and no word changed, when the number does not fit the type; whole types round half away from zero.</returns>
    public static bool TryWrite(double value, RawType type, WordOrder order, System.Span<ushort> words)
    {
        if (Encode(value, type) is not { } bits)
            return false;
        Split(bits, order, words[..type.Words()]);
        return true;
    }

    /// <summary>Writes text into words, filled up with zero bytes.</summary>
    /// <returns>False when it is longer than the field or holds something other than printable ASCII.</returns>
    public static bool TryWriteText(string text, int length, WordOrder order, System.Span<ushort> words)
    {
        if (text.Length > length || text.Any(c => c is < ' ' or > '~'))
            return false;
        words[..WordsOf(RawType.Text, length)].Clear();
        for (var i = 0; i < text.Length; i++)
            words[i / 2] |= (ushort)(i % 2 == 0 != order.IsSwapped() ? text[i] << 8 : text[i]);
        return true;
    }

    /// <summary>Why a number cannot be written as a type; null when it can.</summary>
    public static string? WhyNot(double value, RawType type) =>
        Encode(value, type) is not null ? null
        : !double.IsFinite(value) ? $"{value} is no number a {type.Word()} can hold"
        : string.Create(
            System.Globalization.CultureInfo.InvariantCulture,
            $"{Math.Round(value, MidpointRounding.AwayFromZero)} does not fit {type.Word()}, {type.RangeOf().Low} … {type.RangeOf().High}"
        );

    /// <summary>The bytes of words in hexadecimal, as they arrive.</summary>
    public static string Hex(ReadOnlySpan<ushort> words)
    {
        var text = new StringBuilder(words.Length * 6);
        foreach (var word in words)
            text.Append(text.Length > 0 ? " " : "")
                .Append((word >> 8).ToString("X2", null))
                .Append(' ')
                .Append((word & 0xFF).ToString("X2", null));
        return text.ToString();
    }

    private static ulong? Encode(double value, RawType type)
    {
        if (type == RawType.Float64)
            return BitConverter.DoubleToUInt64Bits(value);
        if (type == RawType.Float32)
            return !double.IsFinite(value) || Math.Abs(value) <= float.MaxValue ? BitConverter.SingleToUInt32Bits((float)value) : null;
        var whole = Math.Round(value, MidpointRounding.AwayFromZero);
        return type switch
        {
            // 2^63 and 2^64 are the first doubles that do not fit.
            RawType.Int64 when whole is >= long.MinValue and < 9.2233720368547758e18 => (ulong)(long)whole,
            RawType.UInt64 when whole is >= 0 and < 1.8446744073709552e19 => (ulong)whole,
            RawType.Int64 or RawType.UInt64 or RawType.Text => null,
            _ when !type.RangeOf().Contains(whole) => null,
            RawType.Int8 => (byte)(sbyte)whole,
            RawType.Int16 => (ushort)(short)whole,
            RawType.Int32 => (uint)(int)whole,
            RawType.Bcd16 or RawType.Bcd32 => ToBcd((uint)whole),
            _ => (ulong)whole,
        };
    }

    private static double FromBcd(ulong bits, int digits)
    {
        var number = 0d;
        for (var i = digits - 1; i >= 0; i--)
        {
            var digit = (bits >> (4 * i)) & 0xF;
            if (digit > 9)
                return double.NaN;
            number = number * 10 + digit;
        }
        return number;
    }

    private static ulong ToBcd(uint number)
    {
        var bits = 0UL;
        for (var i = 0; i < MostDigits; i++, number /= 10)
            bits |= (ulong)(number % 10) << (4 * i);
        return bits;
    }

    private static ulong Join(ReadOnlySpan<ushort> words, WordOrder order)
    {
        var bits = 0UL;
        for (var i = 0; i < words.Length; i++)
            bits = (bits << 16) | Turned(words[order.IsLowFirst() ? words.Length - 1 - i : i], order);
        return bits;
    }

    private static void Split(ulong bits, WordOrder order, System.Span<ushort> words)
    {
        for (var i = 0; i < words.Length; i++, bits >>= 16)
            words[order.IsLowFirst() ? i : words.Length - 1 - i] = Turned((ushort)bits, order);
    }

    private static ushort Turned(ushort word, WordOrder order) => order.IsSwapped() ? (ushort)((word << 8) | (word >> 8)) : word;
}
