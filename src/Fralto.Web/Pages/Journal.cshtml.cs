using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Store;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The newest edits: who, when, what, before and after; taking them back and making them again.</summary>
public sealed class JournalModel(PlantStore store) : FraltoPage
{
    private const int Shown = 300;
    private const int MostChanges = 200;

    /// <summary>Only edits at or below this place; null for all.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>The entry whose changes are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Entry { get; set; }

    public IReadOnlyList<JournalEntry> Entries { get; private set; } = [];

    /// <summary>Only entries with a lower number: the older ones.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Before { get; set; }

    /// <summary>True when there may be older entries than those shown.</summary>
    public bool HasMore => Entries.Count == Shown;

    /// <summary>True to show what controllers were told to do instead of edits.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Commands { get; set; }

    /// <summary>What controllers were told to do, newest first.</summary>
    public IReadOnlyList<CommandEntry> Given { get; private set; } = [];

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
            return back is not null && Url.IsLocalUrl(back) ? LocalRedirect(back) : RedirectToPage(new { at = At, before = Before });
        }
        Refusal = string.Join(" ", outcome.Problems.Select(p => p.Message));
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Show();
        return Page();
    }

    private void Show()
    {
        if (Commands)
            Given = [.. store.Run.Commands(Shown).Select(c => c.Entry)];
        Entries = store.Journal(Shown, Place is null ? null : [.. Model.Index.Below(Place.Id).Select(e => e.Id)], Before ?? long.MaxValue);
        if (Entry is { } id && store.Entry(id) is var (_, changes))
            Changes = [.. changes.SelectMany(c => ChangeText.Of(c, Model)).Take(MostChanges)];
    }
}
