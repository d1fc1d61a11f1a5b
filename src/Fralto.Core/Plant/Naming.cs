using System.Text;

namespace Fralto.Core.Plant;

/// <summary>The rules for codes and names, the same everywhere.</summary>
public static class Naming
{
    /// <summary>Longest code, in characters.</summary>
    public const int LongestCode = 40;

    /// <summary>Longest name, in characters.</summary>
    public const int LongestName = 100;

    private const string Accented = "ÀÁÂÃÄÅÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØÙÚÛÜÝàáâãäåçèéêëìíîïñòóôõöøùúûüýÿß";
    private const string Plain = "AAAAAACEEEEIIIINOOOOOOUUUUYaaaaaaceeeeiiiinoooooouuuuyys";

    /// <summary>What is wrong with a code; null when it is fine.</summary>
    public static string? CodeProblem(string? code)
    {
        if (string.IsNullOrEmpty(code)) return "Give a code: it stands in paths.";
        if (code.Length > LongestCode) return $"The code has {code.Length} characters; {LongestCode} is the most.";
        if (!char.IsAsciiLetter(code[0])) return "A code starts with a letter, A to Z.";
        var wrong = code.FirstOrDefault(c => !(char.IsAsciiLetterOrDigit(c) || c is '_' or '-'));
        return wrong == default ? null : $"A code has letters, digits, _ and - only, not '{Printable(wrong)}'. '{Suggest(code)}' would do.";
    }

    /// <summary>What is wrong with a name; null when it is fine.</summary>
    public static string? NameProblem(string? name)
    {
        if (string.IsNullOrWhiteSpace(name)) return "Give a name.";
        if (name.Length > LongestName) return $"The name has {name.Length} characters; {LongestName} is the most.";
        if (name.Any(char.IsControl)) return "The name holds a line break or another control character.";
        if (name.AsSpan().IndexOfAny('<', '>') >= 0) return "A name cannot hold < or >.";
        return name != name.Trim() ? "The name starts or ends with a space." : null;
    }

    /// <summary>A legal code made from any text: "Kiln house 2" becomes "Kiln-house-2".</summary>
    public static string Suggest(string text)
    {
        var code = new StringBuilder();
        foreach (var c in text)
        {
            var accent = Accented.IndexOf(c, StringComparison.Ordinal);
            if (char.IsAsciiLetterOrDigit(c) || c is '_') code.Append(c);
            else if (accent >= 0) code.Append(Plain[accent]);
            else if (code.Length > 0 && code[^1] != '-') code.Append('-');
        }
        var clean = code.ToString().Trim('-');
        if (clean.Length == 0 || !char.IsAsciiLetter(clean[0])) clean = "X" + clean;
        return clean.Length > LongestCode ? clean[..LongestCode] : clean;
    }

    private static string Printable(char c) => char.IsControl(c) ? $"U+{(int)c:X4}" : c.ToString();
}
