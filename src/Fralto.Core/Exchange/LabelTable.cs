using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Labels as a table: a label of a place or of a template in each row.</summary>
internal sealed class LabelTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } = ["path", "template", "label", "labelValue"];

    /// <inheritdoc/>
    protected override int Keys => 3;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model
            .Templates.Values.OrderBy(t => t.Code, StringComparer.Ordinal)
            .SelectMany(t => t.Labels.Select(l => new[] { "", t.Code, l.Key, l.Value }))
            .Concat(
                model.Index.EquipmentInOrder.SelectMany(e => e.Labels.Select(l => new[] { model.Index.PathOf(e.Id), "", l.Key, l.Value }))
            );

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        var (path, template, key) = (cells["path"].Trim('/'), cells["template"], cells["label"]);
        if (path.Length > 0 == template.Length > 0)
            cells.Refuse("path", "Give either the path of a place or the code of a template.");
        else if (path.Length > 0 && model.Index.Find(path) is null)
            cells.Refuse("path", $"Nothing has the path {path}.");
        else if (template.Length > 0 && TemplateOf(model, cells) is null)
            cells.Refuse(
                "template",
                $"There is no template with the code '{template}'{Naming.OrNearest(template, model.Templates.Values.Select(t => t.Code))}"
            );
        else if (Of(model, cells).TryGetValue(key, out var value))
            return [path, template, key, value];
        return null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var labels = Of(model, cells).SetItem(cells["label"], cells["labelValue"]);
        if (Labels.Problem(labels) is { } problem)
        {
            cells.Refuse(cells["labelValue"].Length == 0 ? "labelValue" : "label", problem);
            return null;
        }
        if (TemplateOf(model, cells) is { } t)
            return new SaveTemplate(t.Id, t.Code, t.Name, t.ParentId, t.Description, t.Levels, labels);
        var node = model.Index.Find(cells["path"].Trim('/'))!;
        return new SaveEquipment(node.Id, node.Code, node.Name, node.Level, node.ParentId, node.TemplateId, labels);
    }

    private static ImmutableSortedDictionary<string, string> Of(PlantModel model, RowCells cells) =>
        TemplateOf(model, cells)?.Labels ?? model.Index.Find(cells["path"].Trim('/'))!.Labels;

    private static Templates.Template? TemplateOf(PlantModel model, RowCells cells) =>
        cells["template"].Length == 0
            ? null
            : model.Templates.Values.FirstOrDefault(t => t.Code.Equals(cells["template"], StringComparison.OrdinalIgnoreCase));
}
