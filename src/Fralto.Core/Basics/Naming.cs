using System.Text;

namespace Fralto.Core.Basics;

/// <summary>The rules for codes and names, the same everywhere.</summary>
public static class Naming
{
    /// <summary>Longest code, in characters.</summary>
    public const int LongestCode = 40;

    /// <summary>Longest name, in characters.</summary>
    public const int LongestName = 100;

    private const string Accented = "ÀÁÂÃÄÅÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝàáâãäåçèéêëìíîïñòóôõöøùúûüýÿß";
    private const string Plain = "AAAAAACEEEEIIIINOOOOOOUUUUYaaaaaaceeeeiiiinoooooouuuuyys";

    private static readonly System.Buffers.SearchValues<char> CodeSigns = System.Buffers.SearchValues.Create(
        "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789_-"
    );

    /// <summary>What is wrong with a code; null when it is fine.</summary>
    public static string? CodeProblem(string? code)
    {
        if (string.IsNullOrEmpty(code))
            return "Give a code: it stands in paths.";
        if (code.Length > LongestCode)
            return $"The code has {code.Length} characters; {LongestCode} is the most.";
        if (!char.IsAsciiLetter(code[0]))
            return "A code starts with a letter, A to Z.";
        var wrong = code.AsSpan().IndexOfAnyExcept(CodeSigns);
        return wrong < 0 ? null : $"A code has letters, digits, _ and - only, not '{Printable(code[wrong])}'. '{Suggest(code)}' would do.";
    }

    /// <summary>What is wrong with a name; null when it is fine.</summary>
    public static string? NameProblem(string? name)
    {
        if (string.IsNullOrWhiteSpace(name))
            return "Give a name.";
        if (name.Length > LongestName)
            return $"The name has {name.Length} characters; {LongestName} is the most.";
        if (
            name.Any(c => char.IsControl(c) || char.IsSurrogate(c))
            && name.EnumerateRunes().Any(r => r == Rune.ReplacementChar || Rune.IsControl(r))
        )
            return "The name holds a line break or another control character.";
        if (name.AsSpan().IndexOfAny('<', '>') >= 0)
            return "A name cannot hold < or >.";
        return name != name.Trim() ? "The name starts or ends with a space." : null;
    }

    /// <summary>A legal name made from any text: what a name cannot hold becomes a hyphen, blanks around it and what is too long
    /// go.</summary>
    public static string SuggestName(string text)
    {
        var name = new string([.. text.Select(c => c is '<' or '>' || char.IsControl(c) ? '-' : c)]).Trim();
        return name.Length == 0 ? "tag"
            : name.Length > LongestName ? name[..LongestName].Trim()
            : name;
    }

    /// <summary>A legal code made from any text: "Kiln house 2" becomes "Kiln-house-2".</summary>
    public static string Suggest(string text)
    {
        var code = new StringBuilder();
        foreach (var c in text)
        {
            var accent = Accented.IndexOf(c, StringComparison.Ordinal);
            if (char.IsAsciiLetterOrDigit(c) || c is '_')
                code.Append(c);
            else if (accent >= 0)
                code.Append(Plain[accent]);
            else if (code.Length > 0 && code[^1] != '-')
                code.Append('-');
        }
        var clean = code.ToString().Trim('-');
        if (clean.Length == 0 || !char.IsAsciiLetter(clean[0]))
            clean = "X" + clean;
        return clean.Length > LongestCode ? clean[..LongestCode] : clean;
    }

    /// <summary>The known word nearest to one that is not known, when it is near enough to be a slip of the hand: at most a third of its
    /// letters differ.</summary>
    public static string? Nearest(string text, IEnumerable<string> known)
    {
        if (text.Length is 0 or > LongestName)
            return null;
        var nearest = known
            .Where(k => k.Length <= LongestName)
            .Select(k => (Word: k, Distance: Distance(text.ToUpperInvariant(), k.ToUpperInvariant())))
            .OrderBy(k => k.Distance)
            .ThenBy(k => k.Word, StringComparer.Ordinal)
            .FirstOrDefault();
        return nearest.Word is not null && nearest.Distance <= Math.Max(1, Math.Max(text.Length, nearest.Word.Length) / 3)
            ? nearest.Word
            : null;
    }

    /// <summary>The end of a sentence about a word that is not known: "; did you mean Kiln?", or just the full stop.</summary>
    public static string OrNearest(string text, IEnumerable<string> known) =>
        Nearest(text, known) is { } near ? $"; did you mean {near}?" : ".";

    /// <summary>Levenshtein's distance: letters to put in, take out or change.</summary>
    public static int Distance(string one, string other)
    {
        var row = Enumerable.Range(0, other.Length + 1).ToArray();
        for (var i = 1; i <= one.Length; i++)
        {
            var diagonal = row[0];
            row[0] = i;
            for (var j = 1; j <= other.Length; j++)
                (row[j], diagonal) = (
                    Math.Min(Math.Min(row[j] + 1, row[j - 1] + 1), diagonal + (one[i - 1] == other[j - 1] ? 0 : 1)),
                    row[j]
                );
        }
        return row[^1];
    }

    private static string Printable(char c) => char.IsControl(c) ? $"U+{(int)c:X4}" : c.ToString();
}
