using System.Text.Json;
using Fralto.Store;

namespace Fralto.Runtime.Recording;

/// <summary>The trends that are kept under a name, beside the running plant.</summary>
public sealed class SavedTrends(RunStore store)
{
    private const string Note = "trends";
    private const int Most = 500;
    private const int LongestName = 80;
    private const int LongestQuery = 4000;
    private readonly Lock _lock = new();

    /// <summary>All of them, by name.</summary>
    public IReadOnlyList<SavedTrend> All
    {
        get
        {
            try
            {
                return store.Note(Note) is { } text ? JsonSerializer.Deserialize<SavedTrend[]>(text) ?? [] : [];
            }
            catch (JsonException)
            {
                return [];
            }
        }
    }

    /// <summary>Keeps one, in the place of what had its name with the same template.</summary>
    /// <returns>Why it was not kept; null when it was.</returns>
    /// <exception cref="StoreException">It could not be kept.</exception>
    public string? Keep(SavedTrend trend)
    {
        if (trend.Name.Length is 0 or > LongestName || trend.Name.Any(char.IsControl))
            return $"A name has 1 to {LongestName} characters.";
        if (trend.Query.Length > LongestQuery)
            return "It shows too many lines to be kept.";
        lock (_lock)
        {
            var others = All.Where(t => (t.Name, t.TemplateId, t.PlaceId) != (trend.Name, trend.TemplateId, trend.PlaceId)).ToArray();
            if (others.Length >= Most)
                return $"{Most} are kept; take one out first.";
            store.SetNote(Note, JsonSerializer.Serialize(others.Append(trend).OrderBy(t => t.Name, StringComparer.OrdinalIgnoreCase)));
        }
        return null;
    }

    /// <summary>Takes one out.</summary>
    /// <exception cref="StoreException">It could not be.</exception>
    public void TakeOut(string name, long? templateId, long? placeId)
    {
        lock (_lock)
            store.SetNote(Note, JsonSerializer.Serialize(All.Where(t => (t.Name, t.TemplateId, t.PlaceId) != (name, templateId, placeId))));
    }
}
