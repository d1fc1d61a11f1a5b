using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes in a list of the model as one edit: all of it, or nothing when any row is refused.</summary>
/// <param name="Kind">What it lists.</param>
/// <param name="Table">The list.</param>
public sealed record ImportTable(TableKind Kind, Table Table) : TableImport(Table)
{
    /// <inheritdoc/>
    public override ImportResult Preview(PlantModel model) =>
        Kind switch
        {
            TableKind.Equipment => EquipmentTable.Import(model, Table),
            TableKind.Values => ValueTable.Import(model, Table),
            TableKind.Bindings => BindingTable.Import(model, Table),
            _ => PropertyTable.Import(model, Table),
        };

    private protected override string Summary(PlantModel model, ImportResult result) =>
        $"Import {NameOf(Kind)}: {Count(result.Added, "row")} added, {Count(result.Changed, "row")} changed";

    /// <summary>The table of a model.</summary>
    public static Table Of(PlantModel model, TableKind kind) =>
        kind switch
        {
            TableKind.Equipment => EquipmentTable.Of(model),
            TableKind.Values => ValueTable.Of(model),
            TableKind.Bindings => BindingTable.Of(model),
            _ => PropertyTable.Of(model),
        };

    /// <summary>What a table lists, by its columns; null when they are those of none.</summary>
    public static TableKind? KindOf(Table table) =>
        table.IndexOf("template") >= 0 && table.IndexOf("code") >= 0 && table.IndexOf("path") < 0 ? TableKind.Properties
        : table.IndexOf("path") < 0 ? null
        : table.IndexOf("tag") >= 0 && table.IndexOf("property") >= 0 ? TableKind.Bindings
        : table.IndexOf("level") >= 0 || table.IndexOf("name") >= 0 ? TableKind.Equipment
        : TableKind.Values;

    /// <summary>The kind in words.</summary>
    public static string NameOf(TableKind kind) =>
        kind switch
        {
            TableKind.Equipment => "equipment",
            TableKind.Values => "fixed values",
            TableKind.Bindings => "bindings",
            _ => "template properties",
        };
}
