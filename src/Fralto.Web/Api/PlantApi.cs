using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.Plant;
using Fralto.Core.Templates;
using Fralto.Store;
using Fralto.Web.Live;

namespace Fralto.Web.Api;

/// <summary>The REST interface under /api/v1.</summary>
internal static class PlantApi
{
    public static void MapPlantApi(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/healthz", Health).WithSummary("Whether the engine runs, and what is amiss: 200 while it runs, degraded or not, else 503").Produces<HealthDto>();

        var api = routes.MapGroup("/api/v1");
        api.MapGet("/equipment", (ModelWorkspace workspace) => Equipment(workspace.Model)).WithSummary("All equipment, each parent before its children");
        api.MapGet("/templates", (ModelWorkspace workspace) => Templates(workspace.Model)).WithSummary("All templates with the properties they declare and inherit");
        api.MapGet("/controllers", (ModelWorkspace workspace, PlantRuntime runtime) => Controllers(workspace.Model, runtime)).WithSummary("All controllers and how their links stand");
        api.MapGet("/tags", (ModelWorkspace workspace, PlantRuntime runtime) => Tags(workspace.Model, runtime.Snapshot)).WithSummary("All tags with their newest reading");
        api.MapGet("/alarms", (ModelWorkspace workspace, PlantRuntime runtime) => Alarms(runtime.Snapshot)).WithSummary("Alarms that are not normal, most urgent first");
        api.MapGet("/values", (ModelWorkspace workspace, PlantRuntime runtime, string? path) => Values(workspace.Model, runtime.Snapshot, path))
            .WithSummary("Newest value of each bound property")
            .WithDescription("path keeps what lies at or below a path, for example Corvane/TarnQuay/Kilning. Codes are compared whole, so KLN1 does not match KLN10.")
            .Produces<IEnumerable<ValueDto>>().ProducesProblem(StatusCodes.Status400BadRequest).ProducesProblem(StatusCodes.Status404NotFound);
    }

    private static IResult Health(PlantRuntime runtime, ModelWorkspace workspace, PlantStore store)
    {
        var (storage, leftOut) = (store.Trouble?.Words, workspace.Aside.Count);
        return runtime.IsRunning
            ? Results.Ok(new HealthDto(storage is null && leftOut == 0 ? "healthy" : "degraded", "running", runtime.DroppedSamples, storage, leftOut))
            : Results.Json(new HealthDto("unhealthy", "not running", runtime.DroppedSamples, storage, leftOut), statusCode: StatusCodes.Status503ServiceUnavailable);
    }

    private static IEnumerable<EquipmentDto> Equipment(PlantModel model) => model.Index.EquipmentInOrder.Select(e => new EquipmentDto(
        e.Id, model.Index.PathOf(e.Id), e.Code, e.Name, e.Level, e.ParentId, e.TemplateId is { } t ? model.Templates[t].Code : null));

    private static IEnumerable<TemplateDto> Templates(PlantModel model) => model.Templates.Values.OrderBy(t => t.Id).Select(t => new TemplateDto(
        t.Id, t.Code, t.Name, t.ParentId is { } p ? model.Templates[p].Code : null, t.Description, model.Index.InstancesOf(t.Id).Count(),
        [.. model.Index.PropertiesOf(t.Id).Select(p => Property(model, p))]));

    private static PropertyDto Property(PlantModel model, ResolvedProperty p) => new(
        p.Id, p.Code, p.Name, p.Declaration.Kind, p.Declaration.Type, model.Templates[p.DeclaredBy].Code, p.Declaration.IsRequired, p.Facts.Unit,
        p.Facts.Range is { } range ? [range.Low, range.High] : null,
        model.ScaleOf(p.Facts) is { } scale ? ScaleEntry.Of(scale) : null, p.Facts.ScaleId is { } named ? model.Scales[named].Code : null,
        p.Facts.StateSetId is { } set ? model.StateSets[set].Code : null, p.Facts.Value,
        [.. p.Limits.Select(l => new LimitDto(l.Condition, l.Setpoint, l.Deadband, l.Priority, l.OnDelay, l.OffDelay))]);

    private static IEnumerable<ControllerDto> Controllers(PlantModel model, PlantRuntime runtime) => model.Controllers.Values.OrderBy(c => c.Id).Select(c =>
    {
        var status = runtime.Links.StatusOf(c.Id);
        return new ControllerDto(
            c.Id, c.Name, c.Protocol.Words(), c.Connection.Place, c.UpdateInterval.TotalMilliseconds, model.Index.TagsOf(c.Id).Count,
            status?.State.ToString() ?? "Starting", status?.Since.UtcDateTime, status?.Reason, status?.RoundTrip?.TotalMilliseconds, status?.Requests ?? 0, status?.Errors ?? 0,
            status?.LatePolls ?? 0, status?.Bytes ?? 0, status?.Dropped ?? 0, status?.LastError, status?.LastErrorAt?.UtcDateTime, status?.Remark);
    });

