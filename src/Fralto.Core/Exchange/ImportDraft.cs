using System.Collections.Immutable;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>A table that somebody mends before it is taken in: cells are written anew, rows are left out.</summary>
/// <param name="Import">What takes it in, with the whole table.</param>
/// <param name="LeftOut">Rows that are left out, as the file numbers them.</param>
public sealed record ImportDraft(TableImport Import, ImmutableHashSet<int> LeftOut)
{
    /// <summary>The column that says why a row was refused, in a file that is given out to be mended; brought again, it says
    /// nothing.</summary>
    internal const string Why = "why it was refused";

    /// <summary>What takes in the rows that are not left out.</summary>
    public TableImport Kept => LeftOut.IsEmpty ? Import : Import with { Table = Import.Table.Without(LeftOut) };

    /// <summary>The draft with a cell written anew.</summary>
    /// <param name="row">The row as the file numbers it.</param>
    /// <param name="column">The column, from 0.</param>
    /// <param name="text">What it says from now on.</param>
    /// <returns>The draft; the same one when there is no such cell, or the text is longer than a cell may be.</returns>
    public ImportDraft With(int row, int column, string text)
    {
        var at = Import.Table.RowOf(row);
        if (at < 0 || column < 0 || column >= Import.Table.Columns.Length || text.Length > Table.LongestCell)
            return this;
        var cells = new string[Math.Max(Import.Table.Rows[at].Length, column + 1)];
        for (var c = 0; c < cells.Length; c++)
            cells[c] = c == column ? text : Import.Table.Cell(at, c);
        var rows = Import.Table.Rows.ToArray();
        rows[at] = cells;
        return this with { Import = Import with { Table = Import.Table with { Rows = rows } } };
    }

    /// <summary>The draft with a row left out, or taken back in.</summary>
    /// <param name="row">The row as the file numbers it.</param>
    /// <param name="isOut">True leaves it out.</param>
    public ImportDraft With(int row, bool isOut) =>
        Import.Table.RowOf(row) < 0 ? this : this with { LeftOut = isOut ? LeftOut.Add(row) : LeftOut.Remove(row) };

    /// <summary>The draft without every row that is refused, and without those that are refused once the others have gone.</summary>
    /// <param name="model">The model.</param>
    public ImportDraft WithoutRefused(PlantModel model)
    {
        var draft = this;
        while (Refused(draft.Kept.Preview(model)).Where(r => draft.Import.Table.RowOf(r) >= 0).ToArray() is { Length: > 0 } refused)
            draft = draft with { LeftOut = draft.LeftOut.Union(refused) };
        return draft;
    }

    /// <summary>The rows that are refused or left out, as they stand, with the reasons in a column of their own: to be mended elsewhere and
    /// brought again.</summary>
    /// <param name="model">The model.</param>
    public Table Bad(PlantModel model)
    {
        var reasons = Import
            .Preview(model)
            .Lines.Where(l => l.Outcome == ImportOutcome.Refused)
            .GroupBy(l => l.Row)
            .ToDictionary(g => g.Key, g => string.Join(" ", g.Select(l => $"{l.Column}: {l.Reason}".TrimStart(':', ' '))));
        var table = Import.Table;
        // A file that is brought again has the column already.
        var width = table.IndexOf(Why) is >= 0 and var there ? there : table.Columns.Length;
        return new(
            [.. table.Columns.Take(width), Why],
            [
                .. Enumerable
                    .Range(0, table.Rows.Count)
                    .Where(r => reasons.ContainsKey(table.NumberOf(r)) || LeftOut.Contains(table.NumberOf(r)))
                    .Select(r =>
                        Enumerable
                            .Range(0, width)
                            .Select(c => table.Cell(r, c))
                            .Append(reasons.GetValueOrDefault(table.NumberOf(r), "left out"))
                            .ToArray()
                    ),
            ]
        );
    }

    private static int[] Refused(ImportResult result) =>
        [.. result.Lines.Where(l => l.Outcome == ImportOutcome.Refused).Select(l => l.Row).Distinct()];
}
