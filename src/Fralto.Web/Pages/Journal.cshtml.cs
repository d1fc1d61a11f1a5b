using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Store;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The newest edits: who, when, what, before and after; taking them back and making them again.</summary>
public sealed class JournalModel(PlantStore store) : ListingPage
{
    private const int MostEntries = 200_000;
    private const int MostChanges = 200;

    /// <summary>Only edits at or below this place; null for all.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>The entry whose changes are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    /// <summary>True to show what controllers were told to do instead of edits.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Commands { get; set; }

    /// <summary>What the entry that is shown says; null when none is.</summary>
    public JournalEntry? Opened { get; private set; }

    /// <inheritdoc/>
    protected override string ListingName => Commands ? "commands" : "journal";

    /// <inheritdoc/>
    protected override IListing? MakeListing() => Commands ? GivenCommands() : Edits();

    public Equipment? Place => At is { } at ? Model.Equipment.GetValueOrDefault(at) : null;

    /// <summary>Each changed field of the shown entry: what it belongs to, before and after.</summary>
    public IReadOnlyList<(string What, string Before, string After)> Changes { get; private set; } = [];

    public void OnGet() => Show();

    public IActionResult OnPostUndo(string? back, long? id) => Turned(Workspace.Undo(Actor, id), back);

    public IActionResult OnPostRedo(string? back) => Turned(Workspace.Redo(Actor), back);

    /// <summary>True when an entry can be taken back from here.</summary>
    public bool CanTakeBack(JournalEntry entry) => entry.Kind == JournalKind.Edit && Workspace.IsInEffect(entry.Id);

    private IActionResult Turned(EditOutcome outcome, string? back)
    {
        if (!outcome.IsRefused)
        {
            Done = outcome.Summary;
            return back is not null && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage(new { at = At });
        }
        Refusal = string.Join(" ", outcome.Problems.Select(p => p.Message));
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }

    private Listing<JournalEntry> Edits()
    {
        var page = At is { } at ? $"/journal?at={at}" : "/journal";
        var said = ListingRequest.Read(Request.Query).Text();
        string Address(long id) =>
            $"{page}{(page.Contains('?', StringComparison.Ordinal) ? '&' : '?')}{(said.Length > 0 ? $"{said}&" : "")}entry={id}";
        bool IsGone(JournalEntry e) => e.Kind == JournalKind.Edit && !CanTakeBack(e);
        return new(
            ListingName,
            "edits",
            () => store.Journal(MostEntries, Place is null ? null : [.. Model.Index.Below(Place.Id).Select(e => e.Id)]),
            Model,
            e => $"{e.Id}",
            [
                new("no", "No.", e => $"{e.Id}")
                {
                    Number = e => e.Id,
                    IsRight = true,
                    Class = "num",
                    Width = "narrow",
                    IsSearched = false,
                },
                new("when", "When", e => ValueText.Utc(e.At))
                {
                    Number = e => e.At.Ticks,
                    Class = "num",
                    Cell = e => new(ValueText.Time(e.At)) { Title = ValueText.Utc(e.At) },
                },
                new("who", "Who", e => e.Who)
                {
                    Class = "muted",
                    IsFacet = true,
                    Width = "narrow",
                },
                new("what", "What", e => e.Summary)
                {
                    Width = "wide",
                    Cell = e => new($"{e.Summary}{(IsGone(e) ? " (taken back)" : "")}") { Href = Address(e.Id), Title = e.Summary },
                },
                new("state", "State", e => IsGone(e) ? "taken back"
                    : e.Kind == JournalKind.Edit ? "in effect"
                    : "takes back")
                {
                    Class = "muted small",
                    IsFacet = true,
                    IsSearched = false,
                    IsLive = true,
                },
                new("acts", "", _ => "")
                {
                    IsUnsorted = true,
                    IsSearched = false,
                    Class = "r acts",
                    Cell = e =>
                        new("")
                        {
                            // The form stands once on the page; each row has its button.
                            Content = CanTakeBack(e)
                                ? Html.Of(
                                    $"""
                                    <button class="act" form="undo" name="id" value="{e.Id}" aria-label="Take back: {e.Summary}">take
                                    back</button>
                                    """
                                )
                                : HtmlString.Empty,
                        },
                },
            ]
        )
        {
            Page = page,
            ClassOf = e => $"{(IsGone(e) ? "undone" : "")} {(e.Id == Entry ? "on" : "")}",
            Empty = Place is null ? "No edit has been made yet. Add a controller to begin." : "No edit has touched this place.",
        };
    }

    private Listing<(long Id, CommandEntry Entry)> GivenCommands() =>
        new(
            ListingName,
            "commands",
            () => store.Run.Commands(MostEntries),
            store.Run.Commands(1) is [var newest] ? newest.Id : 0L,
            c => $"{c.Id}",
            [
                new("when", "When", c => ValueText.Utc(c.Entry.At))
                {
                    Number = c => c.Entry.At.Ticks,
                    Class = "num",
                    Cell = c => new(ValueText.Time(c.Entry.At)) { Title = ValueText.Utc(c.Entry.At) },
                },
                new("who", "Who", c => c.Entry.Who)
                {
                    Class = "muted",
                    IsFacet = true,
                    Width = "narrow",
                },
                new("target", "Property or tag", c => c.Entry.Target) { Class = "tag", Width = "wide" },
                new("before", "Before", c => c.Entry.Before)
                {
                    Class = "num",
                    IsRight = true,
                    Width = "narrow",
                },
                new("wanted", "Wanted", c => c.Entry.Wanted)
                {
                    Class = "num",
                    IsRight = true,
                    Width = "narrow",
                },
                new("raw", "Raw", c => c.Entry.Written)
                {
                    Class = "num muted",
                    IsRight = true,
                    Width = "narrow",
                },
                new("outcome", "What came of it", c => c.Entry.Outcome) { IsFacet = true },
                new("reason", "Why", c => c.Entry.Reason) { Class = "small", Width = "wide" },
            ]
        )
        {
            Page = "/journal?commands=true",
            Empty = "No command has been given yet. Commands are given from Live.",
        };

    private void Show()
    {
        if (Entry is not { } id || store.Entry(id) is not var (head, changes))
            return;
        Opened = head;
        Changes = [.. changes.SelectMany(c => ChangeText.Of(c, Model)).Take(MostChanges)];
    }
}
