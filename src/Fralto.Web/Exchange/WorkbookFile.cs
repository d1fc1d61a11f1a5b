using System.Globalization;
using System.Text;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Table = Fralto.Core.Exchange.Table;

namespace Fralto.Web.Exchange;

/// <summary>XLSX workbooks (ECMA-376, SpreadsheetML): sheets in, and sheets of text out.</summary>
/// <remarks>Read as a stream: what a workbook costs follows the cells that hold something, whatever sizes it declares and wherever a stray
/// cell stands.</remarks>
internal static class WorkbookFile
{
    /// <summary>The last column that is read.</summary>
    public const int MostColumns = 500;

    /// <summary>The most cells with something in them.</summary>
    public const int MostCells = 3_000_000;

    private const long LongestPart = 512L * 1024 * 1024;
    private const long LongestTexts = 64L * 1024 * 1024;
    private const double Days1904 = 1462;
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(30);

    /// <summary>Reads the first sheet, or all of them.</summary>
    /// <param name="content">The file.</param>
    /// <param name="all">True for all of them.</param>
    /// <param name="problem">What stands in the way, with the cell it stands at; null when nothing does.</param>
    /// <param name="stop">Ends the reading: whoever sent the file has left.</param>
    /// <returns>The name of each sheet, with its rows down to the last that holds something, each at least as wide as the first.</returns>
    /// <exception cref="OperationCanceledException">Whoever sent the file has left.</exception>
    public static List<(string Name, List<string[]> Rows)> Read(byte[] content, bool all, out string? problem, CancellationToken stop)
    {
        using var limit = CancellationTokenSource.CreateLinkedTokenSource(stop);
        limit.CancelAfter(Longest);
        try
        {
            using var document = SpreadsheetDocument.Open(
                new MemoryStream(content),
                isEditable: false,
                new OpenSettings { MaxCharactersInPart = LongestPart }
            );
            var sheets = document.WorkbookPart?.Workbook?.Sheets?.Elements<DocumentFormat.OpenXml.Spreadsheet.Sheet>().ToArray() ?? [];
            if (sheets.Length == 0)
                throw new InvalidDataException("it has no sheet");
            var read = (all ? sheets : sheets[..1])
                .Select(s => (s.Name?.Value ?? "", new Sheet(document, limit.Token).Read(s.Id?.Value)))
                .ToList();
            problem = null;
            return read;
        }
        catch (TooMuchException e)
        {
            problem = e.Message;
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            problem = $"The workbook takes longer than {Longest.TotalSeconds:0} s to read; part it into several, or save it as CSV.";
        }
        return [];
    }

    /// <summary>A workbook, every cell as text.</summary>
    /// <param name="sheets">The sheets with their names.</param>
    public static byte[] Write(IEnumerable<(string Name, IEnumerable<IEnumerable<string>> Rows)> sheets)
    {
        using var stream = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(stream, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            var list = new Sheets();
            foreach (var (name, rows) in sheets)
            {
                var sheet = workbook.AddNewPart<WorksheetPart>();
                Write(sheet, rows);
                list.Append(
                    new DocumentFormat.OpenXml.Spreadsheet.Sheet
                    {
                        Name = name,
                        SheetId = (uint)list.ChildElements.Count + 1,
                        Id = workbook.GetIdOfPart(sheet),
                    }
                );
            }
            workbook.Workbook = new Workbook(list);
        }
        return stream.ToArray();
    }

    private static void Write(WorksheetPart sheet, IEnumerable<IEnumerable<string>> rows)
    {
        using var writer = OpenXmlWriter.Create(sheet);
        writer.WriteStartElement(new Worksheet());
        writer.WriteStartElement(new SheetData());
        foreach (var row in rows)
        {
            writer.WriteStartElement(new Row());
            foreach (var cell in row)
            {
                writer.WriteStartElement(new Cell { DataType = CellValues.InlineString });
                writer.WriteElement(new InlineString(new Text(Legal(cell)) { Space = SpaceProcessingModeValues.Preserve }));
                writer.WriteEndElement();
            }
            writer.WriteEndElement();
        }
        writer.WriteEndElement();
        writer.WriteEndElement();
    }

    /// <summary>What XML may hold of a text (XML 1.0, section 2.2).</summary>
    private static string Legal(string text) =>
        text.All(System.Xml.XmlConvert.IsXmlChar)
            ? text
            : string.Concat(
                text.EnumerateRunes()
                    .Where(r => r.Value >= 0x10000 || System.Xml.XmlConvert.IsXmlChar((char)r.Value))
                    .Select(r => r.ToString())
            );

