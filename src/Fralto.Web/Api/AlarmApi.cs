using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Runtime.Views;
using Fralto.Store;
using Fralto.Web.Live;

namespace Fralto.Web.Api;

/// <summary>Alarms out, and what people and programs do to them.</summary>
internal static class AlarmApi
{
    private const double MinutesOfWeek = 7 * 24 * 60;

    public static void MapAlarmApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1/alarms");
        api.MapGet("", (PlantRuntime runtime, ModelWorkspace workspace, string? path, int? limit, string? cursor) =>
                Standing(runtime.Snapshot, workspace.Released, path, limit, cursor)
            )
            .WithSummary("Alarms that are not normal, most urgent first")
            .WithDescription("path keeps what lies at or below a path. Shelved, suppressed and out of service are among them: see state.")
            .Pages<AlarmDto>()
            .ProducesProblem(StatusCodes.Status404NotFound);
        api.MapGet("/log", Log)
            .WithSummary("Every step of every alarm, the newest first")
            .WithDescription(
                "path keeps what lies at or below a path; from and to are times (ISO 8601), to not included; priority 1 to 4; label "
                    + "is key=value."
            )
            .Pages<AlarmEventDto>()
            .ProducesProblem(StatusCodes.Status404NotFound);
        foreach (
            var (name, cause, summary) in new[]
            {
                ("acknowledge", AlarmCause.AcknowledgedByOperator, "Acknowledges alarms"),
                ("reset", AlarmCause.ResetByOperator, "Resets alarms that are latched"),
                ("shelve", AlarmCause.ShelvedByOperator, "Shelves alarms for some minutes, at most as long as their rule allows; say why"),
                ("unshelve", AlarmCause.UnshelvedByOperator, "Brings back alarms that are shelved"),
                ("out-of-service", AlarmCause.TakenOutOfService, "Takes alarms out of service; say why"),
                ("in-service", AlarmCause.PutBackInService, "Puts alarms back in service"),
            }
        )
            api.MapPost($"/{name}", (AlarmActDto acts, HttpContext context, PlantRuntime runtime, ModelWorkspace workspace) =>
                    ActAsync(cause, acts, context, runtime, workspace.Released)
                )
                .WithSummary(summary)
                .Produces<AlarmActedDto>()
                .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
    }

    private static IResult Standing(EngineSnapshot snapshot, PlantModel model, string? path, int? limit, string? cursor)
    {
        if (Below(model, path, out var problem) is not { } below)
            return problem!;
        return ListPage.Of(
            [.. snapshot.Alarms.Where(a => below(a.Key.EquipmentId)).Select(a => AlarmFacts.Of(snapshot, a)).OfType<AlarmFacts>()],
            a => $"{a.Alarm.Key.EquipmentId}.{a.Alarm.Key.PropertyId}.{a.Alarm.Key.Condition}",
            limit,
            cursor,
            a => new AlarmDto(
                a.Point.Path,
                a.Code,
                a.Watched is null ? a.Alarm.Key.Condition : null,
                a.Words,
                a.Limit.Priority,
                a.Alarm.State,
                a.Watched is null ? a.Limit.Setpoint : a.Says.Setpoint,
                Finite(a.Alarm.RaisedValue),
                Finite(a.Value.Value),
                ValueText.Unit(a.Point),
                a.Alarm.RaisedAt.UtcDateTime,
                a.Alarm.ClearedAt?.UtcDateTime,
                a.Alarm.AcknowledgedBy,
                a.Alarm.AcknowledgedAt?.UtcDateTime,
                a.Alarm.Message,
                Translations(a.Alarm.Translations),
                a.Says.Class,
                a.Says.Cause,
                a.Says.Consequence,
                a.Says.Action,
                a.Says.RespondSeconds,
                a.Alarm.Captured.DistinctBy(c => c.Key).ToDictionary(c => c.Key, c => c.Value),
                a.Alarm.Shelving,
                a.Alarm.Leave
            )
        );
    }

    private static IResult Log(
        RunStore store,
        ModelWorkspace workspace,
        string? path,
        DateTimeOffset? from,
        DateTimeOffset? to,
        int? priority,
        string? label,
        string? who,
        int? limit,
        string? cursor
    )
    {
        if (priority is { } p && p is not (>= 1 and <= 4))
            return Results.Problem("A priority is 1, 2, 3 or 4.", statusCode: StatusCodes.Status400BadRequest);
        var model = workspace.Released;
        if (Below(model, path, out var problem) is null)
            return problem!;
        if (label is not null && label.Split('=') is not [{ Length: > 0 }, { Length: > 0 }])
            return Results.Problem("A label is written key=value.", statusCode: StatusCodes.Status400BadRequest);
        var asked = new AlarmFilter
        {
            Places = path?.Trim('/') is { Length: > 0 } at ? [model.Index.Find(at)!.Id] : [],
            Labels = label is null ? [] : [label],
        };
        var filter = new AlarmLogFilter
        {
            From = from,
            To = to,
            Equipment = asked.InstancesOf(model),
            Priorities = priority is { } one ? [one] : [],
            Who = who,
        };
        return ListPage.ByNumber(
            limit,
            cursor,
            (count, before) => store.AlarmEvents(filter, count, before),
            e => new AlarmEventDto(
                e.Path,
                e.Limit,
                e.Time.UtcDateTime,
                e.SourceTime?.UtcDateTime,
                e.State,
                e.Cause,
                Finite(e.Value),
                e.Priority,
                e.Who,
                e.Message,
                Translations(e.Translations),
                e.Comment
            )
        );
    }

    private static Dictionary<string, string>? Translations(string lines) =>
        lines.Length == 0 ? null : MessageText.TranslationsOf(lines).DistinctBy(t => t.Language).ToDictionary(t => t.Language, t => t.Text);

    private static async Task<IResult> ActAsync(
        AlarmCause cause,
        AlarmActDto body,
        HttpContext context,
        PlantRuntime runtime,
        PlantModel model
    )
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        if (body.Alarms is not { Count: > 0 } named)
            return Refused("Name at least one alarm: { \"alarms\": [{ \"path\": …, \"limit\": \"H\" }] }.");
        if (named.Count > PlantRuntime.MostActs)
            return Refused($"{named.Count} alarms at once; {PlantRuntime.MostActs} is the most.");
        if (body.Comment is { Length: > 500 } || body.Comment?.Any(c => char.IsControl(c)) == true)
            return Refused("A comment is one line of at most 500 characters.");
        if (cause == AlarmCause.ShelvedByOperator && body.Minutes is not (> 0 and <= MinutesOfWeek))
            return Refused("Say for how many minutes, above 0.");
        var snapshot = runtime.Snapshot;
        var (acts, refused) = (new List<AlarmAct>(), new List<AlarmRefusedDto>());
        var names = new Dictionary<AlarmKey, AlarmNameDto>();
        foreach (var name in named)
        {
            void Refuse(string why) => refused.Add(new(name.Path ?? "", name.Limit ?? "", why));
            if (TagApi.Named(model, name.Path) is not var (instance, property))
                Refuse("nothing has this path");
            else if (snapshot.Plan.KeyOf(instance.Id, property.Id, name.Limit ?? "") is not { } key)
                Refuse("it has no such limit");
            else
            {
                var says = snapshot.Find(key.EquipmentId, key.PropertyId)?.Point.LimitOf(key.Condition)?.Says;
                var (act, why) = AlarmActs.Of(model, key, says, cause, body.Comment ?? "", body.Minutes);
                if (act is null)
                    Refuse(why);
                else if (names.TryAdd(key, name))
                    acts.Add(act);
            }
        }
        if (acts.Count > 0)
            foreach (var (key, why) in await runtime.ActAsync(acts, Actor.Interface))
                refused.Add(new(names[key].Path ?? "", names[key].Limit ?? "", why));
        return Results.Ok(new AlarmActedDto(named.Count - refused.Count, refused));
    }

    private static IResult Refused(string why) => Results.Problem(why, statusCode: StatusCodes.Status422UnprocessableEntity);

    /// <summary>Tells what lies at or below a path; null, and why, when nothing has it.</summary>
    private static Func<long, bool>? Below(PlantModel model, string? path, out IResult? problem)
    {
        problem = null;
        if (path?.Trim('/') is not { Length: > 0 } at)
            return _ => true;
        if (model.Index.Find(at) is { } node && model.Index.RangeOf(node.Id) is var (from, to))
            return id => model.Index.RangeOf(id) is var (its, _) && its >= from && its < to;
        problem = Results.Problem($"Nothing has the path '{at}'.", statusCode: StatusCodes.Status404NotFound);
        return null;
    }

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;
}
