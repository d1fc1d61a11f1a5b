using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Store;
using Fralto.Web.Live;
using Fralto.Web.Pages;

namespace Fralto.Web.Api;

/// <summary>The REST interface under /api/v1.</summary>
internal static class PlantApi
{
    public static void MapPlantApi(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/healthz", Health)
            .WithSummary("Whether the engine runs, and what is amiss: 200 while it runs, degraded or not, else 503")
            .Produces<HealthDto>();

        var api = routes.MapGroup("/api/v1");
        api.MapGet("/equipment", (ModelWorkspace workspace, int? limit, string? cursor) => Equipment(workspace.Model, limit, cursor))
            .WithSummary("All equipment, each parent before its children")
            .Pages<EquipmentDto>();
        api.MapGet("/templates", (ModelWorkspace workspace, int? limit, string? cursor) => Templates(workspace.Model, limit, cursor))
            .WithSummary("All templates with the properties they declare and inherit")
            .Pages<TemplateDto>();
        api.MapGet("/controllers", (ModelWorkspace workspace, PlantRuntime runtime, int? limit, string? cursor) =>
                Controllers(workspace.State, runtime, limit, cursor)
            )
            .WithSummary("All controllers and how their links stand")
            .Pages<ControllerDto>();
        api.MapGet("/tags", (ModelWorkspace workspace, PlantRuntime runtime, int? limit, string? cursor) =>
                Tags(workspace.Model, runtime.WorkingSnapshot, limit, cursor)
            )
            .WithSummary("All tags with their newest reading")
            .Pages<TagDto>();
        api.MapGet("/findings", Findings)
            .WithSummary("Everything there is to say of the plant: errors, warnings, hints")
            .WithDescription("path keeps what lies at or below a path; code is that of one kind; severity is Error, Warning or Hint.")
            .Pages<FindingDto>()
            .ProducesProblem(StatusCodes.Status404NotFound);
        api.MapGet("/values", (ModelWorkspace workspace, PlantRuntime runtime, string? path, int? limit, string? cursor) =>
                Values(workspace.Released, runtime.Snapshot, path, limit, cursor)
            )
            .WithSummary("Newest value of each property that has one")
            .WithDescription(
                "source says where a value comes from: tag, formula, entered or fixed. "
                    + "path keeps what lies at or below a path, for example Corvane/TarnQuay/Kilning. Codes are compared whole, so KLN1 "
                    + "does not match KLN10."
            )
            .Pages<ValueDto>()
            .ProducesProblem(StatusCodes.Status404NotFound);
    }

    /// <summary>Says of a list in the description of the interface that it comes in pages.</summary>
    public static RouteHandlerBuilder Pages<T>(this RouteHandlerBuilder list) =>
        list.Produces<ListPage<T>>().ProducesProblem(StatusCodes.Status400BadRequest).ProducesProblem(StatusCodes.Status410Gone);

    private static IResult Health(PlantRuntime runtime, ModelWorkspace workspace, PlantStore store)
    {
        var (storage, leftOut) = (store.Trouble?.Words, workspace.Aside.Count);
        return runtime.IsRunning
            ? Results.Ok(
                new HealthDto(storage is null && leftOut == 0 ? "healthy" : "degraded", "running", runtime.DroppedSamples, storage, leftOut)
            )
            : Results.Json(
                new HealthDto("unhealthy", "not running", runtime.DroppedSamples, storage, leftOut),
                statusCode: StatusCodes.Status503ServiceUnavailable
            );
    }

    private static string Key(long id) => id.ToString(CultureInfo.InvariantCulture);

    private static IResult Equipment(PlantModel model, int? limit, string? cursor) =>
        ListPage.Of(
            model.Index.EquipmentInOrder,
            e => Key(e.Id),
            limit,
            cursor,
            e => new EquipmentDto(
                e.Id,
                model.Index.PathOf(e.Id),
                e.Code,
                e.Name,
                e.Level,
                e.ParentId,
                e.TemplateId is { } t ? model.Templates[t].Code : null
            )
        );

