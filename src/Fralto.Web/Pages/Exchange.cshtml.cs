using System.Collections.Immutable;
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
        if (TextOf(bytes) is { } text && NodeSetReader.LooksLikeOne(text))
            return NodeSetReader.Read(text, out var unread) is { } library
                ? RedirectToPage(
                    new
                    {
                        token = Imports.Add(made =>
                            new(made, name, "types and objects of OPC UA", new TakeLibrary(library), null) { Library = library }
                        ),
                    }
                )
                : Refuse($"{name}: {unread}");
        var sheets = TableFile.ReadAll(bytes, out var problem, HttpContext.RequestAborted);
        if (problem is not null)
            return Refuse($"{name}: {problem}");
        var lists = new List<(TableKind Kind, Table Table)>();
        foreach (var (sheet, table) in sheets)
            if (ImportTable.KindOf(table) is { } kind)
                lists.Add((kind, table));
            else
                return Refuse(
                    $"{(sheets.Count > 1 ? $"Sheet {sheet} of {name}" : name)} has the columns "
                        + $"{string.Join(", ", table.Columns.Take(12))}. {ImportTable.KnownColumns} Take a file given out here as a "
                        + "pattern."
                );
        // What is named by others is taken in first, in whatever order the sheets stand.
        return (IActionResult?)Next(name, [.. lists.OrderBy(l => l.Kind)], showFirst: lists.Count == 1)
            ?? Refuse($"{name} says what is there already; there is nothing to take in.");
    }

    /// <summary>Shows what some types of a file would do, with their objects.</summary>
    public IActionResult OnPostTypes(string[] types)
    {
        if (Imports.Find(Token) is not { Library: { } library } waiting)
            return Refuse("That file is no longer kept; choose it again.");
        Imports.Replace(waiting.Token, waiting with { Whole = new TakeLibrary(library.Only(types)) });
        return RedirectToPage(new { token = waiting.Token });
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
                return Next(waiting.FileName, waiting.Rest) ?? RedirectToPage(new { });
            },
            () =>
            {
                OnGet();
                return Page();
            }
        );
    }

    /// <summary>Goes on with the next list of a workbook, and leaves this one as it is.</summary>
    public IActionResult OnPostPass()
    {
        if (Imports.Find(Token) is not { } waiting)
            return Refuse("That file is no longer kept; choose it again.");
        Imports.Remove(waiting.Token);
        return Next(waiting.FileName, waiting.Rest) ?? RedirectToPage(new { });
    }

    /// <summary>Shows the first list that would do something, or that needs mending; null when none would.</summary>
    private RedirectToPageResult? Next(string name, ImmutableArray<(TableKind Kind, Table Table)> lists, bool showFirst = false)
    {
        while (lists is [var (kind, table), .. var rest])
        {
            var edit = new ImportTable(kind, table);
            if (showFirst || edit.Preview(Model) is { Lines.Count: > 0 })
                return Wait(name, ImportTable.NameOf(kind), null, new(edit, []), [.. rest]);
            lists = [.. rest];
        }
        return null;
    }

    private RedirectToPageResult Wait(
        string name,
        string what,
        Core.Edits.Edit? whole,
        ImportDraft? draft,
        ImmutableArray<(TableKind Kind, Table Table)>? rest = null
    ) => RedirectToPage(new { token = Imports.Add(made => new(made, name, what, whole, draft) { Rest = rest ?? [] }) });

    /// <summary>The text of a file that is one in UTF-8; null for another, such as a workbook.</summary>
    private static string? TextOf(byte[] bytes)
    {
        try
        {
            return bytes is [(byte)'P', (byte)'K', ..] ? null : new System.Text.UTF8Encoding(false, true).GetString(bytes);
        }
        catch (System.Text.DecoderFallbackException)
        {
            return null;
        }
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
