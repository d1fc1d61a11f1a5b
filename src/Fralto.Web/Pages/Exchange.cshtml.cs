using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>Bulk files and whole models out and in; what is taken in shows first what it would do.</summary>
[RequestSizeLimit(TableFile.Largest + (1024 * 1024))]
[RequestFormLimits(MultipartBodyLengthLimit = TableFile.Largest + (1024 * 1024))]
public sealed class ExchangeModel(RecentResults<PendingImport> imports) : FraltoPage
{
    /// <summary>Most lines a preview shows.</summary>
    public const int MostLines = 500;

    /// <summary>Names the file whose preview is shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    public PendingImport? Waiting { get; private set; }

    public ImportResult? Preview { get; private set; }

    /// <summary>The lines shown: what is refused first, then in the order of the file.</summary>
    public IEnumerable<ImportLine> Lines =>
        Preview is null ? [] : Preview.Lines.OrderBy(l => l.Outcome == ImportOutcome.Refused ? 0 : 1).Take(MostLines);

    public void OnGet()
    {
        Waiting = imports.Find(Token);
        Preview = Waiting?.Preview(Model);
        if (Token is not null && Waiting is null)
            Refusal = "That file is no longer kept; choose it again.";
    }

    public async Task<IActionResult> OnPostReadAsync(IFormFile? file)
    {
        if (file is null)
            return Refuse("Choose a file: CSV, XLSX, or a whole model in JSON.");
        if (file.Length == 0)
            return Refuse($"{Path.GetFileName(file.FileName)} is empty.");
        if (file.Length > TableFile.Largest)
            return Refuse(
                $"{Path.GetFileName(file.FileName)} has {file.Length / (1024 * 1024)} MB; {TableFile.Largest / (1024 * 1024)} MB is "
                    + $"the most."
            );
        using var content = new MemoryStream((int)file.Length);
        await file.CopyToAsync(content, HttpContext.RequestAborted);
        var (bytes, name) = (content.ToArray(), Path.GetFileName(file.FileName));
        if (LooksLikeJson(bytes))
        {
            var document = ModelFormat.Read(bytes, out var wrong);
            return document is null
                ? Refuse($"{name} {wrong!.Field}: {wrong.Message}")
                : Wait(name, "a whole model", new ReplaceModel(document));
        }
        if (TableFile.Read(bytes, out var problem, HttpContext.RequestAborted) is not { } table)
            return Refuse($"{name}: {problem}");
        return ImportTable.KindOf(table) is { } kind
            ? Wait(name, ImportTable.NameOf(kind), new ImportTable(kind, table))
            : Refuse(
                $"{name} has the columns {string.Join(", ", table.Columns.Take(12))}. Equipment has path, name, level, template, "
                    + $"labels; fixed values have path and codes of properties; template properties have template and code. Take a "
                    + $"file given out here as a pattern."
            );
    }

    public IActionResult OnPostTake()
    {
        if (imports.Find(Token) is not { } waiting)
            return Refuse("That file is no longer kept; choose it again.");
        return Do(
            waiting.Edit,
            new(Request.Form),
            _ =>
            {
                imports.Remove(waiting.Token);
                return RedirectToPage(new { });
            },
            () =>
            {
                OnGet();
                return Page();
            }
        );
    }

    private RedirectToPageResult Wait(string name, string what, Core.Edits.Edit edit) =>
        RedirectToPage(new { token = imports.Add(made => new(made, name, what, edit)) });

    private PageResult Refuse(string why)
    {
        Refusal = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private static bool LooksLikeJson(byte[] bytes)
    {
        var start = bytes.AsSpan();
        if (start.StartsWith("\uFEFF"u8))
            start = start[3..];
        start = start.TrimStart(" \t\r\n"u8);
        return start.Length > 0 && start[0] is (byte)'{' or (byte)'[';
    }
}
