using Fralto.Core.Exchange;
using Fralto.Core.Review;
using Fralto.Runtime.Releasing;
using Fralto.Store;
using Fralto.Web.Exchange;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Api;

/// <summary>Releases over REST: what there is, what tells them apart, making one, going back, trying.</summary>
internal static class ReleaseApi
{
    private const long LargestFile = 512L * 1024 * 1024;

    public static void MapReleaseApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1");
        api.MapGet("/releases", (ReleaseDesk desk, ModelWorkspace workspace, int? limit, string? cursor) =>
                ListPage.Of(desk.All, r => $"{r.Number}", limit, cursor, r => Of(r, desk, workspace))
            )
            .WithSummary("All releases, the newest first")
            .Produces<ListPage<ReleaseDto>>();
        api.MapGet("/releases/unreleased", (ModelWorkspace workspace) => Unreleased(workspace.State))
            .WithSummary("How the working model stands to what runs")
            .Produces<UnreleasedDto>();
        api.MapGet("/releases/{number:int}/model", Model).WithSummary("The whole model a release holds");
        api.MapGet("/releases/{number:int}/file", FileOf).WithSummary("A release as a file, to be taken to another Fralto");
        api.MapPost("/releases/import", ImportAsync)
            .WithSummary("Makes a release of another Fralto the working model; map=CONTROLLER=HOST:PORT says where controllers are here")
            .WithMetadata(new RequestSizeLimitAttribute(LargestFile))
            .Accepts<ReleaseFile>("application/json")
            .Produces<DoneDto>();
        api.MapGet("/releases/diff", Diff)
            .WithSummary("What tells two releases apart, or a release from the working model: from, to (left out: the working model)")
            .Produces<ReviewChangeDto[]>();
        api.MapGet("/releases/diff.csv", DiffCsv).WithSummary("The same as a table");
        api.MapPost("/releases", ReleaseAsync)
            .WithSummary("Makes the working model the next release, or the part at and below a place, or of a template")
            .Produces<ReleaseDto>()
            .ProducesProblem(StatusCodes.Status409Conflict);
        api.MapPost("/releases/{number:int}/back", BackAsync)
            .WithSummary("Brings a release back: as the working model, or with release true straight as a new release")
            .ProducesProblem(StatusCodes.Status409Conflict);
        api.MapPost("/releases/discard", (ReleaseDesk desk) => Edited(desk.Discard(Actor.Interface)))
            .WithSummary("Takes back everything that is unreleased, as one edit that can itself be taken back");
        api.MapPut("/releases/automatic", Automatic)
            .WithSummary("automatic true: whatever is edited runs at once, until the next release is made");
        api.MapGet("/trial", (TrialDesk trial) => trial.State)
            .WithSummary("What trying the working model beside the running one has shown until now");
        api.MapPost("/trial", Try).WithSummary("Begins a trial for so many seconds; 0 ends the one there is");
    }

    private static ReleaseDto Of(Release release, ReleaseDesk desk, ModelWorkspace workspace) =>
        new(
            release.Number,
            release.At,
            release.Who,
            release.Note,
            release.Hash,
            release.Changes,
            release.Warnings,
            release.Hints,
            release.Origin,
            release.PauseMilliseconds,
            release.Trial,
            ReferenceEquals(desk.Running, release) && !workspace.State.IsAutomatic
        );

    private static UnreleasedDto Unreleased(WorkspaceState state) =>
        new(
            state.IsAutomatic,
            state.Number,
            state.Changes.Count,
            [
                .. state
                    .Changes.All.GroupBy(c => c.Who)
                    .OrderBy(g => g.Key, StringComparer.Ordinal)
                    .Select(g => new WhoChangedDto(g.Key, g.Count(), g.Max(c => c.At))),
            ]
        );

    private static IResult Model(int number, ReleaseDesk desk)
    {
        try
        {
            return desk.ModelOf(number) is { } model ? Results.Bytes(ModelFormat.Write(model), "application/json") : Missing(number);
        }
        catch (StoreException e)
        {
            return Results.Problem(e.Message, statusCode: StatusCodes.Status409Conflict);
        }
    }

    private static IResult FileOf(int number, ReleaseDesk desk)
    {
        try
        {
            return desk.All.FirstOrDefault(r => r.Number == number) is { } release && desk.ModelOf(number) is { } model
                ? Results.Bytes(
                    new ReleaseFile(
                        ReleaseFile.FormatName,
                        ReleaseFile.Newest,
                        number,
                        release.At,
                        release.Who,
                        release.Note,
                        ModelFormat.DocumentOf(model)
                    ).Write(),
                    "application/json",
                    $"release-{number}.json"
                )
                : Missing(number);
        }
        catch (StoreException e)
        {
            return Results.Problem(e.Message, statusCode: StatusCodes.Status409Conflict);
        }
    }

    private static async Task<IResult> ImportAsync(HttpContext context, ModelWorkspace workspace, [FromQuery] string[]? map)
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        using var body = new MemoryStream();
        await context.Request.Body.CopyToAsync(body, context.RequestAborted);
        if (ReleaseFile.Read(body.GetBuffer().AsSpan(0, (int)body.Length), out var problem) is not { } release)
            return FindingsDto.Refusal([new(problem!.Field, problem.Message)]);
        var places = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var one in map ?? [])
            if (one.Split('=', 2) is [var name, var place])
                places[name] = place;
            else
                return Results.Problem(
                    $"'{one}' is no map; write CONTROLLER=HOST:PORT.",
                    statusCode: StatusCodes.Status422UnprocessableEntity
                );
        if (release.Mapped(places, out var wrong) is not { } model)
            return Results.Problem(wrong, statusCode: StatusCodes.Status422UnprocessableEntity);
        var outcome = workspace.Do(ReleaseCommand.TakenIn(release, model), Actor.Interface);
        return outcome.IsRefused
            ? FindingsDto.Refusal([.. outcome.Problems.Select(p => new PlacedDto(p.Field, p.Message))])
            : Results.Ok(new DoneDto(outcome.Summary, outcome.Changes.Length));
    }

    private static IResult Missing(int number) =>
        Results.Problem($"There is no release {number}.", statusCode: StatusCodes.Status404NotFound);

    private static IResult Diff(int? from, int? to, ReleaseDesk desk, ModelWorkspace workspace) =>
        Rows(from, to, desk, workspace, out var problem) is { } rows
            ? Results.Ok(
                rows.Select(r => new ReviewChangeDto(
                    r.Key,
                    r.Kind,
                    r.Of.Id,
                    r.Group,
                    r.Subject,
                    r.Words,
                    [.. r.Fields.Select(f => new FieldChangeDto(f.Name, f.Before, f.After))],
                    r.Reach,
                    r.Who,
                    r.At == default ? null : r.At
                ))
            )
            : problem!;

    private static IResult DiffCsv(int? from, int? to, ReleaseDesk desk, ModelWorkspace workspace) =>
        Rows(from, to, desk, workspace, out var problem) is { } rows
            ? Results.Bytes(
                TableFile.WriteCsv(
                    new Table(
                        ["Group", "Kind", "Subject", "Field", "Before", "After", "Reach", "Who", "When"],
                        [
                            .. rows.SelectMany(r =>
                                r.Fields.DefaultIfEmpty(new FieldChange("", "", ""))
                                    .Select(f =>
                                        (string[])
                                            [
                                                r.Group,
                                                r.Kind.ToString(),
                                                r.Subject,
                                                f.Name,
                                                f.Before,
                                                f.After,
                                                r.Reach,
                                                r.Who,
                                                r.At == default ? "" : r.At.UtcDateTime.ToString("O"),
                                            ]
                                    )
                            ),
                        ]
                    )
                ),
                "text/csv",
                $"changes-{from ?? 0}-{(to is { } until ? $"{until}" : "working")}.csv"
            )
            : problem!;

    private static IReadOnlyList<ReviewChange>? Rows(int? from, int? to, ReleaseDesk desk, ModelWorkspace workspace, out IResult? problem)
    {
        problem = null;
        var state = workspace.State;
        var since = from ?? state.Number;
        try
        {
            if (to is null && since == state.Number && !state.IsAutomatic)
                return ReviewList.Of(state.Released, state.Model, state.Changes);
            if (desk.ModelOf(since) is not { } before)
                problem = Missing(since);
            else if (to is null)
                return ReviewList.Of(before, state.Model);
            else if (desk.ModelOf(to.Value) is { } after)
                return ReviewList.Of(before, after);
            else
                problem = Missing(to.Value);
        }
        catch (StoreException e)
        {
            problem = Results.Problem(e.Message, statusCode: StatusCodes.Status409Conflict);
        }
        return null;
    }

    private static async Task<IResult> ReleaseAsync(ReleaseOrderDto order, HttpContext context, ReleaseDesk desk, ModelWorkspace workspace)
    {
        var seen = Seen.Read(context.Request, out var unread);
        if (unread is not null)
            return unread;
        var state = workspace.State;
        NetChanges? part = null;
        if (order.Place is { Length: > 0 } path)
        {
            if ((state.Model.Index.Find(path.Trim('/')) ?? state.Released.Index.Find(path.Trim('/'))) is not { } place)
                return Results.Problem($"Nothing has the path '{path}'.", statusCode: StatusCodes.Status404NotFound);
            part = PartialRelease.Below(state.Model, state.Released, state.Changes, place.Id);
        }
        else if (order.Template is { Length: > 0 } code)
        {
            if (
                state.Model.Templates.Values.FirstOrDefault(t => t.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
                is not { } template
            )
                return Results.Problem($"There is no template {code}.", statusCode: StatusCodes.Status404NotFound);
            part = PartialRelease.Of(state.Changes, template.Id);
        }
        if (part is not null && order.Along)
            part = PartialRelease.Of(state.Model, state.Released, state.Changes, part).With;
        return Made(await desk.ReleaseAsync(order.Note ?? "", Actor.Interface, seen, part), desk, workspace);
    }

    private static async Task<IResult> BackAsync(int number, ReleaseBackDto order, ReleaseDesk desk, ModelWorkspace workspace)
    {
        if (desk.All.All(r => r.Number != number))
            return Missing(number);
        return order.Release
            ? Made(await desk.ReleaseAgainAsync(number, order.Note ?? "", Actor.Interface), desk, workspace)
            : Edited(desk.BringBack(number, Actor.Interface));
    }

    private static IResult Made(ReleaseOutcome outcome, ReleaseDesk desk, ModelWorkspace workspace) =>
        outcome.Release is { } release
            ? Results.Ok(Of(release, desk, workspace))
            : Results.Problem(outcome.Problem, statusCode: StatusCodes.Status409Conflict);

    private static IResult Edited(Core.Edits.EditOutcome outcome) =>
        outcome.IsRefused
            ? Results.Problem(string.Join(" ", outcome.Problems.Select(p => p.Message)), statusCode: StatusCodes.Status409Conflict)
            : Results.Ok(new DoneDto(outcome.Summary, outcome.Changes.Length));

    private static IResult Automatic(AutomaticDto wanted, ModelWorkspace workspace)
    {
        if (!wanted.Automatic)
            return Results.Problem(
                "Nothing runs at once any more as soon as a release is made: POST /api/v1/releases.",
                statusCode: StatusCodes.Status422UnprocessableEntity
            );
        try
        {
            workspace.ReleaseAutomatically();
            return Results.Ok(Unreleased(workspace.State));
        }
        catch (StoreException e)
        {
            return Results.Problem(e.Message, statusCode: StatusCodes.Status503ServiceUnavailable);
        }
    }

    private static IResult Try(TryDto wanted, TrialDesk trial, ModelWorkspace workspace)
    {
        if (wanted.Seconds == 0)
            trial.Stop();
        else if (!workspace.State.IsUnreleased)
            return Results.Problem("Nothing is unreleased, so there is nothing to be tried.", statusCode: StatusCodes.Status409Conflict);
        else if (
            (
                double.IsFinite(wanted.Seconds) && Math.Abs(wanted.Seconds) < 1e9
                    ? trial.Start(TimeSpan.FromSeconds(wanted.Seconds))
                    : "Say for how many seconds."
            ) is
            { } problem
        )
            return Results.Problem(problem, statusCode: StatusCodes.Status422UnprocessableEntity);
        return Results.Ok(trial.State);
    }
}
