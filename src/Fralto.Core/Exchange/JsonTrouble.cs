using System.Globalization;
using System.Text.Json;
using System.Text.RegularExpressions;

namespace Fralto.Core.Exchange;

/// <summary>What is wrong with JSON, in words of who wrote it and not of the program that reads it.</summary>
public static partial class JsonTrouble
{
    private const int MostNames = 20;

    /// <summary>The line, what is wrong there, and for one of some words which there are.</summary>
    /// <param name="trouble">What the reader says.</param>
    public static string Words(JsonException trouble)
    {
        var said = trouble.Message.Split(" Path: ")[0].Split(" LineNumber: ")[0].Split('\n')[0];
        if (Unread().Match(said) is { Success: true } unread)
            said = $"The value is not one that can stand here{Expected(unread.Groups["type"].Value)}.";
        return string.Create(CultureInfo.InvariantCulture, $"Line {(trouble.LineNumber ?? 0) + 1}: {said}");
    }

    private static string Expected(string type)
    {
        var name = Inner().Match(type) is { Success: true } inner ? inner.Groups["type"].Value : type;
        if (typeof(JsonTrouble).Assembly.GetType(name) is { IsEnum: true } words)
            return Enum.GetNames(words) is { Length: <= MostNames } names
                ? $"; write {string.Join(", ", names)}"
                : "; it is one of some words";
        return name switch
        {
            "System.Boolean" => "; write true or false",
            "System.String" => "; write a text, in quotation marks",
            "System.Int32" or "System.Int64" => "; write a whole number",
            "System.Double" or "System.Decimal" => "; write a number",
            _ when type.EndsWith("[]", StringComparison.Ordinal) || type.Contains("List`1", StringComparison.Ordinal) =>
                "; write a list, in square brackets",
            _ => "",
        };
    }

    // The messages of System.Text.Json, as they were seen.
    [GeneratedRegex(@"^The JSON value could not be converted to (?<type>.+)\.$")]
    private static partial Regex Unread();

    [GeneratedRegex(@"^System\.Nullable`1\[(?<type>[^\]]+)\]$")]
    private static partial Regex Inner();
}
