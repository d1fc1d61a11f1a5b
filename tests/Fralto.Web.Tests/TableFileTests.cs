using System.IO.Compression;
using System.Text;
using Fralto.Core.Exchange;
using Fralto.Web.Exchange;

namespace Fralto.Web.Tests;

/// <summary>Tables as files: CSV as RFC 4180 has it and as spreadsheets write it, and XLSX.</summary>
public sealed class TableFileTests
{
    [Theory]
    [Trait("source", "RFC 4180, section 2")]
    [InlineData("aaa,bbb,ccc\r\nzzz,yyy,xxx\r\n", "zzz|yyy|xxx")]
    [InlineData("aaa,bbb,ccc\r\nzzz,yyy,xxx", "zzz|yyy|xxx")]
    [InlineData("\"aaa\",\"bbb\",\"ccc\"\r\nzzz,yyy,xxx", "zzz|yyy|xxx")]
    [InlineData("aaa,bbb,ccc\r\n\"b \r\nbb\",\"c,cc\",yyy", "b \r\nbb|c,cc|yyy")]
    [InlineData("aaa,bbb,ccc\r\n\"b\"\"bb\",ccc,yyy", "b\"bb|ccc|yyy")]
    public void Csv_is_read_as_the_standard_says(string file, string cells)
    {
        var table = Read(file)!;
        table.Columns.ShouldBe(["aaa", "bbb", "ccc"]);
        string.Join("|", table.Rows.Single()).ShouldBe(cells);
    }

    [Theory]
    [InlineData("path;name\nC;Größe", true)]
    [InlineData("path\tname\nC\tGröße", false)]
    [InlineData("\uFEFFpath,name\nC,Größe", false)]
    public void Csv_as_spreadsheets_write_it_is_understood(string file, bool hasDecimalComma)
    {
        var table = Read(file)!;
        table.Columns.ShouldBe(["path", "name"]);
        table.Rows.Single().ShouldBe(["C", "Größe"]);
        table.HasDecimalComma.ShouldBe(hasDecimalComma);
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("path,name\nC,\"open", "quote")]
    [InlineData("path,path\nC,D", "stands there twice")]
    [InlineData("path,name\nC,D,E", "Row 2 has more cells than there are columns")]
    public void A_csv_that_is_none_is_refused_with_the_reason(string file, string words)
    {
        TableFile.Read(Encoding.UTF8.GetBytes(file), out var problem).ShouldBeNull();
        problem!.ShouldContain(words);
    }

    [Fact]
    public void Text_that_is_not_utf8_is_refused()
    {
        TableFile.Read([(byte)'p', (byte)'\n', 0xE4, 0x20], out var problem).ShouldBeNull();
        problem!.ShouldContain("not UTF-8");
    }

    [Fact]
    public void A_cell_of_ten_thousand_characters_is_refused_with_its_row()
    {
        TableFile.Read(Encoding.UTF8.GetBytes("path,name\nC," + new string('x', 10_000)), out var problem).ShouldBeNull();
        problem!.ShouldStartWith("Row 2 has a cell of more than");
    }

    [Fact]
    public void What_is_written_is_read_back_the_same_in_both_formats()
    {
        var table = new Table(
            ["path", "name", "labels"],
            [
                ["C/Ä-1", "He said \"no\", twice", "a=b, c=d"],
                ["C", "=1+1", ""],
                ["007", "0,5", "مطحنة 🌾"],
            ]
        );
        foreach (var file in new[] { TableFile.WriteCsv(table), TableFile.WriteXlsx(table) })
        {
            var again = TableFile.Read(file, out var problem)!;
            problem.ShouldBeNull();
            again.Columns.ShouldBe(table.Columns);
            again.Rows.Select(r => string.Join("|", r)).ShouldBe(table.Rows.Select(r => string.Join("|", r)));
        }
    }

    [Fact]
    public void Numbers_dates_truths_and_merged_cells_of_a_workbook_become_text()
    {
        var table = TableFile.Read(
            Workbook(
                """
                <row r="1"><c r="A1" t="inlineStr"><is><t>path</t></is></c><c r="B1" t="inlineStr"><is><t>value</t></is></c></row>
                <row r="2"><c r="A2" t="inlineStr"><is><t>C</t></is></c><c r="B2"><f>1+1.5</f><v>2.5</v></c></row>
                <row r="3"><c r="A3" t="inlineStr"><is><t>D</t></is></c><c r="B3" s="1"><v>46174</v></c></row>
                <row r="4"><c r="A4" t="inlineStr"><is><t>E</t></is></c><c r="B4" t="b"><v>1</v></c></row>
                <row r="5"><c r="A5" t="inlineStr"><is><t>F</t></is></c><c r="B5"/></row>
                """,
                "<mergeCells count=\"1\"><mergeCell ref=\"A4:A5\"/></mergeCells>"
            ),
            out var problem
        )!;
        problem.ShouldBeNull();
        // A formula counts as the value the spreadsheet has worked out; 46174 is the day number of 2026-06-01 (ECMA-376, 18.17.4.1).
        table.Rows.Select(r => string.Join("|", r)).ShouldBe(["C|2.5", "D|2026-06-01", "E|true", "E|"]);
    }

