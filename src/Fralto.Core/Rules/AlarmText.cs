using System.Text.RegularExpressions;

namespace Fralto.Core.Rules;

/// <summary>What an alarm says: a text with placeholders, and what is captured beside it.</summary>
public static partial class AlarmText
{
    /// <summary>The placeholders that are always known; others are codes of properties.</summary>
    public static IReadOnlyList<string> Known { get; } = ["path", "place", "property", "value", "unit", "setpoint", "limit"];

    /// <summary>The names that stand in braces.</summary>
    public static IEnumerable<string> PlaceholdersOf(string text) => Placeholder().Matches(text).Select(m => m.Groups[1].Value.Trim());

    /// <summary>The text with each placeholder filled in; one that names nothing stays as it is.</summary>
    /// <param name="text">The text.</param>
    /// <param name="valueOf">What stands for a name; null for one that is not known.</param>
    public static string Fill(string text, Func<string, string?> valueOf) =>
        Placeholder().Replace(text, m => valueOf(m.Groups[1].Value.Trim()) ?? m.Value);

    /// <summary>What is captured: a fixed text under a name, or a property.</summary>
    /// <param name="lines">A line each: name = value, name = {property}, or a property alone.</param>
    /// <returns>The name, and either the fixed text or the property.</returns>
    public static IEnumerable<(string Name, string? Text, string? Property)> CapturesOf(string lines)
    {
        foreach (var line in lines.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            if (line.Split('=', 2, StringSplitOptions.TrimEntries) is not [var name, var value])
                yield return (line, null, line);
            else if (Placeholder().Match(value) is { Success: true } match && match.Length == value.Length)
                yield return (name, null, match.Groups[1].Value.Trim());
            else
                yield return (name, value, null);
    }

    [GeneratedRegex(@"\{([^{}]{1,200})\}", RegexOptions.NonBacktracking)]
    private static partial Regex Placeholder();
}
