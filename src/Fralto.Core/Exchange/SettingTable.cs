using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Exchange;

/// <summary>What instances say themselves, over what their templates say: limits, ranges, scales and fixed values, a property of an
/// instance in each row. A row says all the instance says of the property: an empty cell goes back to the template.</summary>
internal sealed class SettingTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } = ["path", "property", .. FactCells.Columns];

    /// <inheritdoc/>
    protected override int Keys => 2;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model
            .Index.EquipmentInOrder.Where(e => !e.Patches.IsEmpty)
            .SelectMany(e => model.Index.PropertiesOf(e).Where(p => !p.Own.IsEmpty).Select(p => RowOf(model, e, p)));

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (model.Index.Find(cells["path"].Trim('/')) is not { } node)
            cells.Refuse("path", cells["path"].Length == 0 ? "Give the path of the instance." : $"Nothing has the path {cells["path"]}.");
        else if (PropertyOf(model, node, cells) is not { } property)
            cells.Refuse(
                "property",
                $"{node.Name} has no property '{cells["property"]}'"
                    + Naming.OrNearest(cells["property"], model.Index.PropertiesOf(node).Select(p => p.Code))
            );
        else
            return RowOf(model, node, property);
        return null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var node = model.Index.Find(cells["path"].Trim('/'))!;
        var property = PropertyOf(model, node, cells)!;
        return PatchProperty.Exactly(node.Id, property.Id, FactCells.Read(model, property.Own, cells, property.Facts.Range));
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) => FactCells.ColumnOf(field) is { Length: > 0 } column ? column : base.ColumnOf(field);

    private static ResolvedProperty? PropertyOf(PlantModel model, Equipment node, RowCells cells) =>
        model.Index.PropertiesOf(node).FirstOrDefault(p => p.Code.Equals(cells["property"], StringComparison.OrdinalIgnoreCase));

    private static string[] RowOf(PlantModel model, Equipment node, ResolvedProperty property) =>
        [model.Index.PathOf(node.Id), property.Code, .. FactCells.Of(model, property.Own)];
}
