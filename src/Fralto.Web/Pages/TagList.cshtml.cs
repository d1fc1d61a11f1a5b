using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>The tag list of a controller out and in: columns are recognised and confirmed, and what taking it in would do is shown
/// first.</summary>
[RequestSizeLimit(TableFile.Largest + (1024 * 1024))]
[RequestFormLimits(MultipartBodyLengthLimit = TableFile.Largest + (1024 * 1024))]
public sealed class TagListModel(RecentResults<PendingImport> imports) : FraltoPage
{
    /// <summary>Most lines a preview shows.</summary>
    public const int MostLines = 500;

    private const int Samples = 3;

    /// <summary>The controller.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>Names the file whose preview is shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    public Controller? Selected { get; private set; }

    public PendingImport? Waiting { get; private set; }

    public Table? Table { get; private set; }

    public IReadOnlyList<TagColumn> Columns { get; private set; } = [];

    public ImportResult? Preview { get; private set; }

    /// <summary>The lines shown: what is refused first, then in the order of the file.</summary>
    public IEnumerable<ImportLine> Lines =>
        Preview is null ? [] : Preview.Lines.OrderBy(l => l.Outcome == ImportOutcome.Refused ? 0 : 1).Take(MostLines);

    public IActionResult OnGet()
    {
        if (!Find())
            return NotFound();
        Show();
        return Page();
    }

    public async Task<IActionResult> OnPostReadAsync(IFormFile? file)
    {
        if (!Find())
            return NotFound();
        if (file is null)
            return Refuse("Choose a file: CSV or XLSX, its first row the names of the columns.");
        if (file.Length == 0)
            return Refuse($"{Path.GetFileName(file.FileName)} is empty.");
        if (file.Length > TableFile.Largest)
            return Refuse(
                $"{Path.GetFileName(file.FileName)} has {file.Length / (1024 * 1024)} MB; {TableFile.Largest / (1024 * 1024)} MB is "
                    + $"the most."
            );
        using var content = new MemoryStream((int)file.Length);
        await file.CopyToAsync(content, HttpContext.RequestAborted);
        var name = Path.GetFileName(file.FileName);
        if (TableFile.Read(content.ToArray(), out var problem, HttpContext.RequestAborted) is not { } table)
            return Refuse($"{name}: {problem}");
        return RedirectToPage(
            new
            {
                at = At,
                token = imports.Add(made =>
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
        if (!Find())
            return NotFound();
        Show();
        if (Waiting is null || Table is null)
            return Refuse("That file is no longer kept; choose it again.");
        return Do(
            new ImportTags(At, Table, [.. Columns]),
            new FormReader(Request.Form),
            _ =>
            {
                imports.Remove(Waiting.Token);
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

    private bool Find() => (Selected = Model.Controllers.GetValueOrDefault(At)) is not null;

    private void Show()
    {
        Waiting = imports.Find(Token);
        if (Token is not null && Waiting is null)
            Refusal = "That file is no longer kept; choose it again.";
        if (Waiting?.Edit is not ImportTags waiting || waiting.ControllerId != At)
            return;
        Table = waiting.Table;
        Columns = Chosen(Table) ?? [.. waiting.Columns];
        Preview = TagTable.Import(Model, Selected!, Table, Columns);
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

    private PageResult Refuse(string why)
    {
        Refusal = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
