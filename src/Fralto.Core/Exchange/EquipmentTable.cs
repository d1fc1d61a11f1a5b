using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Exchange;

/// <summary>Equipment as a table: path, name, level, template and labels of a node in each row.</summary>
internal static class EquipmentTable
{
    private static readonly ImmutableArray<string> Columns = ["path", "name", "level", "template", "labels"];

    public static Table Of(PlantModel model) =>
        new(
            Columns,
            [
                .. model.Index.EquipmentInOrder.Select(e =>
                    new[]
                    {
                        model.Index.PathOf(e.Id),
                        e.Name,
                        e.Level.ToString(),
                        e.TemplateId is { } template ? model.Templates[template].Code : "",
                        Labels.Text(e.Labels),
                    }
                ),
            ]
        );

    /// <summary>Adds what has a new path, changes what has a known one. A column that is not there leaves everything as it is.</summary>
    public static ImportResult Import(PlantModel model, Table table)
    {
        var import = new Importing(model, table);
        // A place may stand in the file after what lies below it.
        foreach (var row in Enumerable.Range(0, table.Rows.Count).OrderBy(r => import.Path(r).Count(c => c == '/')))
            import.Read(row);
        return import.Result;
    }

    private sealed class Importing(PlantModel model, Table table)
    {
        private readonly int _path = table.IndexOf("path");
        private readonly int _name = table.IndexOf("name");
        private readonly int _level = table.IndexOf("level");
        private readonly int _template = table.IndexOf("template");
        private readonly int _labels = table.IndexOf("labels");
        private readonly List<ImportLine> _lines = [];
        private readonly Dictionary<string, (Equipment? Before, Equipment Now)> _nodes = new(StringComparer.OrdinalIgnoreCase);
        private readonly Dictionary<string, Equipment> _known = model.Index.EquipmentInOrder.ToDictionary(
            e => model.Index.PathOf(e.Id),
            StringComparer.OrdinalIgnoreCase
        );
        private readonly Dictionary<string, long> _templates = model.Templates.Values.ToDictionary(
            t => t.Code,
            t => t.Id,
            StringComparer.OrdinalIgnoreCase
        );
        private readonly Dictionary<long, int> _orders = [];
        private readonly Dictionary<string, int> _rows = new(StringComparer.OrdinalIgnoreCase);
        private long _nextId = model.NextId;

        public ImportResult Result =>
            new(
                [.. _lines.OrderBy(l => l.Row)],
                table.Rows.Count,
                _lines.Any(l => l.Outcome == ImportOutcome.Refused)
                    ? []
                    : [.. _nodes.Values.Where(n => !n.Now.Equals(n.Before)).Select(n => new ModelChange(n.Before, n.Now))]
            );

        public string Path(int row) => table.Cell(row, _path).Trim('/');

        public void Read(int row)
        {
            var path = Path(row);
            if (path.Length == 0)
            {
                Refuse(row, "path", "", "Give the path: the codes from the enterprise down, joined by /.");
                return;
            }
            if (!_rows.TryAdd(path, row))
            {
                Refuse(row, "path", path, $"Row {table.NumberOf(_rows[path])} has the same path.");
                return;
            }
            if (Find(path) is { } node)
                Change(row, path, node);
            else
                Add(row, path);
        }

        private Equipment? Find(string path) => _nodes.TryGetValue(path, out var made) ? made.Now : _known.GetValueOrDefault(path);

        private void Add(int row, string path)
        {
            var slash = path.LastIndexOf('/');
            var above = slash < 0 ? null : Find(path[..slash]);
            if (slash >= 0 && above is null)
            {
                Refuse(row, "path", path, $"There is no {path[..slash]} for it to lie below; list that place too.");
                return;
            }
            var code = path[(slash + 1)..];
            var name = table.Cell(row, _name) is { Length: > 0 } given ? given : code;
            if (
                !ReadLevel(row, path, out var level)
                || !ReadTemplate(row, path, out var template)
                || !ReadLabels(row, path, out var labels)
            )
                return;
            if (level is null)
            {
                Refuse(row, "level", path, $"Give the level: {string.Join(", ", LevelRules.AllowedBelow(above?.Level))}.");
                return;
            }
            var order = _orders[above?.Id ?? 0] =
                _orders.TryGetValue(above?.Id ?? 0, out var last) ? last + 1
                : above is null || model.Equipment.ContainsKey(above.Id) ? model.Index.NextOrderBelow(above?.Id)
                : 1_000;
            var node = new Equipment(_nextId, code, name, level.Value, above?.Id, template, order) { Labels = labels ?? Labels.None };
            if (!Fits(row, path, node, above))
                return;
            // A template gives its parts; rows that describe them find them there.
            var paths = new Dictionary<long, string>();
            var whole = Instantiation.Of(model, node);
            if (Instantiation.PartMisfit(model, whole) is { } partMisfit)
            {
                Refuse(row, "level", path, partMisfit);
                return;
            }
            foreach (var made in whole)
            {
                paths[made.Id] = made.Id == node.Id ? path : $"{paths[made.ParentId!.Value]}/{made.Code}";
                _nodes[paths[made.Id]] = (null, made);
                _nextId = made.Id + 1;
            }
            _lines.Add(
                new(
                    table.NumberOf(row),
                    ImportOutcome.Added,
                    path,
                    "",
                    "",
                    $"{name}, {LevelRules.NameOf(level.Value)}{(template is { } id ? $", {model.Templates[id].Name}" : "")}"
                        + $"{(paths.Count > 1 ? $", {paths.Count - 1} parts" : "")}"
                )
            );
        }

