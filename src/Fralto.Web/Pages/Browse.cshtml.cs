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
public sealed class BrowseModel(RecentResults<Browsing> browsings, TimeProvider clock) : ListingPage
{
    /// <summary>What ends sooner is shown at once; for what takes longer a page says how far it is.</summary>
    private static readonly TimeSpan ShownAtOnce = TimeSpan.FromMilliseconds(800);

    /// <summary>A server that takes longer to list a level has none beside what was found.</summary>
    private static readonly TimeSpan LevelWithin = TimeSpan.FromSeconds(3);

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

    /// <summary>What is being looked through, or was; null before anybody has said where to look.</summary>
    public Browsing? Browsing { get; private set; }

    /// <summary>What was found; null while it goes on.</summary>
    public BrowseResult? Result => Browsing?.Result;

    /// <summary>Where in the server's tree this is; null where it has none, or does not say.</summary>
    public NodeLevel? Level { get; private set; }

    /// <inheritdoc/>
    protected override string ListingName => BrowseListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        Find() && (Browsing ??= Known(Token))?.Result is { } result
            ? BrowseListing.Of(Model, Selected!, result, $"/browse?at={At}&token={Token}")
            : null;

    public async Task<IActionResult> OnGetAsync()
    {
        if (!Find())
            return NotFound();
        var rules = Selected!.Protocol.Rules();
        Browsing = Known(Token);
        if (Browsing is null && (rules.BrowseHint is null || Listen is not null))
        {
            var before = Known(On)?.Result;
            var from = string.IsNullOrWhiteSpace(Listen) ? rules.BrowseFilter?.Usual ?? "" : Listen.Trim();
            var links = Runtime.Links;
            Browsing = new(its => links.BrowseAsync(At, its, CancellationToken.None), new(from, before?.Continuation), before, clock)
            {
                ControllerId = At,
            };
            Token = browsings.Add(_ => Browsing);
        }
        var level = LevelAsync();
        if (Browsing is not null)
            await Task.WhenAny(Browsing.Ended, Task.Delay(ShownAtOnce, clock, HttpContext.RequestAborted));
        Level = await level;
        return Page();
    }

    /// <summary>How far it is; once it has ended, what was found.</summary>
    public IActionResult OnGetProgress()
    {
        if (!Find())
            return NotFound();
        if (Known(Token) is not { } its)
        {
            // It is no longer kept, as after a start of Fralto: begun anew.
            Response.Headers["HX-Redirect"] = Address(null);
            return StatusCode(StatusCodes.Status204NoContent);
        }
        Browsing = its;
        if (Result is not null)
            Response.Headers["HX-Replace-Url"] = Address(Token);
        return Partial("_Browsed", this);
    }

    /// <summary>Ends it with what it has found.</summary>
    public async Task<IActionResult> OnPostStopAsync()
    {
        if (!Find())
            return NotFound();
        if (Known(Token) is { } its)
        {
            its.Stop();
            await Task.WhenAny(its.Ended, Task.Delay(LevelWithin, clock, HttpContext.RequestAborted));
        }
        return Redirect(Address(Token));
    }

    /// <summary>The address of this page below a node, or with what was found.</summary>
    public string Address(string? token, string? listen = null) =>
        "/browse"
        + QueryString.Create(
            new KeyValuePair<string, string?>[] { new("at", $"{At}"), new("listen", listen ?? Listen), new("token", token) }.Where(p =>
                p.Value is not null
            )
        );

    /// <summary>What a name stands for, where it is of this controller.</summary>
    private Browsing? Known(string? token) => browsings.Find(token) is { } its && its.ControllerId == At ? its : null;

    private async Task<NodeLevel?> LevelAsync()
    {
        if (Runtime.Links.TreeOf(At) is not { } tree)
            return null;
        try
        {
            return await tree.LevelAsync(Listen?.Trim() ?? "", HttpContext.RequestAborted)
                .WaitAsync(LevelWithin, HttpContext.RequestAborted);
        }
        catch (Exception e) when (e is LinkException or TimeoutException)
        {
            // What is wrong is said by what is looked through.
            return null;
        }
    }

    /// <summary>Makes tags of what was chosen.</summary>
    public IActionResult OnPost([FromForm] string? picked, [FromForm] string? list, [FromForm] bool unfold)
    {
        if (!Find())
            return NotFound();
        var reader = new FormReader(Request.Form);
        Browsing = Known(Token);
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
