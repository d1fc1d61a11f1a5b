using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes in a table as one edit: all of it, or nothing when any row is refused.</summary>
public sealed record ImportTable(TableKind Kind, Table Table) : Edit
{
    private const int MostProblems = 5;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var result = Preview(model);
        if (result.Refused > 0)
            return EditOutcome.Refused(
                result
                    .Lines.Where(l => l.Outcome == ImportOutcome.Refused)
                    .Take(MostProblems)
                    .Select(l => new Problem("", $"Row {l.Row}{(l.Column.Length > 0 ? $", {l.Column}" : "")}: {l.Reason}"))
            );
        return result.Changes.IsEmpty
            ? EditOutcome.Refused("", "The file says what is there already; there is nothing to take in.")
            : EditOutcome.Changed(
                $"Import {NameOf(Kind)}: {Count(result.Added, "row")} added, {Count(result.Changed, "row")} changed",
                result.Changes
            );
    }

    /// <summary>What taking it in would do, without doing it.</summary>
    public ImportResult Preview(PlantModel model) =>
        Kind switch
        {
            TableKind.Equipment => EquipmentTable.Import(model, Table),
            TableKind.Values => ValueTable.Import(model, Table),
            _ => PropertyTable.Import(model, Table),
        };

    /// <summary>The table of a model.</summary>
    public static Table Of(PlantModel model, TableKind kind) =>
        kind switch
        {
            TableKind.Equipment => EquipmentTable.Of(model),
            TableKind.Values => ValueTable.Of(model),
            _ => PropertyTable.Of(model),
        };

    /// <summary>What a table lists, by its columns; null when they are those of none.</summary>
    public static TableKind? KindOf(Table table) =>
        table.IndexOf("template") >= 0 && table.IndexOf("code") >= 0 && table.IndexOf("path") < 0 ? TableKind.Properties
        : table.IndexOf("path") < 0 ? null
        : table.IndexOf("level") >= 0 || table.IndexOf("name") >= 0 ? TableKind.Equipment
        : TableKind.Values;

    /// <summary>The kind in words.</summary>
    public static string NameOf(TableKind kind) =>
        kind switch
        {
            TableKind.Equipment => "equipment",
            TableKind.Values => "fixed values",
            _ => "template properties",
        };
}
