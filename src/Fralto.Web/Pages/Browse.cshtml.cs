using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Protocols;
using Fralto.Links;
using Fralto.Web.Exchange;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Microsoft.AspNetCore.Mvc;
using Controller = Fralto.Core.Controllers.Controller;

namespace Fralto.Web.Pages;

/// <summary>What a controller tells of itself, to take tags from: one by one, a branch, or an array as a whole.</summary>
public sealed class BrowseModel(RecentResults<BrowseResult> browsings) : ListingPage
{
    /// <summary>The controller.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>What to list: an MQTT topic filter, or the node to look below.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Listen { get; set; }

    /// <summary>Names what was listed before.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    /// <summary>Names what was listed before, to go on from where it left off.</summary>
    [BindProperty(SupportsGet = true)]
    public string? On { get; set; }

    public Controller? Selected { get; private set; }

    public BrowseResult? Result { get; private set; }

    /// <inheritdoc/>
    protected override string ListingName => BrowseListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        Find() && (Result ??= browsings.Find(Token)) is { } result
            ? BrowseListing.Of(Model, Selected!, result, $"/browse?at={At}&token={Token}")
            : null;

    public async Task<IActionResult> OnGetAsync()
    {
        if (!Find())
            return NotFound();
        var before = browsings.Find(On);
        if (browsings.Find(Token) is { } kept)
            Result = kept;
        else if (Selected!.Protocol.Rules().BrowseHint is null || Listen is not null)
        {
            Result = await Runtime.Links.BrowseAsync(
                At,
                new(
                    string.IsNullOrWhiteSpace(Listen) ? Selected.Protocol.Rules().BrowseFilter?.Usual ?? "" : Listen.Trim(),
                    before?.Continuation
                ),
                HttpContext.RequestAborted
            );
            Result = before?.With(Result) ?? Result;
            Token = browsings.Add(_ => Result);
        }
        return Page();
    }

    /// <summary>Makes tags of what was chosen.</summary>
    public IActionResult OnPost([FromForm] string? picked, [FromForm] string? list, [FromForm] bool unfold)
    {
        if (!Find())
            return NotFound();
        var reader = new FormReader(Request.Form);
        Result = browsings.Find(Token);
        if (Result is null)
            reader.Refuse("", "What was listed is no longer kept; browse again.");
        else if ((ListingPick.Read(picked) is { } pick ? Orders.Picked<SourceItem>(list, pick) : null) is not { } chosen)
            reader.Refuse("", "The list is no longer kept as it was shown; select again what is to be taken.");
        else
            return Take([.. chosen.Where(i => i.Address.KeepingProblem() is null)]);
        return Take([]);

        IActionResult Take(IReadOnlyList<SourceItem> items) =>
            Do(
                new DeclareTags(At, [.. items], unfold),
                reader,
                _ => RedirectToPage("/Controllers", new { at = At }),
                () =>
                {
                    Refusal ??= string.Join(" ", Form.Problems.Take(5).Select(p => p.Message));
                    return Page();
                }
            );
    }

    private bool Find() => (Selected = Model.Controllers.GetValueOrDefault(At)) is not null;
}
