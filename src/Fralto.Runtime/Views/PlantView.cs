using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Runtime.Views;

/// <summary>The plant as level columns, down to one node, and what is said of that node.</summary>
public sealed class PlantView
{
    /// <summary>Most nodes one column shows.</summary>
    public const int LongestColumn = 500;

    private const int MostPlaces = 500;
    private const int MostSelected = 300;
    private const int LeastUrgent = 4;

    private readonly PlantModel _model;
    private readonly EngineSnapshot _snapshot;
    private readonly EngineSnapshot _running;
    private readonly Lazy<Dictionary<long, (int Worst, int Count)>> _alarms;

    private PlantView(PlantModel model, EngineSnapshot snapshot, EngineSnapshot running)
    {
        (_model, _snapshot, _running) = (model, snapshot, running);
        _alarms = new(FindAlarms);
    }

    /// <summary>The selected node; null when it is no longer there, or none is meant.</summary>
    public Equipment? Selected { get; private init; }

    /// <summary>All selected nodes, the first one first.</summary>
    public IReadOnlyList<Equipment> Many { get; private init; } = [];

    /// <summary>From the enterprise down to the selected node.</summary>
    public IReadOnlyList<Equipment> Lineage { get; private init; } = [];

    /// <summary>One column for each level that is open: its heading, its nodes, and which of them is open.</summary>
    public IReadOnlyList<PlantColumn> Columns { get; private init; } = [];

    /// <summary>The open property as the selected instance has it; null when none is open.</summary>
    public ResolvedProperty? OpenProperty { get; private init; }

    /// <summary>What the template says of the open property.</summary>
    public PropertyPatch Inherited =>
        Selected is { TemplateId: { } template } && OpenProperty is { } open
            ? _model.Index.PropertiesOf(template).First(p => p.Id == open.Id).Facts
            : PropertyPatch.Empty;

    /// <summary>The siblings that are instances of the same template; what "edit alike" selects with the node.</summary>
    public IReadOnlyList<Equipment> Alike =>
        Selected is not { TemplateId: { } template } node
            ? []
            : [.. _model.Index.ChildrenOf(node.ParentId).Where(e => e.TemplateId == template && e.Id != node.Id).Take(MostSelected - 1)];

    /// <summary>What the selected instance lacks of its parts, as an edit that would add it; null when it lacks nothing.</summary>
    public EditOutcome? MissingParts =>
        Selected is { TemplateId: not null } node
        && new AddParts([node.Id]).On(_model) is { IsRefused: false, Changes.IsEmpty: false } missing
            ? missing
            : null;

    /// <summary>What the planner says about the selected node.</summary>
    public IEnumerable<Finding> Findings =>
        Selected is null ? [] : _snapshot.Findings.Of(Selected.Id).Concat(FormulaFindings.Of(_model, _snapshot, Selected));

    /// <summary>Paths to choose from for a place to move or copy to.</summary>
    public IEnumerable<string> PlacePaths =>
        _model.Index.EquipmentInOrder.Where(e => e.TemplateId is null).Take(MostPlaces).Select(e => _model.Index.PathOf(e.Id));

    /// <summary>Path of what the selected node lies below; empty at the top.</summary>
    public string PathAbove => Selected?.ParentId is { } parent ? _model.Index.PathOf(parent) : "";

    /// <summary>Levels a node added below the selected one may have.</summary>
    public IReadOnlyList<EquipmentLevel> LevelsBelow => [.. LevelRules.AllowedBelow(Selected?.Level)];

    /// <summary>The level a node added below the selected one begins with: that of the last one below it, else the one chosen last where it
    /// may stand here, else the highest.</summary>
    public EquipmentLevel? LevelToBegin =>
        Selected is { } at && _model.Index.ChildrenOf(at.Id).LastOrDefault() is { PartId: null } last ? last.Level
        : _model.Equipment.Values.Where(e => e.PartId is null).MaxBy(e => e.Id) is { } newest && LevelsBelow.Contains(newest.Level)
            ? newest.Level
        : LevelsBelow.Cast<EquipmentLevel?>().FirstOrDefault();

    /// <summary>Levels the selected node itself may have.</summary>
    public IReadOnlyList<EquipmentLevel> LevelsHere =>
        [.. LevelRules.AllowedBelow(Selected?.ParentId is { } parent ? _model.Equipment[parent].Level : null)];

