namespace Fralto.Core.Basics;

/// <summary>Many short texts as one long one in capitals, so that looking through all of them is one sweep over memory.</summary>
public sealed class SearchText
{
    private const char Between = '\n';
    private readonly char[] _text;
    private readonly int[] _starts;

    private SearchText(char[] text, int[] starts) => (_text, _starts) = (text, starts);

    /// <summary>Makes it.</summary>
    /// <param name="count">How many texts.</param>
    /// <param name="textAt">The text at each position; may be empty.</param>
    public static SearchText Of(int count, Func<int, string> textAt)
    {
        var (text, starts) = (new char[Math.Max(16, count * 16)], new int[count + 1]);
        var length = 0;
        for (var i = 0; i < count; i++)
        {
            starts[i] = length;
            var entry = textAt(i);
            while (length + entry.Length + 1 > text.Length)
                Array.Resize(ref text, text.Length * 2);
            length += entry.AsSpan().ToUpperInvariant(text.AsSpan(length));
            text[length++] = Between;
        }
        starts[count] = length;
        return new(text[..length], starts);
    }

    /// <summary>Sets a bit for every text that holds a word.</summary>
    /// <param name="word">The word in capitals.</param>
    /// <param name="marks">A set of bits for each text.</param>
    /// <param name="bit">The bit to set.</param>
    public void Mark(string word, int[] marks, int bit)
    {
        var (from, at) = (0, 0);
        while (_text.AsSpan(from).IndexOf(word, StringComparison.Ordinal) is >= 0 and var found)
        {
            while (_starts[at + 1] <= from + found)
                at++;
            marks[at] |= bit;
            from = _starts[at + 1];
        }
    }
}
