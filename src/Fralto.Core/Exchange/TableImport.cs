using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes in a table as one edit: all of it, or nothing when any row is refused.</summary>
/// <param name="Table">The table.</param>
public abstract record TableImport(Table Table) : Edit
{
    private const int MostProblems = 5;

    /// <summary>What taking it in would do, without doing it.</summary>
    /// <param name="model">The model.</param>
    public abstract ImportResult Preview(PlantModel model);

    /// <summary>The column of the table that a line of the preview is about; -1 when it is about no one of them.</summary>
    /// <param name="line">The line.</param>
    public virtual int ColumnOf(ImportLine line) => Table.IndexOf(line.Column);

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
            : EditOutcome.Changed(Summary(model, result), result.Changes);
    }

    /// <summary>What the journal says of it.</summary>
    private protected abstract string Summary(PlantModel model, ImportResult result);
}