    private static IResult Templates(PlantModel model, int? limit, string? cursor) =>
        ListPage.Of(
            [.. model.Templates.Values.OrderBy(t => t.Id)],
            t => Key(t.Id),
            limit,
            cursor,
            t => new TemplateDto(
                t.Id,
                t.Code,
                t.Name,
                t.ParentId is { } p ? model.Templates[p].Code : null,
                t.Description,
                model.Index.InstancesOf(t.Id).Count(),
                [.. model.Index.PropertiesOf(t.Id).Select(p => Property(model, p))]
            )
        );

    private static PropertyDto Property(PlantModel model, ResolvedProperty p) =>
        new(
            p.Id,
            p.Code,
            p.Name,
            p.Declaration.Kind,
            p.Declaration.Type,
            model.Templates[p.DeclaredBy].Code,
            p.Declaration.IsRequired,
            p.Facts.Unit,
            p.Facts.Range is { } range ? [range.Low, range.High] : null,
            model.ScaleOf(p.Facts) is { } scale ? ScaleEntry.Of(scale) : null,
            p.Facts.ScaleId is { } named ? model.Scales[named].Code : null,
            p.Facts.StateListId is { } set ? model.StateLists[set].Code : null,
            p.Facts.Value,
            [.. p.Limits.Select(l => new LimitDto(l.Condition, l.Setpoint, l.Deadband, l.Priority, l.OnDelay, l.OffDelay))]
        );

    private static IResult Controllers(WorkspaceState state, PlantRuntime runtime, int? limit, string? cursor) =>
        ListPage.Of(
            [.. state.Model.Controllers.Values.OrderBy(c => c.Id)],
            c => Key(c.Id),
            limit,
            cursor,
            c =>
            {
                var status = runtime.Links.StatusOf(c.Id);
                return new ControllerDto(
                    c.Id,
                    c.Name,
                    c.Protocol.Words(),
                    c.Connection.Place,
                    c.UpdateInterval.TotalMilliseconds,
                    state.Model.Index.TagsOf(c.Id).Count,
                    status?.State.ToString() ?? "Starting",
                    status?.Since.UtcDateTime,
                    status?.Reason,
                    status?.RoundTrip?.TotalMilliseconds,
                    status?.Requests ?? 0,
                    status?.Errors ?? 0,
                    status?.LatePolls ?? 0,
                    status?.Bytes ?? 0,
                    status?.Dropped ?? 0,
                    status?.LastError,
                    status?.LastErrorAt?.UtcDateTime,
                    status?.Clock,
                    ReleasedText.OfController(state, c.Id) ?? status?.Remark
                );
            }
        );

    private static IResult Tags(PlantModel model, EngineSnapshot snapshot, int? limit, string? cursor) =>
        ListPage.Of(
            model.Index.TagsInOrder,
            t => Key(t.Id),
            limit,
            cursor,
            t =>
            {
                var reading = snapshot.Reading(t.Id);
                return new TagDto(
                    t.Id,
                    model.Controllers[t.ControllerId].Name,
                    t.Name,
                    t.Address.ToString(),
                    t.Register?.Number,
                    t.Type,
                    t.WordOrder,
                    t.Count,
                    t.Unit,
                    t.UpdateClass,
                    t.Description,
                    reading is { } r && double.IsFinite(r.Raw) ? r.Raw : null,
                    reading is { } now ? StatusDto.Of(now.Status, now.Reason) : null,
                    reading is { } at ? When(at.Time) : null,
                    [
                        .. model
                            .Index.BindingsOf(t.Id)
                            .Select(b => $"{model.Index.PathOf(b.EquipmentId)}/{CodeOf(model, b.EquipmentId, b.PropertyId)}{b.Slice}"),
                    ]
                );
            }
        );

    private static string CodeOf(PlantModel model, long equipmentId, long propertyId) =>
        model.Index.PropertiesOf(model.Equipment[equipmentId].TemplateId!.Value).First(p => p.Id == propertyId).Code;

