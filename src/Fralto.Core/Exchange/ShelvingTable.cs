using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>The rules of shelving as a table, a row each.</summary>
internal sealed class ShelvingTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } = ["shelvingRule", "longestMinutes", "presetMinutes"];

    /// <inheritdoc/>
    protected override int Keys => 1;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) => model.AlarmSetups.Values.SelectMany(s => s.Rules.Select(RowOf));

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells) =>
        model.AlarmSetups.Values.SelectMany(s => s.Rules).FirstOrDefault(r => r.Name == cells["shelvingRule"]) is { } rule
            ? RowOf(rule)
            : null;

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        if (cells.Double("longestMinutes") is not (> 0 and < 1e6 and var longest))
        {
            cells.Refuse("longestMinutes", "Give the longest time in minutes.");
            return null;
        }
        var presets = new List<TimeSpan>();
        foreach (var text in cells["presetMinutes"].Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var minutes) && minutes is > 0 and < 1e6)
                presets.Add(TimeSpan.FromMinutes(minutes));
            else
                cells.Refuse("presetMinutes", $"'{text}' is no number of minutes; write them with blanks between: 15 60 480.");
        if (presets.Count == 0)
            presets.Add(TimeSpan.FromMinutes(longest));
        var before = model.AlarmSetups.Values.FirstOrDefault()?.Rules ?? [];
        var rule = new ShelvingRule(cells["shelvingRule"], TimeSpan.FromMinutes(longest), [.. presets]);
        var at = before.Select((r, i) => (r.Name, i)).Where(r => r.Name == rule.Name).Select(r => r.i).DefaultIfEmpty(-1).First();
        return new SaveShelvingRules(at < 0 ? before.Add(rule) : before.SetItem(at, rule));
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) => field == "Rules" ? "longestMinutes" : base.ColumnOf(field);

    private static string[] RowOf(ShelvingRule rule) =>
        [
            rule.Name,
            rule.Longest.TotalMinutes.ToString("R", CultureInfo.InvariantCulture),
            string.Join(' ', rule.Presets.Select(p => p.TotalMinutes.ToString("R", CultureInfo.InvariantCulture))),
        ];
}
