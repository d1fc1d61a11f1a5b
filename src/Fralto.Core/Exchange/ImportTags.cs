using System.Collections.Immutable;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes a tag list in as one edit: all of it, or nothing when any row is refused.</summary>
/// <param name="ControllerId">The controller the tags are of.</param>
/// <param name="Table">The list.</param>
/// <param name="Columns">What its columns say.</param>
public sealed record ImportTags(long ControllerId, Table Table, ImmutableArray<TagColumn> Columns) : TableImport(Table)
{
    /// <inheritdoc/>
    public override ImportResult Preview(PlantModel model) =>
        model.Controllers.TryGetValue(ControllerId, out var controller)
            ? TagTable.Import(model, controller, Table, Columns)
            : new([new(1, ImportOutcome.Refused, "", "", "", "", "The controller no longer exists.")], Table.Rows.Count, []);

    /// <inheritdoc/>
    public override int ColumnOf(ImportLine line) =>
        TagTable.FieldOf(line.Column) is { } field ? Columns.FirstOrDefault(c => c.Field == field)?.Index ?? -1 : -1;

    private protected override string Summary(PlantModel model, ImportResult result) =>
        $"Import tags of {model.Controllers[ControllerId].Name}: {Count(result.Added, "tag")} added, {result.Changed} changed";
}
