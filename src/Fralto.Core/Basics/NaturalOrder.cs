namespace Fralto.Core.Basics;

/// <summary>The order people expect of names: letters without regard to case, numbers inside them by what they count, so that Silo 2 comes
/// before Silo 10.</summary>
public static class NaturalOrder
{
    // Texts are sorted by so many bytes at a time, in which a run of digits is said by its length first. What cannot be said so, and few
    // texts together, are compared as they are.
    private const int Stretch = 16;
    private const int LongRun = 9;
    private const int Few = 12;
    private const int NotSaid = -1;

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
            keys[i] = new(0, indices[i], 0);
        Sort(keys, texts);
        return Array.ConvertAll(keys, k => k.Index);
    }

    private static void Sort(Span<Key> keys, IReadOnlyList<string> texts)
    {
        var isSaid = keys.Length > Few;
        for (var i = 0; i < keys.Length && isSaid; i++)
        {
            var at = keys[i].At;
            isSaid = at >= 0;
            if (isSaid)
                keys[i] = new(Say(texts[keys[i].Index], ref at), keys[i].Index, at);
        }
        if (!isSaid)
        {
            keys.Sort(new ByText(texts));
            return;
        }
        keys.Sort(new BySaid());
        for (int begin = 0, end; begin < keys.Length; begin = end)
        {
            end = begin + 1;
            while (end < keys.Length && keys[end].Said == keys[begin].Said)
                end++;
            if (end - begin == 1)
                continue;
            var same = keys[begin..end];
            // Texts that have ended are the same but for case and leading zeros.
            if (keys[begin].At == texts[keys[begin].Index].Length || keys[begin].At == NotSaid)
                same.Sort(new ByText(texts));
            else
                Sort(same, texts);
        }
    }

    // The next bytes of a text from a place on, which moves: of two texts that were the same before it, the one with the smaller bytes
    // comes first. A run of digits that does not end within them is begun again the next time.
    private static UInt128 Say(string text, ref int at)
    {
        UInt128 said = 0;
        var length = 0;
        while (length < Stretch && at >= 0 && at < text.Length)
        {
            if (char.IsAsciiDigit(text[at]))
            {
                var begin = at;
                var digits = Digits(text, ref at);
                said = (said << 8) | (byte)('0' + Math.Min(digits.Length, LongRun));
                length++;
                if (digits.Length >= LongRun)
                    at = NotSaid;
                for (var d = 0; d < digits.Length && at >= 0; d++)
                {
                    if (length == Stretch)
                    {
                        at = begin;
                        break;
                    }
                    said = (said << 8) | digits[d];
                    length++;
                }
                continue;
            }
            var c = Upper(text[at++]);
            said = (said << 8) | (c < 0x80 ? c : (byte)0xFF);
            length++;
            if (c >= 0x80)
                at = NotSaid;
        }
        return said << (8 * (Stretch - length));
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

    private readonly record struct Key(UInt128 Said, int Index, int At);

    private readonly struct BySaid : IComparer<Key>
    {
        public int Compare(Key x, Key y) =>
            x.Said < y.Said ? -1
            : x.Said > y.Said ? 1
            : x.Index.CompareTo(y.Index);
    }

    private readonly struct ByText(IReadOnlyList<string> texts) : IComparer<Key>
    {
        public int Compare(Key x, Key y)
        {
            var text = NaturalOrder.Compare(texts[x.Index], texts[y.Index]);
            return text != 0 ? text : x.Index.CompareTo(y.Index);
        }
    }
}
