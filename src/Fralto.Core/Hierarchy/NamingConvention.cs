using Fralto.Core.Basics;

namespace Fralto.Core.Hierarchy;

/// <summary>How codes or names of a level, or of the instances of a template and what inherits from it, are written in this
/// plant.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Level">The level; null where it is of a template.</param>
/// <param name="TemplateId">The template; null where it is of a level.</param>
/// <param name="IsOfNames">True where names are written so, false where codes are.</param>
/// <param name="Text">The pattern: # is a digit, ? a letter, * anything or nothing; every other sign is itself, in this case.</param>
public sealed record NamingConvention(long Id, EquipmentLevel? Level, long? TemplateId, bool IsOfNames, string Text) : Entity(Id)
{
    /// <summary>What is wrong with a pattern; null when it is fine.</summary>
    /// <param name="isOfNames">True for one of names.</param>
    /// <param name="text">The pattern.</param>
    public static string? Problem(bool isOfNames, string text)
    {
        var longest = isOfNames ? Naming.LongestName : Naming.LongestCode;
        return text.Length == 0 ? "Write a pattern: K# for a K and a digit."
            : text.Length > longest ? $"The pattern has {text.Length} characters; {longest} is the most."
            : isOfNames
                ? text.Any(char.IsControl) || text != text.Trim()
                        ? "A pattern of names neither begins nor ends with a blank, and is one line."
                    : null
            : text.FirstOrDefault(c => !char.IsAsciiLetterOrDigit(c) && !"_-#?*".Contains(c, StringComparison.Ordinal))
                is var wrong
                    and not '\0'
                ? $"No code holds '{wrong}'. A pattern has letters, digits, _ and -, # for a digit, ? for a letter, * for anything."
            : null;
    }

    /// <summary>True when a code or name is written so.</summary>
    public bool Fits(string said)
    {
        // A star takes as little as it can, and more when what follows does not fit.
        var (at, of, star, from) = (0, 0, -1, 0);
        while (at < said.Length)
        {
            if (of < Text.Length && Text[of] == '*')
                (star, from, of) = (of, at, of + 1);
            else if (of < Text.Length && Takes(Text[of], said[at]))
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
            '?' => char.IsLetter(letter),
            _ => sign == letter,
        };
}
