using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>Fixed values as a table: an instance in each row, the fixed properties of all templates as columns by their codes.</summary>
internal static class ValueTable
{
    private const string Path = "path";

    public static Table Of(PlantModel model)
    {
        var codes = model
            .Templates.Keys.SelectMany(id => model.Index.PropertiesOf(id))
            .Where(IsFixed)
            .Select(p => p.Code)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .Order(StringComparer.Ordinal)
            .ToArray();
        var rows = model
            .Index.EquipmentInOrder.Where(e => e.TemplateId is { } t && model.Index.PropertiesOf(t).Any(IsFixed))
            .Select(e =>
            {
                var values = model
                    .Index.PropertiesOf(e)
                    .Where(IsFixed)
                    .ToDictionary(p => p.Code, p => p.Facts.Value ?? "", StringComparer.OrdinalIgnoreCase);
                return codes.Select(c => values.GetValueOrDefault(c, "")).Prepend(model.Index.PathOf(e.Id)).ToArray();
            });
        return new([Path, .. codes], [.. rows]);
    }

    /// <summary>A cell equal to the value in force changes nothing; an empty one goes back to the template; any other is set at the
    /// instance.</summary>
    public static ImportResult Import(PlantModel model, Table table)
    {
        var lines = new List<ImportLine>();
        var changes = new List<ModelChange>();
        var rows = new Dictionary<long, int>();
        var known = model
            .Templates.Values.SelectMany(t => t.Properties)
            .Where(p => p.Kind == PropertyKind.Fixed)
            .Select(p => p.Code)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (
            var column in table.Columns.Where(c =>
                c.Length > 0 && !c.Equals(Path, StringComparison.OrdinalIgnoreCase) && !known.Contains(c)
            )
        )
            lines.Add(
                new(
                    1,
                    ImportOutcome.Refused,
                    "",
                    column,
                    "",
                    "",
                    $"No template has a fixed property with the code {column}{Naming.OrNearest(column, known)}"
                )
            );
        var nodes = model.Index.EquipmentInOrder.ToDictionary(e => model.Index.PathOf(e.Id), StringComparer.OrdinalIgnoreCase);
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var (number, path) = (table.NumberOf(row), table.Cell(row, table.IndexOf(Path)).Trim('/'));
            void Refuse(string column, string text, string reason) =>
                lines.Add(new(number, ImportOutcome.Refused, path, column, "", text, reason));
            if (!nodes.TryGetValue(path, out var node))
                Refuse(Path, path, path.Length == 0 ? "Give the path of the instance." : $"Nothing has the path {path}.");
            else if (!rows.TryAdd(node.Id, number))
                Refuse(Path, path, $"Row {rows[node.Id]} has the same path.");
            else if (Read(model, table, row, node, lines, Refuse) is { } now && !now.Equals(node))
                changes.Add(new(node, now));
        }
        return new(lines, table.Rows.Count, lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : [.. changes]);
    }

    private static Equipment Read(
        PlantModel model,
        Table table,
        int row,
        Equipment node,
        List<ImportLine> lines,
        Action<string, string, string> refuse
    )
    {
        var now = node;
        var properties = model.Index.PropertiesOf(node);
        for (var column = 0; column < table.Columns.Length; column++)
        {
            var (code, text) = (table.Columns[column], table.Cell(row, column));
            if (code.Length == 0 || code.Equals(Path, StringComparison.OrdinalIgnoreCase))
                continue;
            var property = properties.FirstOrDefault(p => IsFixed(p) && p.Code.Equals(code, StringComparison.OrdinalIgnoreCase));
            if (property is null)
            {
                if (text.Length > 0)
                    refuse(code, text, $"{node.Name} has no fixed property {code}; leave the cell empty.");
                continue;
            }
            if (table.HasDecimalComma && property.Declaration.Type == PropertyType.Number)
                text = text.Replace(',', '.');
            if (property.Declaration.Type == PropertyType.Boolean)
                text = text.ToLower(CultureInfo.InvariantCulture);
            if (text == (property.Facts.Value ?? ""))
                continue;
            var own = text.Length == 0 ? property.Own.Without(PatchField.Value) : property.Own with { Value = text };
            var patched = own.IsEmpty ? now.Patches.Remove(property.Id) : now.Patches.SetItem(property.Id, own);
            var inherited = model.Index.PropertiesOf(node.TemplateId!.Value).First(p => p.Id == property.Id).Facts;
            var after = inherited.With(own);
            if (FactRules.Problems(model, property.Declaration, after).FirstOrDefault() is { } problem)
            {
                refuse(code, text, problem.Message);
                continue;
            }
            if ((after.Value ?? "") == (property.Facts.Value ?? ""))
                continue;
            now = now with { Patches = patched };
            lines.Add(
                new(
                    table.NumberOf(row),
                    ImportOutcome.Changed,
                    model.Index.PathOf(node.Id),
                    code,
                    property.Facts.Value ?? "",
                    after.Value ?? "",
                    Caution(model, property, after) ?? ""
                )
            );
        }
        return now;
    }

    /// <summary>What is odd about a value: it lies outside its range. A slip of the point is the usual reason.</summary>
    private static string? Caution(PlantModel model, ResolvedProperty property, PropertyPatch facts) =>
        property.Declaration.Type.IsNumeric()
        && model.RangeOf(facts) is { IsUsable: true } range
        && FieldText.Number(facts.Value ?? "", out _) is { } value
        && !range.Contains(value)
            ? string.Create(CultureInfo.InvariantCulture, $"outside its range, {range.Minimum} … {range.Maximum}")
            : null;

    private static bool IsFixed(ResolvedProperty property) => property.Declaration.Kind == PropertyKind.Fixed;
}
