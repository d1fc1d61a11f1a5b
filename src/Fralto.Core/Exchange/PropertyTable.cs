using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Exchange;

/// <summary>Template properties as a table: what a template says about a property it declares or refines, in each row. What is new is
/// declared; a property the template inherits is refined.</summary>
internal sealed class PropertyTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    ["template", "code", "name", "kind", "type", "required", .. FactCells.Columns];

    /// <inheritdoc/>
    protected override int Keys => 2;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model)
    {
        var depths = new Dictionary<long, int>();
        return model
            .Templates.Values.OrderBy(t => model.Index.AncestryOf(t.Id).Count)
            .ThenBy(t => t.Code, StringComparer.Ordinal)
            .SelectMany(t =>
                model.Index.PropertiesOf(t.Id).Where(p => p.DeclaredBy == t.Id || !p.Own.IsEmpty).Select(p => (Template: t, Property: p))
            )
            // What is worked out of others stands after them, so that it can be taken in row by row.
            .OrderBy(row => FormulaUses.DepthOf(model, row.Template.Id, row.Property, depths))
            .Select(row => RowOf(model, row.Template, row.Property));
    }

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (TemplateOf(model, cells) is { } template)
            return KnownOf(model, template, cells) is { } known ? RowOf(model, template, known) : null;
        cells.Refuse(
            "template",
            $"There is no template with the code '{cells["template"]}'"
                + Naming.OrNearest(cells["template"], model.Templates.Values.Select(t => t.Code))
        );
        return null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var template = TemplateOf(model, cells)!;
        var known = KnownOf(model, template, cells);
        var kind = cells.Choice("kind", known?.Declaration.Kind ?? PropertyKind.Measured);
        var type = cells.Choice("type", known?.Declaration.Type ?? PropertyType.Number);
        var facts = FactCells.Read(model, known?.Own ?? PropertyPatch.Empty, cells);
        var name = cells["name"] is { Length: > 0 } given ? given : known?.Name ?? cells["code"];
        var isRequired = cells.YesNo("required") ?? known?.Declaration.IsRequired ?? true;
        if (known is null || known.DeclaredBy == template.Id)
            return new SaveProperty(template.Id, known?.Id, known?.Code ?? cells["code"], name, kind, type, facts, isRequired);
        if (kind != known.Declaration.Kind || type != known.Declaration.Type || name != known.Name)
            cells.Refuse(
                "kind",
                $"{known.Name} is declared by {model.Templates[known.DeclaredBy].Name}; its name, kind and type are changed there."
            );
        return PatchProperty.Exactly(template.Id, known.Id, facts);
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) => FactCells.ColumnOf(field) is { Length: > 0 } column ? column : base.ColumnOf(field);

    private static Template? TemplateOf(PlantModel model, RowCells cells) =>
        model.Templates.Values.FirstOrDefault(t => t.Code.Equals(cells["template"], StringComparison.OrdinalIgnoreCase));

    private static ResolvedProperty? KnownOf(PlantModel model, Template template, RowCells cells) =>
        model.Index.PropertiesOf(template.Id).FirstOrDefault(p => p.Code.Equals(cells["code"], StringComparison.OrdinalIgnoreCase));

    private static string[] RowOf(PlantModel model, Template template, ResolvedProperty property)
    {
        var declared = property.Declaration;
        return
        [
            template.Code,
            property.Code,
            property.Name,
            declared.Kind.ToString(),
            declared.Type.ToString(),
            declared.TakesTag
                ? declared.IsRequired
                    ? "yes"
                    : "no"
                : "",
            .. FactCells.Of(model, property.Own),
        ];
    }
}
