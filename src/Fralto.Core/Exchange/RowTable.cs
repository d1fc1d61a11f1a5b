using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>A list of which every row is an edit: each row sees what the rows before it did, and all of them are one.</summary>
internal abstract class RowTable
{
    /// <summary>The columns as they are given out; a table that is taken in may lack some and have them in any order.</summary>
    public abstract ImmutableArray<string> Columns { get; }

    /// <summary>How many of the first columns say what a row is about.</summary>
    protected abstract int Keys { get; }

    /// <summary>The rows of a model.</summary>
    protected abstract IEnumerable<string[]> RowsOf(PlantModel model);

    /// <summary>What a row is about: the row as it stands in the model, or null where it is new. Refuses a row that is about
    /// nothing.</summary>
    protected abstract string[]? Find(PlantModel model, RowCells cells);

    /// <summary>What a row asks for; null when it was refused. Cells that the table does not have are as they stand.</summary>
    protected abstract Edit? EditOf(PlantModel model, RowCells cells);

    /// <summary>The column a field of an edit stands in; empty for the row as a whole.</summary>
    protected virtual string ColumnOf(string field) =>
        Columns.FirstOrDefault(c => c.Equals(field, StringComparison.OrdinalIgnoreCase)) ?? "";

    /// <summary>What it lists of a model.</summary>
    public Table Of(PlantModel model) => new(Columns, [.. RowsOf(model)]);

    /// <summary>Takes rows in: what is new is added, what is known is changed. A column that is not there leaves everything as it
    /// is.</summary>
    public ImportResult Import(PlantModel model, Table table)
    {
        var lines = new List<ImportLine>();
        foreach (var column in table.Columns.Where(c => c.Length > 0 && !Columns.Contains(c, StringComparer.OrdinalIgnoreCase)))
            lines.Add(
                new(
                    1,
                    ImportOutcome.Refused,
                    "",
                    column,
                    "",
                    "",
                    $"There is no column {column}{Naming.OrNearest(column, Columns)} The columns are {string.Join(", ", Columns)}."
                )
            );
        var (next, seen) = (model, new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase));
        var made = new List<ModelChange>();
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var (cells, refusedBefore) = (new RowCells(this, table, row, lines), lines.Count);
            var was = Find(next, cells);
            if (lines.Count > refusedBefore)
                continue;
            if (!seen.TryAdd(cells.Key, cells.Number))
            {
                cells.Refuse(Columns[Keys - 1], $"Row {seen[cells.Key]} is about the same.");
                continue;
            }
            cells.Was = was;
            if (EditOf(next, cells) is not { } edit || lines.Count > refusedBefore)
                continue;
            var outcome = edit.On(next);
            foreach (var problem in outcome.Problems)
                cells.Refuse(ColumnOf(problem.Field), problem.Message);
            if (outcome.IsRefused || outcome.Changes.All(c => Equals(c.Before, c.After)))
                continue;
            made.AddRange(outcome.Changes);
            next = next.Apply(outcome.Changes);
            var now = Find(next, cells)!;
            if (was is null)
                lines.Add(
                    new(
                        cells.Number,
                        ImportOutcome.Added,
                        cells.Subject,
                        "",
                        "",
                        string.Join(", ", now.Skip(Keys).Where(c => c.Length > 0))
                    )
                );
            else
                for (var i = 0; i < Columns.Length; i++)
                    if (was[i] != now[i])
                        lines.Add(new(cells.Number, ImportOutcome.Changed, cells.Subject, Columns[i], was[i], now[i]));
        }
        return new(lines, table.Rows.Count, lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : [.. Several.Merged(made)]);
    }

    /// <summary>The cells of a row that is taken in.</summary>
    internal sealed class RowCells(RowTable list, Table table, int row, List<ImportLine> lines)
    {
        /// <summary>The row as it stands in the model; null when it is new.</summary>
        public string[]? Was { get; set; }

        /// <summary>The row of the file.</summary>
        public int Number => table.NumberOf(row);

        /// <summary>What the row is about.</summary>
        public string Subject { get; } =
            string.Join(" ", list.Columns.Take(list.Keys).Select(c => table.Cell(row, table.IndexOf(c))).Where(c => c.Length > 0));

        /// <summary>What tells what the row is about from all else: a path is never taken for a template's code.</summary>
        public string Key { get; } =
            string.Join('\n', list.Columns.Take(list.Keys).Select(c => table.Cell(row, table.IndexOf(c)).Trim('/')));

        /// <summary>True when numbers may have a decimal comma.</summary>
        public bool HasDecimalComma => table.HasDecimalComma;

        /// <summary>The text of a cell; as it stands where the table has no such column.</summary>
        public string this[string column] =>
            table.IndexOf(column) is >= 0 and var at ? table.Cell(row, at)
            : Was is { } was ? was[list.Columns.IndexOf(column)]
            : "";

        /// <summary>Refuses the row.</summary>
        /// <param name="column">The column; empty for the row as a whole.</param>
        /// <param name="reason">Why.</param>
        public void Refuse(string column, string reason) =>
            lines.Add(new(Number, ImportOutcome.Refused, Subject, column, "", column.Length > 0 ? this[column] : "", reason));

        /// <summary>A number; null when the cell is empty, or refused.</summary>
        public double? Double(string column)
        {
            var text = this[column];
            if (text.Length == 0)
                return null;
            var number = Scaling.FieldText.Number(text, out var problem, HasDecimalComma);
            if (problem is not null)
                Refuse(column, problem);
            return number;
        }

        /// <summary>One of some words, in any case of letters; otherwise when the cell is empty, or refused.</summary>
        public T Choice<T>(string column, T otherwise)
            where T : struct, Enum
        {
            var text = this[column];
            if (text.Length == 0)
                return otherwise;
            if (!char.IsAsciiDigit(text[0]) && Enum.TryParse<T>(text, ignoreCase: true, out var choice) && Enum.IsDefined(choice))
                return choice;
            Refuse(column, $"'{text}' is none of {string.Join(", ", Enum.GetNames<T>())}.");
            return otherwise;
        }

        /// <summary>Yes or no; null when the cell is empty, or refused.</summary>
        public bool? YesNo(string column)
        {
            switch (this[column].ToUpperInvariant())
            {
                case "":
                    return null;
                case "YES" or "TRUE" or "1":
                    return true;
                case "NO" or "FALSE" or "0":
                    return false;
                default:
                    Refuse(column, "Write yes or no.");
                    return null;
            }
        }
    }
}