        private void Change(int row, string path, Equipment node)
        {
            if (
                !ReadLevel(row, path, out var level)
                || !ReadTemplate(row, path, out var template)
                || !ReadLabels(row, path, out var labels)
            )
                return;
            if (_template >= 0 && template != node.TemplateId)
            {
                Refuse(
                    row,
                    "template",
                    path,
                    $"It is {(node.TemplateId is { } its ? $"an instance of {model.Templates[its].Code}" : "a place without a template")}; "
                        + $"an instance keeps its template. Take it out and add it anew."
                );
                return;
            }
            var name = table.Cell(row, _name) is { Length: > 0 } given ? given : node.Name;
            var now = node with { Name = name, Level = level ?? node.Level, Labels = labels ?? node.Labels };
            if (now.Equals(node))
                return;
            var above = path.LastIndexOf('/') is > 0 and var slash ? Find(path[..slash]) : null;
            if (!Fits(row, path, now, above))
                return;
            foreach (var child in now.Level == node.Level || !model.Equipment.ContainsKey(node.Id) ? [] : model.Index.ChildrenOf(node.Id))
                if (LevelRules.Misfit(now.Level, child.Level) is { } misfit)
                {
                    Refuse(row, "level", path, $"{child.Name} sits below it. {misfit}");
                    return;
                }
            var before = _nodes.TryGetValue(path, out var made) ? made.Before : node;
            _nodes[path] = (before, now);
            if (now.Name != node.Name)
                Line(row, path, "name", node.Name, now.Name);
            if (now.Level != node.Level)
                Line(row, path, "level", node.Level.ToString(), now.Level.ToString());
            if (!now.Labels.SequenceEqual(node.Labels))
                Line(row, path, "labels", Labels.Text(node.Labels), Labels.Text(now.Labels));
        }

        private bool Fits(int row, string path, Equipment node, Equipment? above)
        {
            var problem = EntityRules.Problems(node).FirstOrDefault()
                ?? (
                    Instantiation.Misfit(model, above?.Level, node.Level, node.TemplateId) is { } misfit
                        ? new Problem("Level", misfit)
                        : null
                );
            if (problem is null)
                return true;
            Refuse(row, problem.Field == "Code" ? "path" : problem.Field.ToLowerInvariant(), path, problem.Message);
            return false;
        }

        private bool ReadLevel(int row, string path, out EquipmentLevel? level)
        {
            level = null;
            var text = table.Cell(row, _level);
            if (text.Length == 0)
                return true;
            foreach (var known in LevelRules.FromTheTop)
                if (
                    string.Equals(known.ToString(), text, StringComparison.OrdinalIgnoreCase)
                    || string.Equals(LevelRules.NameOf(known), text, StringComparison.OrdinalIgnoreCase)
                )
                {
                    level = known;
                    return true;
                }
            Refuse(
                row,
                "level",
                path,
                $"'{text}' is no level{Naming.OrNearest(text, LevelRules.FromTheTop.Select(l => l.ToString()))} The levels are "
                    + $"{string.Join(", ", LevelRules.FromTheTop)}."
            );
            return false;
        }

        private bool ReadTemplate(int row, string path, out long? template)
        {
            template = null;
            var text = table.Cell(row, _template);
            if (text.Length == 0)
                return true;
            if (_templates.TryGetValue(text, out var id))
            {
                template = id;
                return true;
            }
            Refuse(row, "template", path, $"There is no template with the code '{text}'{Naming.OrNearest(text, _templates.Keys)}");
            return false;
        }

        private bool ReadLabels(int row, string path, out ImmutableSortedDictionary<string, string>? labels)
        {
            labels = null;
            if (_labels < 0)
                return true;
            labels = Labels.Read(table.Cell(row, _labels), out var problem);
            if (problem is null)
                return true;
            Refuse(row, "labels", path, problem);
            return false;
        }

        private void Line(int row, string path, string column, string before, string after) =>
            _lines.Add(new(table.NumberOf(row), ImportOutcome.Changed, path, column, before, after));

        private void Refuse(int row, string column, string path, string reason) =>
            _lines.Add(new(table.NumberOf(row), ImportOutcome.Refused, path, column, "", table.Cell(row, table.IndexOf(column)), reason));
    }
}