    /// <summary>The number of a column: A is 0, Z 25, AA 26; null when there are no letters.</summary>
    private static int? ColumnOf(string? reference)
    {
        var (column, letters) = (0, 0);
        foreach (var c in reference ?? "")
        {
            if (!char.IsAsciiLetter(c) || letters == 4)
                break;
            column = (column * 26) + (char.ToUpperInvariant(c) - 'A' + 1);
            letters++;
        }
        return letters == 0 ? null : column - 1;
    }

    private static string Name(int column)
    {
        var name = "";
        for (var left = column + 1; left > 0; left = (left - 1) / 26)
            name = (char)('A' + ((left - 1) % 26)) + name;
        return name;
    }

    /// <summary>There is more in a workbook than is taken.</summary>
    private sealed class TooMuchException(string message) : Exception(message);

    private sealed class Sheet
    {
        private readonly WorkbookPart _workbook;
        private readonly CancellationToken _stop;
        private readonly List<List<string>> _rows = [];
        private readonly bool _from1904;
        private List<string>? _texts;
        private bool[]? _dates;
        private int _cells;

        public Sheet(SpreadsheetDocument document, CancellationToken stop)
        {
            _workbook = document.WorkbookPart ?? throw new InvalidDataException("it has no workbook in it");
            _stop = stop;
            _from1904 = _workbook.Workbook?.WorkbookProperties?.Date1904?.Value == true;
        }

        public List<string[]> Read(string? id)
        {
            if (id is null)
                throw new InvalidDataException("it has no sheet");
            if (_workbook.GetPartById(id) is not WorksheetPart sheet)
                throw new InvalidDataException("a sheet of it is no table of cells");
            using var reader = OpenXmlReader.Create(sheet);
            var merges = new List<(int Top, int Left, int Bottom, int Right)>();
            var (row, column) = (-1, -1);
            while (reader.Read())
            {
                _stop.ThrowIfCancellationRequested();
                if (!reader.IsStartElement)
                    continue;
                if (reader.ElementType == typeof(Row))
                {
                    row = Number(reader, "r") is { } given && given > 0 ? given - 1 : row + 1;
                    column = -1;
                }
                else if (reader.ElementType == typeof(Cell) && reader.LoadCurrentElement() is Cell cell)
                {
                    column = ColumnOf(cell.CellReference?.Value) ?? column + 1;
                    if (TextOf(cell) is { Length: > 0 } text)
                        Put(Math.Max(row, 0), column, text);
                }
                else if (
                    reader.ElementType == typeof(MergeCell)
                    && reader.LoadCurrentElement() is MergeCell { Reference.Value: { } range }
                    && RangeOf(range) is { } merge
                )
                    merges.Add(merge);
            }
            var width = _rows.Count == 0 ? 0 : _rows.Max(r => r.Count);
            foreach (var merge in merges)
                Fill(merge, width);
            // A table is as wide as its header.
            var header = _rows.Count == 0 ? 0 : _rows[0].Count;
            return [.. _rows.Select(r => (string[])[.. r, .. Enumerable.Repeat("", Math.Max(0, header - r.Count))])];
        }

        private static int? Number(OpenXmlReader reader, string name) =>
            reader.Attributes.FirstOrDefault(a => a.LocalName == name) is { Value: { } text }
            && int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                ? number
                : null;

        private void Put(int row, int column, string text)
        {
            if (row > Table.MostRows)
                throw new TooMuchException(
                    $"Cell {Name(column)}{row + 1} lies below row {Table.MostRows + 1}, the last that is read. Take it out, or part "
                        + $"the table into several."
                );
            if (column >= MostColumns)
                throw new TooMuchException(
                    $"Cell {Name(column)}{row + 1} lies right of column {Name(MostColumns - 1)}, the last that is read. Take it out: "
                        + $"it is far from the table."
                );
            if (++_cells > MostCells)
                throw new TooMuchException($"The sheet has more than {MostCells:N0} cells; part it into several.");
            while (_rows.Count <= row)
                _rows.Add([]);
            var cells = _rows[row];
            while (cells.Count <= column)
                cells.Add("");
            cells[column] = text;
        }

        /// <summary>Every cell of a merged range holds what its first does, as far as there is a table.</summary>
        private void Fill((int Top, int Left, int Bottom, int Right) range, int width)
        {
            _stop.ThrowIfCancellationRequested();
            var text = range.Top < _rows.Count && range.Left < _rows[range.Top].Count ? _rows[range.Top][range.Left] : "";
            for (var row = range.Top; row <= Math.Min(range.Bottom, _rows.Count - 1); row++)
            {
                _stop.ThrowIfCancellationRequested();
                for (var column = range.Left; column <= Math.Min(range.Right, (text.Length > 0 ? width : _rows[row].Count) - 1); column++)
                    if ((row, column) != (range.Top, range.Left))
                        Put(row, column, text);
            }
        }

