using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;
using DocumentFormat.OpenXml.Packaging;
using Fralto.Core.Exchange;

namespace Fralto.Web.Exchange;

/// <summary>Tables in CSV files (RFC 4180) and XLSX workbooks.</summary>
internal static class TableFile
{
    /// <summary>Largest file taken in, in bytes.</summary>
    public const long Largest = 32 * 1024 * 1024;

    public const string CsvType = "text/csv; charset=utf-8";

    public const string XlsxType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    /// <summary>Reads a file by what is in it, not by its name: of a workbook, the first sheet.</summary>
    /// <param name="content">The file.</param>
    /// <param name="problem">Why it is no table; null when it is one.</param>
    /// <param name="stop">Ends the reading: whoever sent the file has left.</param>
    /// <exception cref="OperationCanceledException">Whoever sent the file has left.</exception>
    public static Table? Read(byte[] content, out string? problem, CancellationToken stop = default) =>
        Read(content, all: false, out problem, stop) is [var (_, table), ..] ? table : null;

    /// <summary>The same, of all sheets of a workbook that hold something, with their names.</summary>
    /// <param name="content">The file.</param>
    /// <param name="problem">Why it is none; null when it is one.</param>
    /// <param name="stop">Ends the reading: whoever sent the file has left.</param>
    /// <exception cref="OperationCanceledException">Whoever sent the file has left.</exception>
    public static List<(string Name, Table Table)> ReadAll(byte[] content, out string? problem, CancellationToken stop = default) =>
        Read(content, all: true, out problem, stop);

    private static List<(string Name, Table Table)> Read(byte[] content, bool all, out string? problem, CancellationToken stop)
    {
        try
        {
            var delimiter = ',';
            var sheets = content.AsSpan().StartsWith("PK"u8)
                ? WorkbookFile.Read(content, all, out problem, stop)
                : [("", ReadCsv(content, out problem, out delimiter, stop))];
            var tables = new List<(string, Table)>();
            foreach (var (name, rows) in problem is null ? sheets : [])
            {
                if (sheets.Count > 1 && rows.All(r => r.All(string.IsNullOrWhiteSpace)))
                    continue;
                if (TableOf(rows, hasDecimalComma: delimiter == ';', out problem) is { } table)
                    tables.Add((name, table));
                if (problem is null)
                    continue;
                problem = sheets.Count > 1 ? $"Sheet {name}: {problem}" : problem;
                return [];
            }
            if (problem is null && tables.Count == 0)
                problem = "The file is empty. Its first row names the columns.";
            return tables;
        }
        catch (DecoderFallbackException)
        {
            problem = "The file is not UTF-8 text. Save it as \"CSV UTF-8\", or as XLSX.";
        }
        catch (Exception e)
            when (e
                    is InvalidDataException
                        or System.Xml.XmlException
                        or CsvHelperException
                        or OpenXmlPackageException
                        or IOException
                        or FormatException
                        or ArgumentException
                        or InvalidOperationException
                        or NotSupportedException
                        or OverflowException
            )
        {
            problem = content.AsSpan().StartsWith("PK"u8)
                ? $"The workbook cannot be read as a table: {Plain(e)} Open it in a spreadsheet and save it anew as XLSX, or as CSV."
                : $"The file cannot be read as a table: {Plain(e)}";
        }
        return [];
    }

    /// <summary>A table as CSV: commas, quotes where needed, lines ended by CR LF, with a byte order mark so that spreadsheets see
    /// UTF-8.</summary>
    public static byte[] WriteCsv(Table table)
    {
        using var stream = new MemoryStream();
        using (var writer = new StreamWriter(stream, new UTF8Encoding(encoderShouldEmitUTF8Identifier: true)))
        using (var csv = new CsvWriter(writer, new CsvConfiguration(CultureInfo.InvariantCulture) { NewLine = "\r\n" }))
            foreach (var row in table.Rows.Prepend([.. table.Columns]))
            {
                foreach (var cell in row)
                    csv.WriteField(Marked(cell));
                csv.NextRecord();
            }
        return stream.ToArray();
    }

    /// <summary>A table as text that a spreadsheet takes when it is pasted: tabs between cells, no tab and no line break in them, and
    /// nothing that would be taken for a formula.</summary>
    public static string WriteTabbed(Table table)
    {
        var text = new StringBuilder();
        foreach (var row in table.Rows.Prepend([.. table.Columns]))
            text.AppendJoin('\t', row.Select(c => Marked(c.Replace('\t', ' ').ReplaceLineEndings(" ")))).Append("\r\n");
        return text.ToString();
    }

