using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.Runtime.Releasing;
using Fralto.Runtime.Views;
using Fralto.Store;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>What is found, what is unreleased, and the way to the next release.</summary>
public sealed class ReviewModel(ReleaseDesk desk, TrialDesk trial, FindingCache findings, PlantStore store, TimeProvider clock) : FraltoPage
{
    /// <summary>How many changes and findings are shown before all of them are asked for.</summary>
    public const int Most = 60;

    private ReviewView? _view;

    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public ReviewQuery Query { get; set; } = new();

    /// <summary>The releases, and what can be done with them.</summary>
    public ReleaseDesk Desk => desk;

    /// <summary>How the trial stands.</summary>
    public TrialState Trial => trial.State;

    /// <summary>Findings and changes.</summary>
    public ReviewView View =>
        _view ??= MakeView() with { Accepted = [.. store.Releases.Accepted().Where(a => a.Until is null || a.Until > clock.GetUtcNow())] };

    /// <summary>The earlier release changes are shown since: the one asked for, that which runs, or the one before it while nothing is
    /// unreleased; 0 for none.</summary>
    public int Since { get; private set; }

    /// <summary>The release up to which changes are shown; 0 for the working model.</summary>
    public int Until { get; private set; }

    /// <summary>True where the changes shown are those the next release would hold.</summary>
    public bool IsNext => Until == 0 && Workspace.State is { IsAutomatic: false } state && Since == state.Number;

    /// <summary>True while the working model has not been compiled yet, so that nothing can be said of what it would do.</summary>
    public bool IsBehind => Workspace.State is { IsUnreleased: true } state && !ReferenceEquals(Runtime.WorkingModel, state.Model);

    /// <summary>What mends findings with one press.</summary>
    public FindingFixes Fixes => _fixes ??= new(Model);

    private FindingFixes? _fixes;

    /// <summary>Bindings checked, and how many there are.</summary>
    public (int Checked, int All) Checks => (Model.Bindings.Values.Count(b => b.Checked is not null), Model.Bindings.Count);

    /// <summary>What a change means at run time; null where that cannot be said.</summary>
    public ReviewEffect? EffectOf(ReviewChange row) =>
        IsNext && !IsBehind
            ? ReviewEffect.Of(row, View.Before, View.After, _released ??= new(Runtime.Snapshot), _working ??= new(Runtime.WorkingSnapshot))
            : null;

    private StandingAlarms? _released;
    private StandingAlarms? _working;

    public IActionResult OnGet(bool trialOnly = false) =>
        trialOnly ? Partial("_ReviewTrial", this)
        : Query.Since is { } since && desk.All.All(r => r.Number != since)
        || Query.Until is { } until && desk.All.All(r => r.Number != until)
            ? NotFound()
        : Page();

    /// <summary>Makes the next release, or one of a part.</summary>
    /// <param name="part">The part: the id of a place, or template:ID; null for all.</param>
    /// <param name="along">True takes along what the part needs.</param>
    public async Task<IActionResult> OnPostReleaseAsync(string? part, bool along)
    {
        var reader = new FormReader(Request.Form);
        var state = Workspace.State;
        NetChanges? chosen = null;
        if (!string.IsNullOrEmpty(part))
        {
            chosen = PartOf(state, part);
            if (along)
                chosen = PartialRelease.Of(state.Model, state.Released, state.Changes, chosen).With;
        }
        var outcome = await desk.ReleaseAsync(reader.Text("Note", ReleaseDesk.LongestNote + 1), Actor, reader.Seen, chosen);
        if (outcome.Release is not { } release)
            return Again(outcome.Problem!, reader, "Note");
        Done = $"Release {release.Number} is made: {release.Note}";
        return RedirectToPage();
    }

    /// <summary>Takes one change back, brings a release back, or takes all that is unreleased back.</summary>
    /// <param name="change">The change.</param>
    /// <param name="number">The release.</param>
    /// <param name="release">True releases what is brought back at once.</param>
    public async Task<IActionResult> OnPostBackAsync(string? change, int? number, bool release)
    {
        var reader = new FormReader(Request.Form);
        if (number is { } back && release)
        {
            var made = await desk.ReleaseAgainAsync(back, reader.Text("Note", ReleaseDesk.LongestNote + 1), Actor);
            if (made.Release is null)
                return Again(made.Problem!, reader);
            Done = $"Release {back} runs again, as release {made.Release.Number}";
            return RedirectToPage();
        }
        return Turned(
            number is { } brought ? desk.BringBack(brought, Actor)
                : change is not null ? desk.TakeBack(change, Actor)
                : desk.Discard(Actor),
            reader
        );
    }

    /// <summary>Begins or ends a trial.</summary>
    public IActionResult OnPostTrial(bool stop, double minutes = 10)
    {
        var reader = new FormReader(Request.Form);
        if (stop)
            trial.Stop();
        else if (!double.IsFinite(minutes) || Math.Abs(minutes) > 1e6)
            return Again("Say for how many minutes.", reader);
        else if (!Workspace.State.IsUnreleased)
            return Again("Nothing is unreleased, so there is nothing to be tried.", reader);
        else if (trial.Start(TimeSpan.FromMinutes(minutes)) is { } problem)
            return Again(problem, reader);
        return RedirectToPage(new { at = Query.At });
    }