        private static (int Top, int Left, int Bottom, int Right)? RangeOf(string range) =>
            range.Split(':') is [var from, var to]
            && ColumnOf(from) is { } left
            && ColumnOf(to) is { } right
            && RowOf(from) is { } top
            && RowOf(to) is { } bottom
                ? (top, left, bottom, right)
                : null;

        private static int? RowOf(string reference) =>
            int.TryParse(
                reference.AsSpan().TrimStart("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz$"),
                NumberStyles.None,
                CultureInfo.InvariantCulture,
                out var row
            )
            && row > 0
                ? row - 1
                : null;

        private string TextOf(Cell cell)
        {
            var value = cell.CellValue?.InnerText ?? "";
            var type = cell.DataType?.InnerText;
            return type switch
            {
                "s" => int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < Texts.Count
                    ? Texts[index]
                    : "",
                "inlineStr" => cell.InlineString is { } inline ? Said(inline) : "",
                "b" => value == "1" ? "true"
                : value == "0" ? "false"
                : value,
                "str" or "e" => value,
                "d" => value,
                _ => NumberText(value, cell.StyleIndex?.InnerText),
            };
        }

        private string NumberText(string value, string? style)
        {
            if (value.Length == 0)
                return "";
            if (!double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number))
                return value;
            if (
                int.TryParse(style, NumberStyles.None, CultureInfo.InvariantCulture, out var at)
                && at < Dates.Length
                && Dates[at]
                && number is > -657435 and < 2958466 - Days1904
            )
            {
                var time = DateTime.FromOADate(_from1904 ? number + Days1904 : number);
                return time.ToString(time.TimeOfDay == TimeSpan.Zero ? "yyyy-MM-dd" : "yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture);
            }
            return number.ToString(CultureInfo.InvariantCulture);
        }

        /// <summary>The texts that cells share, read when the first cell asks for one.</summary>
        private List<string> Texts
        {
            get
            {
                if (_texts is not null)
                    return _texts;
                _texts = [];
                if (_workbook.SharedStringTablePart is not { } part)
                    return _texts;
                using var reader = OpenXmlReader.Create(part);
                var length = 0L;
                while (reader.Read())
                {
                    if (
                        reader.ElementType != typeof(SharedStringItem)
                        || !reader.IsStartElement
                        || reader.LoadCurrentElement() is not SharedStringItem item
                    )
                        continue;
                    var text = Said(item);
                    if ((length += text.Length + 16) > LongestTexts)
                        throw new TooMuchException(
                            $"The texts of the workbook have more than {LongestTexts / (1024 * 1024)} MB; part it into several."
                        );
                    if (_texts.Count % 1000 == 0)
                        _stop.ThrowIfCancellationRequested();
                    _texts.Add(text);
                }
                return _texts;
            }
        }

        /// <summary>A text with its runs, without what only says how it is read aloud.</summary>
        private static string Said(OpenXmlElement item)
        {
            var text = new StringBuilder();
            foreach (var part in item.ChildElements)
                if (part is Text plain)
                    text.Append(plain.Text);
                else if (part is Run { Text.Text: { } run })
                    text.Append(run);
            return text.ToString();
        }

        /// <summary>For each style whether its numbers are days: a built-in format of dates or times, or one of its own that has a sign for
        /// them (ECMA-376, 18.8.30).</summary>
        private bool[] Dates
        {
            get
            {
                if (_dates is not null)
                    return _dates;
                if (_workbook.WorkbookStylesPart?.Stylesheet is not { CellFormats: { } formats } sheet)
                    return _dates = [];
                var own = (sheet.NumberingFormats?.Elements<NumberingFormat>() ?? [])
                    .Where(f => f.NumberFormatId?.Value is not null)
                    .GroupBy(f => f.NumberFormatId!.Value)
                    .ToDictionary(g => g.Key, g => g.First().FormatCode?.Value ?? "");
                return _dates = [
                    .. formats
                        .Elements<CellFormat>()
                        .Select(f =>
                            f.NumberFormatId?.Value is { } id
                            && (
                                id is (>= 14 and <= 22) or (>= 27 and <= 36) or (>= 45 and <= 47) or (>= 50 and <= 58)
                                || (own.TryGetValue(id, out var code) && SaysDays(code))
                            )
                        ),
                ];
            }
        }

        private static bool SaysDays(string code)
        {
            var (quoted, bracketed) = (false, false);
            for (var i = 0; i < code.Length; i++)
            {
                if (code[i] == '\\')
                    i++;
                else if (code[i] == '"')
                    quoted = !quoted;
                else if (!quoted && code[i] is '[')
                    bracketed = true;
                else if (code[i] is ']')
                    bracketed = false;
                else if (!quoted && !bracketed && char.ToLowerInvariant(code[i]) is 'd' or 'y' or 'h' or 's')
                    return true;
            }
            return false;
        }
    }
}