    /// <summary>A table as a workbook of one sheet, every cell as text.</summary>
    public static byte[] WriteXlsx(Table table) => WriteXlsx([("Fralto", table)]);

    /// <summary>Tables as a workbook with a sheet for each, every cell as text.</summary>
    public static byte[] WriteXlsx(IEnumerable<(string Name, Table Table)> tables) =>
        WorkbookFile.Write(tables.Select(t => (t.Name, (IEnumerable<IEnumerable<string>>)t.Table.Rows.Prepend([.. t.Table.Columns]))));

    /// <summary>A text that no spreadsheet takes for a formula: what begins as one has an apostrophe before it, which
    /// <see cref="Unmarked"/> takes off again. Numbers stay numbers.</summary>
    private static string Marked(string cell) =>
        BeginsAsFormula(cell.AsSpan().TrimStart('\'')) && !double.TryParse(cell, NumberStyles.Float, CultureInfo.InvariantCulture, out _)
            ? $"'{cell}"
            : cell;

    private static string Unmarked(string cell) =>
        cell.StartsWith('\'') && BeginsAsFormula(cell.AsSpan().TrimStart('\'')) ? cell[1..] : cell;

    private static bool BeginsAsFormula(ReadOnlySpan<char> text) => text.Length > 0 && text[0] is '=' or '+' or '-' or '@' or '\t' or '\r';

    /// <summary>What an exception says, as a sentence of one line.</summary>
    private static string Plain(Exception e)
    {
        var line = e.Message.Split('\n')[0].Trim().TrimEnd('.');
        return line.Length == 0 ? "it is broken." : $"{line}.";
    }

    private static List<string[]> ReadCsv(byte[] content, out string? problem, out char delimiter, CancellationToken stop)
    {
        problem = null;
        using var reader = new StreamReader(
            new MemoryStream(content),
            new UTF8Encoding(false, throwOnInvalidBytes: true),
            detectEncodingFromByteOrderMarks: true
        );
        var text = reader.ReadToEnd();
        delimiter = DelimiterOf(text);
        string? bad = null;
        using var csv = new CsvParser(
            new StringReader(text),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                Delimiter = delimiter.ToString(),
                BadDataFound = found =>
                    bad ??=
                        $"Row {found.Context.Parser?.Row}: a quote stands where none may; a cell that holds quotes is wrapped in "
                        + $"quotes and doubles its own (RFC 4180).",
                IgnoreBlankLines = false,
            }
        );
        var rows = new List<string[]>();
        while (csv.Read())
        {
            if (rows.Count % 1000 == 0)
                stop.ThrowIfCancellationRequested();
            rows.Add([.. (csv.Record ?? []).Select(Unmarked)]);
            if (rows.Count > Table.MostRows + 1)
                break;
        }
        problem = bad;
        return rows;
    }

    /// <summary>What parts the columns: the sign that stands most often in the header.</summary>
    private static char DelimiterOf(string text)
    {
        var header = text.AsSpan(0, text.AsSpan().IndexOfAny('\r', '\n') is >= 0 and var end ? end : text.Length).ToString();
        return new[] { ',', ';', '\t' }.MaxBy(d => header.Count(c => c == d));
    }

    private static Table? TableOf(List<string[]> rows, bool hasDecimalComma, out string? problem)
    {
        problem = null;
        while (rows.Count > 0 && rows[^1].All(string.IsNullOrWhiteSpace))
            rows.RemoveAt(rows.Count - 1);
        if (rows.Count == 0)
            problem = "The file is empty. Its first row names the columns.";
        else if (rows.Count - 1 > Table.MostRows)
            problem = $"The file has more than {Table.MostRows:N0} rows; part it into several.";
        else if (rows.FindIndex(r => r.Any(c => c.Length > Table.LongestCell)) is >= 0 and var row)
            problem = $"Row {row + 1} has a cell of more than {Table.LongestCell} characters.";
        else if (
            rows[0]
                .Select(c => c.Trim())
                .Where(c => c.Length > 0)
                .GroupBy(c => c, StringComparer.OrdinalIgnoreCase)
                .FirstOrDefault(g => g.Count() > 1) is
            { } twice
        )
            problem = $"The column {twice.Key} stands there twice.";
        else if (rows.FindIndex(1, r => r.Skip(rows[0].Length).Any(c => c.Length > 0)) is >= 0 and var wide)
            problem = $"Row {wide + 1} has more cells than there are columns; a cell that holds the separator is wrapped in quotes.";
        return problem is not null
            ? null
            : new Table([.. rows[0].Select(c => c.Trim())], rows.GetRange(1, rows.Count - 1), hasDecimalComma);
    }
}