    [Fact]
    public void A_broken_workbook_is_refused()
    {
        TableFile.Read("PK not a zip at all"u8.ToArray(), out var problem).ShouldBeNull();
        problem!.ShouldStartWith("The workbook cannot be read as a table");
    }

    /// <summary>A workbook may leave out the numbers of rows and columns: what is not said follows from the place (ECMA-376, 18.3.1.73 and
    /// 18.3.1.4, both attributes are optional).</summary>
    [Fact]
    public void Rows_and_cells_that_do_not_say_where_they_are_follow_one_another()
    {
        var table = TableFile.Read(
            Workbook(
                """
                <row><c t="inlineStr"><is><t>path</t></is></c><c t="inlineStr"><is><t>value</t></is></c></row>
                <row><c t="inlineStr"><is><r><t>C</t></r><r><t xml:space="preserve"> D</t></r></is></c><c><v>2.5</v></c></row>
                <row r="4"><c r="B4" t="e"><v>#N/A</v></c></row>
                <row><c/><c t="str"><v>last</v></c></row>
                """,
                ""
            ),
            out var problem
        )!;
        problem.ShouldBeNull();
        table.Rows.Select(r => string.Join("|", r)).ShouldBe(["C D|2.5", "|", "|#N/A", "|last"]);
    }