    private static IResult Values(PlantModel model, EngineSnapshot snapshot, string? path, int? limit, string? cursor)
    {
        var prefix = path?.Trim('/') ?? "";
        if (prefix.Length > 1000 || prefix.Any(c => !(char.IsAsciiLetterOrDigit(c) || c is '_' or '-' or '/')))
            return Results.Problem(
                $"A path is codes of letters, digits, _ and - joined by /, at most 1000 characters.",
                statusCode: StatusCodes.Status400BadRequest,
                title: "Not a path"
            );
        var points = Enumerable.Range(0, snapshot.Plan.Points.Length).Where(i => IsBelow(snapshot.Plan.Points[i].Path, prefix)).ToArray();
        if (
            points.Length == 0
            && prefix.Length > 0
            && !model.Index.EquipmentInOrder.Any(e => string.Equals(model.Index.PathOf(e.Id), prefix, StringComparison.OrdinalIgnoreCase))
        )
            return Results.Problem($"Nothing has the path {prefix}.", statusCode: StatusCodes.Status404NotFound, title: "No such path");
        return ListPage.Of(
            points,
            i => $"{Key(snapshot.Plan.Points[i].EquipmentId)}.{Key(snapshot.Plan.Points[i].PropertyId)}",
            limit,
            cursor,
            i => Value(model, snapshot, i)
        );
    }

    private static IResult Findings(
        ModelWorkspace workspace,
        FindingCache findings,
        string? path,
        string? code,
        string? severity,
        int? limit,
        string? cursor
    )
    {
        var (model, prefix) = (workspace.Model, path?.Trim('/') ?? "");
        var top = prefix.Length == 0 ? null : model.Index.Find(prefix);
        if (prefix.Length > 0 && top is null)
            return Results.Problem($"Nothing has the path '{prefix}'.", statusCode: StatusCodes.Status404NotFound);
        var range = top is null ? null : model.Index.RangeOf(top.Id);
        FindingSeverity? only = null;
        if (severity is not null)
            if (Enum.TryParse<FindingSeverity>(severity, true, out var read) && !char.IsAsciiDigit(severity[0]))
                only = read;
            else
                return Results.Problem(
                    $"'{severity}' is no severity; they are {string.Join(", ", Enum.GetNames<FindingSeverity>())}.",
                    statusCode: StatusCodes.Status400BadRequest
                );
        return ListPage.Of(
            [
                .. findings
                    .All.Where(f => only is null || f.Finding.Severity == only)
                    .Where(f => code is null || f.Finding.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
                    .Where(f =>
                        range is not { } at
                        || (
                            f.Kind == EntityKinds.Equipment
                            && model.Index.RangeOf(f.Id) is { } own
                            && own.From >= at.From
                            && own.From < at.To
                        )
                    ),
            ],
            f => f.Key.Replace(' ', '_'),
            limit,
            cursor,
            f => new FindingDto(
                f.Finding.Code,
                f.Finding.Severity,
                f.PathIn(model) is { Length: > 0 } place ? place : null,
                f.Finding.Subject,
                f.Finding.Words,
                f.Meaning.Mend
            )
        );
    }

    private static bool IsBelow(string path, string prefix) =>
        prefix.Length == 0
        || (path.StartsWith(prefix, StringComparison.OrdinalIgnoreCase) && (path.Length == prefix.Length || path[prefix.Length] == '/'));

    private static ValueDto Value(PlantModel model, EngineSnapshot snapshot, int index)
    {
        var (point, value, reading) = (
            snapshot.Plan.Points[index],
            snapshot.ValueOf(index),
            snapshot.ReadingOf(snapshot.Plan.Points[index].Tag)
        );
        var tag = model.Tags.GetValueOrDefault(snapshot.Plan.Tags[point.Tag].TagId);
        return new ValueDto(
            point.Path,
            point.Source.ToString().ToLowerInvariant(),
            Finite(value.Value),
            value.Text ?? point.States?.NameOf(value.Value),
            ValueText.Unit(point),
            point.Unit?.Code,
            StatusDto.Of(value.Status, value.Reason),
            When(value.Time),
            Finite(reading.Raw),
            tag is null ? null : model.Controllers[tag.ControllerId].Name,
            tag?.Address.ToString(),
            tag?.Type
        );
    }

    /// <summary>Null before the first reading.</summary>
    private static DateTime? When(DateTimeOffset time) => time.Ticks == 0 ? null : time.UtcDateTime;

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;
}
