using System.Globalization;

namespace Fralto.Core.Scaling;

/// <summary>A part of a tag: one element of an array, some bits of a word, or both. Written "[12]", ".4", ".4-6", "[2].0-3".</summary>
/// <param name="Element">Index of the element, from 0; null for a tag that is no array.</param>
/// <param name="FirstBit">Lowest bit, 0 the least significant; null for the whole word.</param>
/// <param name="BitCount">How many bits, 1 or more.</param>
public readonly record struct Slice(int? Element, int? FirstBit = null, int BitCount = 1)
{
    /// <summary>Widest run of bits, and the highest bit that can be named.</summary>
    public const int MostBits = 32;

    /// <summary>One bit, which is true or false.</summary>
    public bool IsBit => FirstBit is not null && BitCount == 1;

    /// <summary>Reads "[12]", ".4", ".4-6" or "[2].0-3"; null when the text is none of these.</summary>
    public static Slice? Parse(string text)
    {
        var (element, bit, count) = ((int?)null, (int?)null, 1);
        var rest = text.AsSpan().Trim();
        if (rest.StartsWith("["))
        {
            var end = rest.IndexOf(']');
            if (end < 0 || !Whole(rest[1..end], out var index))
                return null;
            element = index;
            rest = rest[(end + 1)..];
        }
        if (rest.StartsWith("."))
        {
            rest = rest[1..];
            var dash = rest.IndexOf('-');
            if (!Whole(dash < 0 ? rest : rest[..dash], out var first))
                return null;
            var last = first;
            if (dash >= 0 && !Whole(rest[(dash + 1)..], out last))
                return null;
            if (last < first || last >= MostBits)
                return null;
            (bit, count) = (first, last - first + 1);
            rest = [];
        }
        return rest.IsEmpty && (element is not null || bit is not null) ? new(element, bit, count) : null;
    }

    /// <summary>The number the slice of a raw number is; the element has been chosen before.</summary>
    /// <param name="raw">A whole number of a type that can be sliced; a negative one is taken as its two's complement.</param>
    public double BitsOf(double raw) =>
        FirstBit is not { } first || !double.IsFinite(raw) ? raw : ((uint)(long)raw >> first) & (uint)((1UL << BitCount) - 1);

    /// <summary>True when two bindings of one tag would take the same bits.</summary>
    public static bool Overlap(Slice? one, Slice? other)
    {
        if (one is not { } a || other is not { } b)
            return true;
        if (a.Element != b.Element)
            return false;
        return a.FirstBit is not { } x || b.FirstBit is not { } y || (x < y + b.BitCount && y < x + a.BitCount);
    }

    /// <inheritdoc/>
    public override string ToString() =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{(Element is { } e ? $"[{e}]" : "")}{(FirstBit is not { } b ? "" : BitCount == 1 ? $".{b}" : $".{b}-{b + BitCount - 1}")}"
        );

    private static bool Whole(ReadOnlySpan<char> text, out int number) =>
        int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out number);
}
