using System.Collections.Immutable;
using Fralto.Core.Diagnosis;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.Store;

namespace Fralto.Runtime.Views;

/// <summary>Findings and changes, at a place or everywhere.</summary>
/// <param name="Before">The earlier model.</param>
/// <param name="After">The later model.</param>
/// <param name="Rows">All changes between them.</param>
/// <param name="Found">All findings of the working model that nobody accepts.</param>
/// <param name="At">The place they are chosen by; null for everywhere.</param>
/// <param name="Who">The person changes are chosen by; null for everybody.</param>
public sealed record ReviewView(
    PlantModel Before,
    PlantModel After,
    IReadOnlyList<ReviewChange> Rows,
    IReadOnlyList<ModelFinding> Found,
    string? At,
    string? Who
)
{
    private const string OfTemplates = "templates";
    private const string OfControllers = "controllers";
    private const string OfShared = "shared";

    private readonly Dictionary<long, string> _areas = [];
    private IReadOnlyList<ModelFinding>? _shownFindings;

    /// <summary>What somebody accepts, and still holds.</summary>
    public IReadOnlyList<AcceptedFinding> Accepted { get; init; } = [];

    /// <summary>The changes at the place, those of the person where one is chosen.</summary>
    public IReadOnlyList<ReviewChange> Shown =>
        At is null && Who is null ? Rows : [.. Rows.Where(r => (At is null || KeyOf(r) == At) && (Who is null || r.Who == Who))];

    /// <summary>The findings at the place.</summary>
    public IReadOnlyList<ModelFinding> ShownFindings => _shownFindings ??= At is null ? Found : [.. Found.Where(f => KeyOf(f) == At)];

    /// <summary>What is chosen by: key, name, how many findings and changes.</summary>
    public IReadOnlyList<(string Key, string Name, int Count)> Places =>
        [
            .. Rows.Select(KeyOf)
                .Concat(Found.Select(KeyOf))
                .GroupBy(k => k)
                .Select(g => (g.Key, NameOf(g.Key), g.Count()))
                .OrderBy(p => p.Key is OfTemplates or OfControllers or OfShared)
                .ThenBy(p =>
                    long.TryParse(p.Key, out var id) && After.Equipment.ContainsKey(id) ? After.Index.RangeOf(id)!.Value.From : int.MaxValue
                )
                .ThenBy(p => p.Key, StringComparer.Ordinal),
        ];

    /// <summary>Who has made the changes at the place, and how many each; whoever made most first.</summary>
    public IReadOnlyList<(string Who, int Count)> People =>
        [
            .. Rows.Where(r => r.Who.Length > 0 && (At is null || KeyOf(r) == At))
                .GroupBy(r => r.Who, StringComparer.Ordinal)
                .Select(g => (g.Key, g.Count()))
                .OrderByDescending(p => p.Item2)
                .ThenBy(p => p.Key, StringComparer.Ordinal),
        ];

    /// <summary>The findings of a severity at the place.</summary>
    public IReadOnlyList<ModelFinding> Of(FindingSeverity severity) => [.. ShownFindings.Where(f => f.Finding.Severity == severity)];

    /// <summary>The findings that somebody has accepted are left out, for as long as that holds.</summary>
    /// <param name="found">All findings.</param>
    /// <param name="accepted">What is accepted.</param>
    /// <param name="now">The time.</param>
    public static IReadOnlyList<ModelFinding> Open(
        IReadOnlyList<ModelFinding> found,
        IReadOnlyList<AcceptedFinding> accepted,
        DateTimeOffset now
    )
    {
        if (accepted.Count == 0)
            return found;
        var keys = accepted.Where(a => a.Until is null || a.Until > now).Select(a => a.Key).ToHashSet(StringComparer.Ordinal);
        return [.. found.Where(f => f.Finding.Severity == FindingSeverity.Error || !keys.Contains(f.Key))];
    }

    private string KeyOf(ReviewChange row) =>
        row.Of == EntityKinds.Template ? OfTemplates
        : row.Of == EntityKinds.Equipment ? AreaOf(row.Id)
        : row.Of == EntityKinds.Controller ? OfControllers
        : OfShared;

    private string KeyOf(ModelFinding row) =>
        row.Kind is null ? OfControllers
        : row.Kind == EntityKinds.Equipment ? AreaOf(row.Id)
        : row.Kind == EntityKinds.Template ? OfTemplates
        : OfShared;

    /// <summary>The area a node stands in: the third level from the top, or the last there is. Asked of each row, worked out of each node
    /// once.</summary>
    private string AreaOf(long id)
    {
        if (_areas.TryGetValue(id, out var known))
            return known;
        var model = After.Equipment.ContainsKey(id) ? After : Before;
        if (!model.Equipment.ContainsKey(id))
            return _areas[id] = OfShared;
        ImmutableArray<Equipment> lineage = [.. model.Index.LineageOf(id)];
        return _areas[id] = $"{lineage[Math.Min(2, lineage.Length - 1)].Id}";
    }

    private string NameOf(string key) =>
        key switch
        {
            OfTemplates => "templates",
            OfControllers => "controllers",
            OfShared => "shared by all",
            _ when long.TryParse(key, out var id) => (After.Equipment.GetValueOrDefault(id) ?? Before.Equipment.GetValueOrDefault(id))?.Name
                ?? key,
            _ => key,
        };
}