    /// <summary>Lets whatever is edited run at once.</summary>
    public IActionResult OnPostAutomatic()
    {
        try
        {
            Workspace.ReleaseAutomatically();
            Done = "Whatever is edited runs at once from now on, until the next release is made by hand";
            return RedirectToPage();
        }
        catch (StoreException e)
        {
            return Again(e.Message, new FormReader(Request.Form));
        }
    }

    /// <summary>Mends a finding, or all that have one certain answer at the place.</summary>
    /// <param name="finding">Which; null for all.</param>
    public IActionResult OnPostFix(string? finding)
    {
        var fixes = FixesOf(finding is null ? View.ShownFindings : [.. View.Found.Where(f => f.Key == finding)]);
        return Turned(
            fixes.Count == 0 ? EditOutcome.Refused("", "That finding is not there any more.")
                : fixes.Count == 1 ? Workspace.Do(fixes[0].Fix.Edit, Actor)
                : Workspace.Do(new Several([.. fixes.Select(f => f.Fix.Edit)], $"Mend {fixes.Count} findings"), Actor),
            new FormReader(Request.Form)
        );
    }

    /// <summary>Accepts a finding, or accepts it no longer.</summary>
    /// <param name="finding">Which.</param>
    /// <param name="not">True accepts it no longer.</param>
    public IActionResult OnPostAccept(string finding, bool not)
    {
        var reader = new FormReader(Request.Form);
        try
        {
            if (not)
                store.Releases.Reject([finding]);
            else if (reader.Text("Reason") is not { Length: > 0 } reason)
                return Again("Say why it is as it is meant to be.", reader);
            else if (View.Found.FirstOrDefault(f => f.Key == finding) is not { } row)
                return Again("That finding is not there any more.", reader);
            else if (row.Finding.Severity == FindingSeverity.Error)
                return Again("An error cannot be accepted; mend it.", reader);
            else
            {
                var days = reader.Text("Days") is { Length: > 0 } ? reader.Whole("Days", "The days it holds") : (int?)null;
                if (reader.HasProblems || days is < 1 or > 3650)
                    return Again("It holds for 1 to 3650 days; leave it empty for good.", reader);
                store.Releases.Accept([
                    new(finding, reason, Actor.Name, clock.GetUtcNow(), days is { } d ? clock.GetUtcNow().AddDays(d) : null),
                ]);
                Done = $"Accepted: {row.Finding.Subject} {row.Finding.Words}";
            }
            return RedirectToPage(new { at = Query.At });
        }
        catch (StoreException e)
        {
            return Again(e.Message, reader);
        }
    }

    /// <summary>The findings with one certain answer, each with it.</summary>
    public IReadOnlyList<(ModelFinding Row, FindingFix Fix)> FixesOf(IReadOnlyList<ModelFinding> rows) =>
        [
            .. rows.Select(f => (f, Fixes.Of(f.Finding.Code, f.Kind, f.Id)))
                .Where(f => f.Item2 is not null)
                .DistinctBy(f => f.Item2)
                .Take(Several.Most)!,
        ];

    private static NetChanges PartOf(WorkspaceState state, string part) =>
        part.StartsWith("template:", StringComparison.Ordinal) && long.TryParse(part["template:".Length..], out var template)
            ? PartialRelease.Of(state.Changes, template)
        : long.TryParse(part, out var place) ? PartialRelease.Below(state.Model, state.Released, state.Changes, place)
        : NetChanges.None;

    private ReviewView MakeView()
    {
        var state = Workspace.State;
        var open = ReviewView.Open(findings.All, store.Releases.Accepted(), clock.GetUtcNow());
        Until = Query.Until ?? 0;
        // While nothing is unreleased, what the last release changed is more than an empty page.
        Since = Query.Since ?? (state.IsUnreleased || state.IsAutomatic ? state.Number : Math.Max(0, state.Number - 1));
        if (Query.Since is null && Until == 0 && !state.IsUnreleased && !state.IsAutomatic)
            Until = state.Number;
        try
        {
            if (Until == 0 && Since == state.Number && !state.IsAutomatic)
                return new(
                    state.Released,
                    state.Model,
                    ReviewList.Of(state.Released, state.Model, state.Changes),
                    open,
                    Query.At,
                    Query.Who
                );
            if (Since == 0)
                return new(state.Model, state.Model, [], open, Query.At, Query.Who);
            var (before, after) = (desk.ModelOf(Since) ?? PlantModel.Empty, Until == 0 ? state.Model : desk.ModelOf(Until) ?? state.Model);
            return new(before, after, ReviewList.Of(before, after), open, Query.At, Query.Who);
        }
        catch (StoreException e)
        {
            Refusal = e.Message;
            return new(state.Model, state.Model, [], open, Query.At, Query.Who);
        }
    }

    private IActionResult Turned(EditOutcome outcome, FormReader reader)
    {
        if (outcome.IsRefused)
            return Again(string.Join(" ", outcome.Problems.Select(p => p.Message)), reader);
        Done = outcome.Summary;
        return RedirectToPage(new { at = Query.At });
    }

    private PageResult Again(string problem, FormReader reader, string field = "")
    {
        Form = reader.State(field.Length > 0 ? [new(field, problem)] : []);
        Refusal = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}
