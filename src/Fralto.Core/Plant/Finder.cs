namespace Fralto.Core.Plant;

/// <summary>Finds equipment, templates, properties and tags by any part of name, code, path or description.</summary>
public static class Finder
{
    /// <summary>Longest text looked for, in characters.</summary>
    public const int LongestText = 100;

    /// <summary>What matches every word of a text, the closest first: the whole name or code, then its beginning, then any part.</summary>
    /// <param name="model">Where to look.</param>
    /// <param name="text">Words in any order and case; nothing is found for none.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<Found> Find(PlantModel model, string text, int most)
    {
        var words = (text.Length > LongestText ? text[..LongestText] : text).Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0) return [];
        return [.. Candidates(model, words)
            .Select(c => (c.Found, Rank: Rank(c.Found.Name, c.Code, string.Join(' ', words))))
            .OrderBy(c => c.Rank).ThenBy(c => c.Found.Kind).ThenBy(c => c.Found.Name.Length).ThenBy(c => c.Found.Name, StringComparer.OrdinalIgnoreCase)
            .Take(most).Select(c => c.Found)];
    }

    private static IEnumerable<(Found Found, string Code)> Candidates(PlantModel model, string[] words)
    {
        foreach (var e in model.Index.EquipmentInOrder)
        {
            var path = model.Index.PathOf(e.Id);
            if (Match(words, e.Name, path, "")) yield return (new(FoundKind.Equipment, e.Id, 0, e.Name, path), e.Code);
        }
        foreach (var t in model.Templates.Values)
        {
            if (Match(words, t.Name, t.Code, t.Description)) yield return (new(FoundKind.Template, t.Id, 0, t.Name, t.Description), t.Code);
            foreach (var p in t.Properties)
                if (Match(words, p.Name, p.Code, t.Name)) yield return (new(FoundKind.Property, p.Id, t.Id, p.Name, t.Name), p.Code);
        }
        foreach (var t in model.Tags.Values)
        {
            var controller = model.Controllers[t.ControllerId].Name;
            if (Match(words, t.Name, controller, t.Description)) yield return (new(FoundKind.Tag, t.Id, t.ControllerId, t.Name, $"{controller} {t.Address}"), t.Name);
        }
    }

    private static bool Match(string[] words, string name, string second, string third)
    {
        foreach (var word in words)
            if (!Holds(name, word) && !Holds(second, word) && !Holds(third, word)) return false;
        return true;
    }

    private static bool Holds(string text, string word) => text.Contains(word, StringComparison.OrdinalIgnoreCase);

    private static int Rank(string name, string code, string text)
    {
        const StringComparison Any = StringComparison.OrdinalIgnoreCase;
        if (name.Equals(text, Any) || code.Equals(text, Any)) return 0;
        if (name.StartsWith(text, Any) || code.StartsWith(text, Any)) return 1;
        return name.Contains(text, Any) ? 2 : 3;
    }
}