    /// <summary>True for a node selected with the first.</summary>
    /// <param name="id">The node.</param>
    public bool IsAlso(long id) => Many.Count > 1 && Many.Any(e => e.Id == id);

    /// <summary>Bound and all measured properties of a node and everything below it.</summary>
    /// <param name="id">The node.</param>
    public (int Bound, int All) BoundBelow(long id) => _model.Index.TaggedBelow(id);

    /// <summary>Most urgent priority among active alarms of a node and everything below it, 0 for none, and how many there
    /// are.</summary>
    /// <param name="id">The node.</param>
    public (int Worst, int Count) AlarmsBelow(long id) => _alarms.Value.GetValueOrDefault(id);

    /// <summary>Looks at the plant.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="at">The node asked for; null for the first at the top.</param>
    /// <param name="with">Further nodes selected with it, as ids with commas between them; what is none is left out.</param>
    /// <param name="property">The property asked for.</param>
    /// <param name="isNew">True while a node is being added: at the top when none is asked for.</param>
    /// <param name="running">How what runs stands, for its alarms; null when it is the same.</param>
    public static PlantView Of(
        PlantModel model,
        EngineSnapshot snapshot,
        long? at,
        string? with,
        long? property,
        bool isNew,
        EngineSnapshot? running = null
    )
    {
        var selected =
            at is { } id ? model.Equipment.GetValueOrDefault(id)
            : isNew ? null
            : model.Index.ChildrenOf(null).FirstOrDefault();
        var lineage = selected is null ? [] : model.Index.LineageOf(selected.Id);
        return new(model, snapshot, running ?? snapshot)
        {
            Selected = selected,
            Many = selected is null ? [] : [.. ManyOf(model, selected, with ?? "")],
            Lineage = lineage,
            Columns = [.. ColumnsOf(model, lineage)],
            OpenProperty =
                selected is null || property is null
                    ? null
                    : model.Index.PropertiesOf(selected).FirstOrDefault(p => p.Id == property && p.Declaration.Kind != PropertyKind.Fixed),
        };
    }

    private static IEnumerable<Equipment> ManyOf(PlantModel model, Equipment first, string with) =>
        with.Split(',')
            .Select(t =>
                long.TryParse(t, NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? model.Equipment.GetValueOrDefault(id) : null
            )
            .OfType<Equipment>()
            .Prepend(first)
            .DistinctBy(e => e.Id)
            .Take(MostSelected);

    private static IEnumerable<PlantColumn> ColumnsOf(PlantModel model, IReadOnlyList<Equipment> lineage)
    {
        var enterprises = model.Index.ChildrenOf(null).ToArray();
        // A single enterprise stands in the path above; a column of one would only take room.
        if (enterprises.Length > 1)
            yield return ColumnOf(enterprises, lineage.Count > 0 ? lineage[0].Id : null);
        for (var i = 0; i < lineage.Count; i++)
        {
            var children = model.Index.ChildrenOf(lineage[i].Id).ToArray();
            if (children.Length > 0)
                yield return ColumnOf(children, i + 1 < lineage.Count ? lineage[i + 1].Id : null);
        }
    }

    private static PlantColumn ColumnOf(Equipment[] nodes, long? open)
    {
        var ranks = nodes.Select(n => LevelRules.RankOf(n.Level)).Distinct().ToArray();
        var shown = nodes.Take(LongestColumn).ToList();
        if (open is { } id && shown.All(n => n.Id != id))
            shown.Insert(0, nodes.First(n => n.Id == id));
        return new(ranks.Length == 1 ? LevelRules.NameOf(ranks[0]) : "Below", (int)ranks.Min(), shown, nodes.Length, open);
    }

    private Dictionary<long, (int Worst, int Count)> FindAlarms()
    {
        var found = new Dictionary<long, (int Worst, int Count)>();
        foreach (var alarm in _running.Alarms.Where(a => a.IsActive))
        {
            var priority = _running.Find(alarm.Key.EquipmentId, alarm.Key.PropertyId)?.Point.LimitOf(alarm.Key.Condition)?.Priority
                ?? LeastUrgent;
            for (long? id = alarm.Key.EquipmentId; id is { } at && _model.Equipment.TryGetValue(at, out var node); id = node.ParentId)
                found[at] = found.TryGetValue(at, out var before) ? (Math.Min(before.Worst, priority), before.Count + 1) : (priority, 1);
        }
        return found;
    }
}
