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

    /// <summary>The row of the file a row stands in: the header is row 1.</summary>
    public static int NumberOf(int row) => row + 2;

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
