namespace Fralto.Core.Basics;

/// <summary>The order people expect of names: letters without regard to case, numbers inside them by what they count, so that Silo 2 comes
/// before Silo 10.</summary>
public static class NaturalOrder
{
    // A prefix says a run of digits by its length first; runs of this length and longer are left to the comparison.
    private const int LongRun = 9;
    private const int PrefixLength = 16;

    /// <summary>Compares two texts; less than zero when the first comes first, zero only for equal texts.</summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other.</param>
    public static int Compare(string a, string b)
    {
        var (i, j) = (0, 0);
        while (i < a.Length && j < b.Length)
        {
            if (char.IsAsciiDigit(a[i]) && char.IsAsciiDigit(b[j]))
            {
                var one = Digits(a, ref i);
                var other = Digits(b, ref j);
                if (one.Length != other.Length)
                    return one.Length - other.Length;
                if (one.SequenceCompareTo(other) is var digits and not 0)
                    return digits;
                continue;
            }
            if (Upper(a[i]).CompareTo(Upper(b[j])) is var letters and not 0)
                return letters;
            i++;
            j++;
        }
        return i < a.Length ? 1
            : j < b.Length ? -1
            : string.CompareOrdinal(a, b);
    }

    /// <summary>The order of texts: for each place the index of the text that stands there. Equal texts keep theirs.</summary>
    /// <param name="texts">The texts.</param>
    /// <param name="indices">Those that are put in order; a text by its index.</param>
    public static int[] Sort(IReadOnlyList<string> texts, IReadOnlyList<int> indices)
    {
        var keys = new Key[indices.Count];
        for (var i = 0; i < keys.Length; i++)
            keys[i] = new(Prefix(texts[indices[i]]), indices[i]);
        keys.AsSpan().Sort(new ByKey(texts));
        return Array.ConvertAll(keys, k => k.Index);
    }

    // Of two texts the one with the smaller prefix comes first; equal prefixes say nothing.
    private static UInt128 Prefix(string text)
    {
        UInt128 prefix = 0;
        var (length, i) = (0, 0);
        while (length < PrefixLength && i < text.Length)
        {
            if (char.IsAsciiDigit(text[i]))
            {
                var digits = Digits(text, ref i);
                Put((byte)('0' + Math.Min(digits.Length, LongRun)));
                if (digits.Length >= LongRun)
                    break;
                foreach (var digit in digits)
                    Put((byte)digit);
            }
            else if (Upper(text[i]) is var c && c < 0x80)
            {
                Put((byte)c);
                i++;
            }
            else
            {
                Put(0xFF);
                break;
            }
        }
        return prefix << (8 * (PrefixLength - Math.Min(length, PrefixLength)));

        void Put(byte value)
        {
            if (length < PrefixLength)
                prefix = (prefix << 8) | value;
            length++;
        }
    }

    private static ReadOnlySpan<char> Digits(string text, ref int at)
    {
        while (at < text.Length && text[at] == '0')
            at++;
        var begin = at;
        while (at < text.Length && char.IsAsciiDigit(text[at]))
            at++;
        return text.AsSpan(begin, at - begin);
    }

    private static char Upper(char c) => char.IsAscii(c) ? (char.IsAsciiLetterLower(c) ? (char)(c - 32) : c) : char.ToUpperInvariant(c);

    private readonly record struct Key(UInt128 Prefix, int Index);

    private readonly struct ByKey(IReadOnlyList<string> texts) : IComparer<Key>
    {
        public int Compare(Key x, Key y)
        {
            if (x.Prefix != y.Prefix)
                return x.Prefix < y.Prefix ? -1 : 1;
            var text = NaturalOrder.Compare(texts[x.Index], texts[y.Index]);
            return text != 0 ? text : x.Index.CompareTo(y.Index);
        }
    }
}