    [Theory]
    [InlineData("XFD2", "Cell XFD2 lies right of column SF")]
    [InlineData("C1048576", "Cell C1048576 lies below row 200001")]
    public void A_stray_cell_is_named_and_costs_nothing(string at, string words)
    {
        var row = new string([.. at.Where(char.IsAsciiDigit)]);
        var watch = System.Diagnostics.Stopwatch.StartNew();
        TableFile
            .Read(
                Workbook(
                    $"""<row r="1"><c r="A1" t="inlineStr"><is><t>path</t></is></c></row><row r="{row}"><c r="{at}" t="inlineStr"><is>"""
                        + $"""<t>x</t></is></c></row>""",
                    ""
                ),
                out var problem
            )
            .ShouldBeNull();
        problem!.ShouldContain(words);
        watch.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(3));
    }

    [Fact]
    public void Stray_cells_that_hold_nothing_and_merged_ranges_of_a_whole_sheet_cost_nothing()
    {
        var rows = string.Concat(
            Enumerable
                .Range(2, 2000)
                .Select(r => $"""<row r="{r}"><c r="A{r}" t="inlineStr"><is><t>n{r}</t></is></c><c r="XFD{r}" s="1"/></row>""")
        );
        var (watch, before) = (System.Diagnostics.Stopwatch.StartNew(), GC.GetTotalAllocatedBytes());
        var table = TableFile.Read(
            Workbook(
                $"""<row r="1"><c r="A1" t="inlineStr"><is><t>path</t></is></c><c r="B1" t="inlineStr"><is><t>name</t></is></c></row>"""
                    + $"""{rows}""",
                "<mergeCells><mergeCell ref=\"B1:XFD1048576\"/><mergeCell ref=\"x\"/></mergeCells>"
            ),
            out var problem
        )!;
        problem.ShouldBeNull();
        table.Rows.Count.ShouldBe(2000);
        table.Rows[^1].ShouldBe(["n2001", "name"]);
        watch.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(3));
        (GC.GetTotalAllocatedBytes() - before).ShouldBeLessThan(200_000_000);
    }

    [Fact]
    public void Many_merged_ranges_that_hold_nothing_cost_nothing_and_many_that_hold_something_are_refused()
    {
        var rows = string.Concat(
            Enumerable.Range(2, 2000).Select(r => $"""<row r="{r}"><c r="A{r}" t="inlineStr"><is><t>n{r}</t></is></c></row>""")
        );
        string Merged(string at) =>
            "<mergeCells>" + string.Concat(Enumerable.Repeat($"<mergeCell ref=\"{at}:CV2001\"/>", 20_000)) + "</mergeCells>";
        var header =
            $"""<row r="1"><c r="A1" t="inlineStr"><is><t>path</t></is></c><c r="CV1" t="inlineStr"><is><t>last</t></is></c></row>{rows}""";
        var watch = System.Diagnostics.Stopwatch.StartNew();
        TableFile.Read(Workbook(header, Merged("C2")), out var problem)!.Rows.Count.ShouldBe(2000);
        problem.ShouldBeNull();
        TableFile.Read(Workbook(header, Merged("A2")), out problem).ShouldBeNull();
        problem!.ShouldContain("cells; part it");
        watch.Elapsed.ShouldBeLessThan(TimeSpan.FromSeconds(6));
    }

    [Fact]
    public void Reading_ends_when_whoever_sent_the_file_has_left() =>
        Should.Throw<OperationCanceledException>(() =>
            TableFile.Read(
                Workbook("""<row r="1"><c r="A1" t="inlineStr"><is><t>path</t></is></c></row>""", ""),
                out _,
                new CancellationToken(canceled: true)
            )
        );

    /// <summary>What begins a formula in a spreadsheet: = + - @ and what may stand before them (common practice, no source).</summary>
    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("+cmd", "'+cmd")]
    [InlineData("-2+3", "'-2+3")]
    [InlineData("@sum", "'@sum")]
    [InlineData("'=1", "''=1")]
    [InlineData("'plain", "'plain")]
    [InlineData("-2.5", "-2.5")]
    [InlineData("+1e3", "+1e3")]
    [InlineData("holding 0", "holding 0")]
    public void A_cell_that_a_spreadsheet_would_take_for_a_formula_is_marked_and_read_back_unchanged(string cell, string written)
    {
        var file = TableFile.WriteCsv(
            new Table(
                ["a", "b"],
                [
                    ["x", cell],
                ]
            )
        );
        Encoding.UTF8.GetString(file).ShouldEndWith($"x,{written}\r\n");
        TableFile.Read(file, out _)!.Rows.Single()[1].ShouldBe(cell);
    }

    private static Table? Read(string file)
    {
        var table = TableFile.Read(Encoding.UTF8.GetBytes(file), out var problem);
        problem.ShouldBeNull();
        return table;
    }

    /// <summary>A workbook put together by hand from the parts of ECMA-376, so that it owes nothing to the library that reads it.</summary>
    private static byte[] Workbook(string rows, string after)
    {
        const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main";
        const string Rel = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, leaveOpen: true))
        {
            void Add(string name, string text)
            {
                using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                writer.Write("<?xml version=\"1.0\" encoding=\"UTF-8\"?>" + text);
            }
            Add(
                "[Content_Types].xml",
                "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"><Default Extension=\"rels\" "
                    + "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/><Override "
                    + "PartName=\"/xl/workbook.xml\" "
                    + "ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml\"/><Override "
                    + "PartName=\"/xl/worksheets/sheet1.xml\" "
                    + "ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml\"/><Override "
                    + "PartName=\"/xl/styles.xml\" "
                    + "ContentType=\"application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml\"/></Types>"
            );
            Add(
                "_rels/.rels",
                $"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"r1\" "
                    + $"Type=\"{Rel}/officeDocument\" Target=\"xl/workbook.xml\"/></Relationships>"
            );
            Add(
                "xl/workbook.xml",
                $"<workbook xmlns=\"{Main}\" xmlns:r=\"{Rel}\"><sheets><sheet name=\"S\" sheetId=\"1\" r:id=\"r1\"/></sheets></workbook>"
            );
            Add(
                "xl/_rels/workbook.xml.rels",
                $"<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\"><Relationship Id=\"r1\" "
                    + $"Type=\"{Rel}/worksheet\" Target=\"worksheets/sheet1.xml\"/><Relationship Id=\"r2\" Type=\"{Rel}/styles\" "
                    + $"Target=\"styles.xml\"/></Relationships>"
            );
            Add(
                "xl/styles.xml",
                $"<styleSheet xmlns=\"{Main}\"><fonts count=\"1\"><font/></fonts><fills count=\"1\"><fill/></fills><borders "
                    + $"count=\"1\"><border/></borders><cellStyleXfs count=\"1\"><xf/></cellStyleXfs><cellXfs count=\"2\"><xf "
                    + $"numFmtId=\"0\"/><xf numFmtId=\"14\" applyNumberFormat=\"1\"/></cellXfs></styleSheet>"
            );
            Add("xl/worksheets/sheet1.xml", $"<worksheet xmlns=\"{Main}\"><sheetData>{rows}</sheetData>{after}</worksheet>");
        }
        return stream.ToArray();
    }
}