    private static IEnumerable<TagDto> Tags(PlantModel model, EngineSnapshot snapshot) => model.Tags.Values.OrderBy(t => t.Id).Select(t =>
    {
        var reading = snapshot.Reading(t.Id);
        return new TagDto(
            t.Id, model.Controllers[t.ControllerId].Name, t.Name, t.Address.ToString(), t.Register?.Number, t.Type, t.WordOrder, t.Count, t.Unit, t.UpdateClass, t.Description,
            reading is { } r && double.IsFinite(r.Raw) ? r.Raw : null, reading is { } now ? StatusDto.Of(now.Status, now.Reason) : null, reading is { } at ? When(at.Time) : null,
            [.. model.Index.BindingsOf(t.Id).Select(b => $"{model.Index.PathOf(b.EquipmentId)}/{CodeOf(model, b.EquipmentId, b.PropertyId)}{b.Slice}")]);
    });

    private static string CodeOf(PlantModel model, long equipmentId, long propertyId) =>
        model.Index.PropertiesOf(model.Equipment[equipmentId].TemplateId!.Value).First(p => p.Id == propertyId).Code;

    private static IEnumerable<AlarmDto> Alarms(EngineSnapshot snapshot) => snapshot.Alarms.Select(a =>
    {
        var (point, value) = snapshot.Find(a.Key.EquipmentId, a.Key.PropertyId)!.Value;
        var limit = point.LimitOf(a.Key.Condition)!.Value;
        return new AlarmDto(
            point.Path, a.Key.Condition, limit.Priority, a.State, limit.Setpoint, a.RaisedValue, Finite(value.Value), ValueText.Unit(point),
            a.RaisedAt.UtcDateTime, a.ClearedAt?.UtcDateTime, a.AcknowledgedBy);
    });

    private static IResult Values(PlantModel model, EngineSnapshot snapshot, string? path)
    {
        var prefix = path?.Trim('/') ?? "";
        if (prefix.Length > 1000 || prefix.Any(c => !(char.IsAsciiLetterOrDigit(c) || c is '_' or '-' or '/')))
            return Results.Problem($"A path is codes of letters, digits, _ and - joined by /, at most 1000 characters.", statusCode: StatusCodes.Status400BadRequest, title: "Not a path");
        var points = Enumerable.Range(0, snapshot.Plan.Points.Length).Where(i => IsBelow(snapshot.Plan.Points[i].Path, prefix)).ToArray();
        if (points.Length == 0 && prefix.Length > 0 && !model.Index.EquipmentInOrder.Any(e => string.Equals(model.Index.PathOf(e.Id), prefix, StringComparison.OrdinalIgnoreCase)))
            return Results.Problem($"Nothing has the path {prefix}.", statusCode: StatusCodes.Status404NotFound, title: "No such path");
        return Results.Ok(points.Select(i => Value(model, snapshot, i)));
    }

    private static bool IsBelow(string path, string prefix) => prefix.Length == 0
        || (path.StartsWith(prefix, StringComparison.OrdinalIgnoreCase) && (path.Length == prefix.Length || path[prefix.Length] == '/'));

    private static ValueDto Value(PlantModel model, EngineSnapshot snapshot, int index)
    {
        var (point, value, reading) = (snapshot.Plan.Points[index], snapshot.Values[index], snapshot.Readings[snapshot.Plan.Points[index].Tag]);
        var tag = model.Tags.GetValueOrDefault(snapshot.Plan.Tags[point.Tag].TagId);
        return new ValueDto(
            point.Path, Finite(value.Value), value.Text ?? point.States?.NameOf(value.Value), ValueText.Unit(point), point.Unit?.Code, StatusDto.Of(value.Status, value.Reason),
            When(value.Time), Finite(reading.Raw), tag is null ? null : model.Controllers[tag.ControllerId].Name, tag?.Address.ToString(), tag?.Type);
    }

    /// <summary>Null before the first reading.</summary>
    private static DateTime? When(DateTimeOffset time) => time.Ticks == 0 ? null : time.UtcDateTime;

    private static double? Finite(double value) => double.IsFinite(value) ? value : null;
}
