using System.Text.RegularExpressions;

namespace Fralto.Core.Formulas;

/// <summary>Windows of several lengths that are said at once: <c>mean of Level last 15 min, 1 h and 1 d</c> is three formulas.</summary>
public static partial class WindowSet
{
    /// <summary>The formulas a text stands for, each with the length of its window; empty when it names one length or none.</summary>
    /// <param name="text">The text.</param>
    public static IReadOnlyList<(string Length, string Formula)> Of(string text)
    {
        if (text.Length > Formula.Longest || Lengths().Match(text) is not { Success: true } match)
            return [];
        var (before, after) = (text[..match.Index], text[(match.Index + match.Length)..]);
        // What is said of other windows is said once.
        if (Lengths().IsMatch(after))
            return [];
        return
        [
            .. Length()
                .Matches(match.Value)
                .Select(l => Blank().Replace(l.Value, " "))
                .Distinct(StringComparer.Ordinal)
                .Select(l => (l, $"{before}last {l}{after}")),
        ];
    }

    [GeneratedRegex(@"\blast\s+\d+(\.\d+)?\s*(s|min|h|d)\b(\s*(,|and)\s*\d+(\.\d+)?\s*(s|min|h|d)\b)+", RegexOptions.NonBacktracking)]
    private static partial Regex Lengths();

    [GeneratedRegex(@"\d+(\.\d+)?\s*(s|min|h|d)\b", RegexOptions.NonBacktracking)]
    private static partial Regex Length();

    [GeneratedRegex(@"\s+", RegexOptions.NonBacktracking)]
    private static partial Regex Blank();
}
