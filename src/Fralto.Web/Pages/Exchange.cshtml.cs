using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Bulk files and whole models out and in; what is taken in shows first what it would do.</summary>
[RequestSizeLimit(TableFile.Largest + (1024 * 1024))]
[RequestFormLimits(MultipartBodyLengthLimit = TableFile.Largest + (1024 * 1024))]
public sealed class ExchangeModel : ImportPage
{
    public void OnGet() => Find();

    public async Task<IActionResult> OnPostReadAsync(IFormFile? file, string? pasted)
    {
        if (
            await ContentAsync(file, pasted, "Choose a file: CSV, XLSX, or a whole model in JSON. Or paste a table.")
            is not var (bytes, name)
        )
            return Page();
        if (LooksLikeJson(bytes))
        {
            var document = ModelFormat.Read(bytes, out var wrong);
            return document is null
                ? Refuse($"{name} {wrong!.Field}: {wrong.Message}")
                : Wait(name, "a whole model", new ReplaceModel(document), null);
        }
        if (TableFile.Read(bytes, out var problem, HttpContext.RequestAborted) is not { } table)
            return Refuse($"{name}: {problem}");
        return ImportTable.KindOf(table) is { } kind
            ? Wait(name, ImportTable.NameOf(kind), null, new(new ImportTable(kind, table), []))
            : Refuse(
                $"{name} has the columns {string.Join(", ", table.Columns.Take(12))}. Equipment has path, name, level, template, "
                    + $"labels; fixed values have path and codes of properties; template properties have template and code; bindings "
                    + $"have path, property, controller, tag. Take a file given out here as a pattern."
            );
    }

    public IActionResult OnPostTake()
    {
        if (Imports.Find(Token) is not { } waiting)
            return Refuse("That file is no longer kept; choose it again.");
        return Do(
            waiting.Edit,
            new(Request.Form),
            _ =>
            {
                Imports.Remove(waiting.Token);
                return RedirectToPage(new { });
            },
            () =>
            {
                OnGet();
                return Page();
            }
        );
    }

    private RedirectToPageResult Wait(string name, string what, Core.Edits.Edit? whole, ImportDraft? draft) =>
        RedirectToPage(new { token = Imports.Add(made => new(made, name, what, whole, draft)) });

    private static bool LooksLikeJson(byte[] bytes)
    {
        var start = bytes.AsSpan();
        if (start.StartsWith("\uFEFF"u8))
            start = start[3..];
        start = start.TrimStart(" \t\r\n"u8);
        return start.Length > 0 && start[0] is (byte)'{' or (byte)'[';
    }
}
