using Fralto.Core.Basics;

namespace Fralto.Core.Hierarchy;

/// <summary>How codes of a level, or of the instances of a template and what inherits from it, are written in this plant.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Level">The level; null where it is of a template.</param>
/// <param name="TemplateId">The template; null where it is of a level.</param>
/// <param name="Text">The pattern: # is a digit, ? a letter, * anything or nothing; every other sign is itself, in this case.</param>
public sealed record CodePattern(long Id, EquipmentLevel? Level, long? TemplateId, string Text) : Entity(Id)
{
    /// <summary>Longest pattern, in characters.</summary>
    public const int Longest = Naming.LongestCode;

    /// <summary>What is wrong with a pattern; null when it is fine.</summary>
    public static string? Problem(string text) =>
        text.Length == 0 ? "Write a pattern: K# for a K and a digit."
        : text.Length > Longest ? $"The pattern has {text.Length} characters; {Longest} is the most."
        : text.FirstOrDefault(c => !char.IsAsciiLetterOrDigit(c) && !"_-#?*".Contains(c, StringComparison.Ordinal))
            is var wrong
                and not '\0'
            ? $"No code holds '{wrong}'. A pattern has letters, digits, _ and -, # for a digit, ? for a letter, * for anything."
        : null;

    /// <summary>True when a code is written so.</summary>
    public bool Fits(string code)
    {
        // A star takes as little as it can, and more when what follows does not fit.
        var (at, of, star, from) = (0, 0, -1, 0);
        while (at < code.Length)
        {
            if (of < Text.Length && Text[of] == '*')
                (star, from, of) = (of, at, of + 1);
            else if (of < Text.Length && Takes(Text[of], code[at]))
                (at, of) = (at + 1, of + 1);
            else if (star >= 0)
                (of, at) = (star + 1, ++from);
            else
                return false;
        }
        return Text.AsSpan(of).TrimStart('*').IsEmpty;
    }

    private static bool Takes(char sign, char letter) =>
        sign switch
        {
            '#' => char.IsAsciiDigit(letter),
            '?' => char.IsAsciiLetter(letter),
            _ => sign == letter,
        };
}
