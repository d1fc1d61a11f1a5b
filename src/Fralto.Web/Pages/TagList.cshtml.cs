using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>The tag list of a controller out and in: columns are recognised and confirmed, and what taking it in would do is shown
/// first.</summary>
[RequestSizeLimit(TableFile.Largest + (1024 * 1024))]
[RequestFormLimits(MultipartBodyLengthLimit = TableFile.Largest + (1024 * 1024))]
public sealed class TagListModel : ImportPage
{
    private const int Samples = 3;

    /// <summary>The controller.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    public Controller? Selected { get; private set; }

    public Table? Table { get; private set; }

    public IReadOnlyList<TagColumn> Columns { get; private set; } = [];

    /// <inheritdoc/>
    public override string Address => $"/taglist?at={At}";

    public IActionResult OnGet()
    {
        if (!FindController())
            return NotFound();
        Show();
        return Page();
    }

    public async Task<IActionResult> OnPostReadAsync(IFormFile? file, string? pasted)
    {
        if (!FindController())
            return NotFound();
        if (
            await ContentAsync(file, pasted, "Choose a file: CSV or XLSX, its first row the names of the columns. Or paste a table.")
            is not var (bytes, name)
        )
            return Page();
        if (TableFile.Read(bytes, out var problem, HttpContext.RequestAborted) is not { } table)
            return Refuse($"{name}: {problem}");
        return RedirectToPage(
            new
            {
                at = At,
                token = Imports.Add(made =>
                    new(
                        made,
                        name,
                        $"tags of {Selected!.Name}",
                        new ImportTags(At, table, [.. TagTable.Recognise(table, Selected, Model.Units)])
                    )
                ),
            }
        );
    }

    public IActionResult OnPostTake()
    {
        if (!FindController())
            return NotFound();
        Show();
        if (Waiting is not { Draft: { } draft })
            return Refuse("That file is no longer kept; choose it again.");
        return Do(
            draft.Kept,
            new FormReader(Request.Form),
            _ =>
            {
                Imports.Remove(Waiting.Token);
                return RedirectToPage("/Controllers", new { at = At });
            },
            () =>
            {
                Show();
                return Page();
            }
        );
    }

    /// <summary>The first few cells of a column, to recognise it by.</summary>
    public string SamplesOf(int column) =>
        Table is null
            ? ""
            : string.Join(
                ", ",
                Enumerable.Range(0, Table.Rows.Count).Select(r => Table.Cell(r, column)).Where(c => c.Length > 0).Take(Samples)
            );

    /// <summary>The form field that says which column a thing stands in.</summary>
    public static string FieldOf(TagField field) => $"column-{field}";

    private bool FindController() => (Selected = Model.Controllers.GetValueOrDefault(At)) is not null;

    private void Show()
    {
        Find();
        if (Waiting?.Draft is not { Import: ImportTags tags } draft || tags.ControllerId != At)
        {
            (Waiting, Preview) = (null, null);
            return;
        }
        Table = tags.Table;
        Columns = Chosen(Table) ?? [.. tags.Columns];
        if (Columns.SequenceEqual(tags.Columns))
            return;
        // What was chosen holds while the table is mended.
        Waiting = Waiting with { Draft = draft with { Import = tags with { Columns = [.. Columns] } } };
        Imports.Replace(Waiting.Token, Waiting);
        Preview = Waiting.Preview(Model);
    }

    /// <summary>The columns somebody has chosen; null when nobody has.</summary>
    private List<TagColumn>? Chosen(Table table)
    {
        string? Said(TagField field) =>
            Request.HasFormContentType && Request.Form.ContainsKey(FieldOf(field))
                ? Request.Form[FieldOf(field)]
                : Request.Query[FieldOf(field)];
        if (Enum.GetValues<TagField>().All(f => Said(f) is null))
            return null;
        var columns = new List<TagColumn>();
        foreach (var field in Enum.GetValues<TagField>())
            if (int.TryParse(Said(field), NumberStyles.None, CultureInfo.InvariantCulture, out var index) && index < table.Columns.Length)
                columns.Add(new(field, index, "as chosen"));
        return columns;
    }
}
