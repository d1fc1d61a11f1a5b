using System.Text;
using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Fralto.Web.Listings;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>A page that takes tables in: shown before they are taken, mended there, and taken as one edit.</summary>
public abstract class ImportPage : ListingPage
{
    private RecentResults<PendingImport>? _imports;

    /// <summary>Files that wait to be taken in.</summary>
    protected RecentResults<PendingImport> Imports =>
        _imports ??= HttpContext.RequestServices.GetRequiredService<RecentResults<PendingImport>>();

    /// <summary>Names the file whose preview is shown.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    /// <summary>The file whose preview is shown.</summary>
    public PendingImport? Waiting { get; protected set; }

    /// <summary>What taking it in would do.</summary>
    public ImportResult? Preview { get; protected set; }

    /// <summary>The address of the page, for the forms of its preview.</summary>
    public virtual string Address => Request.Path;

    /// <inheritdoc/>
    protected override string ListingName => PreviewListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        (Waiting ??= Imports.Find(Token)) is { } waiting
            ? PreviewListing.Of(
                Model,
                waiting,
                Address,
                HttpContext.RequestServices.GetRequiredService<IAntiforgery>().GetAndStoreTokens(HttpContext).RequestToken ?? "",
                () => Preview ??= waiting.Preview(Model)
            )
            : null;

    /// <summary>Writes a cell of the table anew.</summary>
    public IActionResult OnPostMend(int row, int column, string? value) => Mended(d => d.With(row, column, value ?? ""));

    /// <summary>Leaves a row out, or takes it in again.</summary>
    public IActionResult OnPostLeave(int row, bool back) => Mended(d => d.With(row, isOut: !back));

    /// <summary>Leaves out every row that is refused.</summary>
    public IActionResult OnPostLeaveAll() => Mended(d => d.WithoutRefused(Model));

    /// <summary>The rows that are refused or left out, with the reasons, to be mended elsewhere.</summary>
    public IActionResult OnGetBad()
    {
        if (Imports.Find(Token) is not { Draft: { } draft } waiting)
            return NotFound();
        return File(
            TableFile.WriteCsv(draft.Bad(Model)),
            TableFile.CsvType,
            $"{Path.GetFileNameWithoutExtension(waiting.FileName)}-refused.csv"
        );
    }

    /// <summary>Finds what the token stands for, with its preview.</summary>
    protected void Find()
    {
        Waiting = Imports.Find(Token);
        Preview = Waiting?.Preview(Model);
        if (Token is not null && Waiting is null)
            Refusal = "That file is no longer kept; choose it again.";
    }

    /// <summary>The content of a file or of what was pasted; null with the reason when it is neither, or none that is taken.</summary>
    /// <param name="file">The file.</param>
    /// <param name="pasted">What was pasted in its place.</param>
    /// <param name="hint">What to choose, when nothing was.</param>
    protected async Task<(byte[] Bytes, string Name)?> ContentAsync(IFormFile? file, string? pasted, string hint)
    {
        if (file is null)
        {
            if (!string.IsNullOrWhiteSpace(pasted))
                return (Encoding.UTF8.GetBytes(pasted.ReplaceLineEndings("\r\n").Trim('\r', '\n')), "pasted");
            Refuse(hint);
            return null;
        }
        var name = Path.GetFileName(file.FileName);
        if (file.Length == 0)
            Refuse($"{name} is empty.");
        else if (file.Length > TableFile.Largest)
            Refuse($"{name} has {file.Length / (1024 * 1024)} MB; {TableFile.Largest / (1024 * 1024)} MB is the most.");
        else
        {
            using var content = new MemoryStream((int)file.Length);
            await file.CopyToAsync(content, HttpContext.RequestAborted);
            return (content.ToArray(), name);
        }
        return null;
    }

    /// <summary>Says why something was not done.</summary>
    /// <param name="why">The reason.</param>
    protected PageResult Refuse(string why)
    {
        Refusal = why;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private PartialViewResult Mended(Func<ImportDraft, ImportDraft> mend)
    {
        if (Imports.Find(Token) is { Draft: { } draft } waiting)
            Imports.Replace(waiting.Token, waiting with { Draft = mend(draft) });
        Find();
        return Partial("_ImportPreview", this);
    }
}
