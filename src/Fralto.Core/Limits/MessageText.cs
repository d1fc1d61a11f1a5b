namespace Fralto.Core.Limits;

/// <summary>Messages of alarms in several languages.</summary>
public static class MessageText
{
    /// <summary>What a message says in other languages: the language and the text.</summary>
    /// <param name="lines">A line each: de = text.</param>
    public static IEnumerable<(string Language, string Text)> TranslationsOf(string lines)
    {
        foreach (var line in lines.Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            yield return line.Split('=', 2, StringSplitOptions.TrimEntries) is [var language, var text] ? (language, text) : (line, "");
    }

    /// <summary>A message in a language: the message itself where there is no translation.</summary>
    /// <param name="message">The message.</param>
    /// <param name="translations">Its translations, a line each.</param>
    /// <param name="language">The language; null for that of the message.</param>
    public static string In(string message, string translations, string? language) =>
        language is null || translations.Length == 0
            ? message
            : TranslationsOf(translations)
                .Where(t => t.Language.Equals(language, StringComparison.OrdinalIgnoreCase))
                .Select(t => t.Text)
                .FirstOrDefault()
                ?? message;
}
