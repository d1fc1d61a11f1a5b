using System.Collections.Immutable;

namespace Fralto.Core.Exchange;

/// <summary>A table as it comes out of a CSV or XLSX file and goes into one: a header and rows of text.</summary>
/// <param name="Columns">Names of the columns.</param>
/// <param name="Rows">The rows under the header; a row may be shorter than the header, what is missing is empty.</param>
/// <param name="HasDecimalComma">True when numbers may be written with a decimal comma, as spreadsheets do that part columns with
/// semicolons.</param>
public sealed record Table(ImmutableArray<string> Columns, IReadOnlyList<string[]> Rows, bool HasDecimalComma = false)
{
    /// <summary>Longest text of one cell, in characters.</summary>
    public const int LongestCell = 2000;

    /// <summary>The most rows.</summary>
    public const int MostRows = 200_000;

    /// <summary>The rows of the file the rows stand in, where some are left out; null when they follow one another.</summary>
    public ImmutableArray<int>? Numbers { get; init; }

    /// <summary>The row of the file a row stands in: the header is row 1.</summary>
    /// <param name="row">The row, from 0.</param>
    public int NumberOf(int row) => Numbers is { } numbers ? numbers[row] : row + 2;

    /// <summary>The row that stands in a row of the file; -1 when none does.</summary>
    /// <param name="number">The row of the file.</param>
    public int RowOf(int number) =>
        Numbers is { } numbers ? numbers.IndexOf(number)
        : number >= 2 && number - 2 < Rows.Count ? number - 2
        : -1;

    /// <summary>The table without some rows; the others keep the numbers they have in the file.</summary>
    /// <param name="numbers">The rows of the file.</param>
    public Table Without(IReadOnlySet<int> numbers)
    {
        int[] stay = [.. Enumerable.Range(0, Rows.Count).Where(r => !numbers.Contains(NumberOf(r)))];
        return this with { Rows = [.. stay.Select(r => Rows[r])], Numbers = [.. stay.Select(NumberOf)] };
    }

    /// <summary>Index of a column by name, in any case of letters; -1 when there is none.</summary>
    public int IndexOf(string column)
    {
        for (var i = 0; i < Columns.Length; i++)
            if (string.Equals(Columns[i], column, StringComparison.OrdinalIgnoreCase))
                return i;
        return -1;
    }

    /// <summary>Text of a cell without blanks around it; empty when the row or the table has no such cell.</summary>
    public string Cell(int row, int column) => column >= 0 && column < Rows[row].Length ? Rows[row][column].Trim() : "";
}
