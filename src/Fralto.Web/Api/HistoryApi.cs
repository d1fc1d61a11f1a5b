using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Runtime.Recording;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Api;

/// <summary>What was recorded, out: values as they came, between them, and the aggregates of OPC UA Part 13.</summary>
internal static class HistoryApi
{
    /// <summary>The most properties that are asked for at once.</summary>
    private const int MostPaths = 100;

    /// <summary>The most intervals of one property.</summary>
    private const int MostIntervals = 100_000;

    /// <summary>The most rows of a file.</summary>
    private const int MostRows = 5_000_000;

    /// <summary>The largest body: as many values as are taken at once, at some 100 bytes each.</summary>
    private const long LargestBody = HistoryText.MostLines * 100L;

    public static void MapHistoryApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1/history");
        api.MapGet("", GetAsync)
            .WithSummary("What was recorded of one property or of many")
            .WithDescription(
                "path is that of a property, as in /values; it may be given again for more. from and to are times (ISO 8601, UTC when no "
                    + "zone is said), to not included; the last hour when they are left out. Without aggregate: values as they came, in "
                    + "pages. With aggregate, a name of OPC UA Part 13 as TimeAverage, and interval in seconds: one row an interval. "
                    + "scale=now reads raw numbers with the scale of now instead of the one that was in force. format is json, csv or "
                    + "parquet; files are not paged."
            )
            .Pages<HistoryDto>()
            .ProducesProblem(StatusCodes.Status404NotFound);
        api.MapPost("", EnterAsync)
            .WithSummary("Takes values of the past in")
            .WithDescription(
                "As JSON: path, and values with time and value each, in the property's unit; a value of null is a gap. As text/csv: path "
                    + "in the query, lines of time and value in the body. What was recorded at the same moments gives way. dry=true only "
                    + "says what would be done. Nothing is taken in while anything is refused."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LargestBody))
            .Produces<EnteredHistoryDto>()
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapGet("/aggregates", () => Results.Ok(Aggregate.All.Select(a => new AggregateDto(a.Name, $"i={a.NodeId}", a.Words))))
            .WithSummary("The aggregates there are, with their nodes in namespace 0 of OPC UA")
            .Produces<IEnumerable<AggregateDto>>();
        api.MapGet("/recording", Recording).WithSummary("What is recorded, how, and how much of it there is").Pages<RecordingDto>();
    }

    private static async Task<IResult> GetAsync(
        HttpContext context,
        PlantRuntime runtime,
        ModelWorkspace workspace,
        History history,
        string? from,
        string? to,
        string? aggregate,
        double? interval,
        string? scale,
        string? format,
        int? limit,
        string? cursor
    )
    {
        var plan = runtime.Snapshot.Plan;
        var paths = context.Request.Query["path"].OfType<string>().Select(p => p.Trim('/')).Where(p => p.Length > 0).ToArray();
        if (paths.Length is 0 or > MostPaths)
            return Wrong($"Give path, the path of a property, for 1 to {MostPaths} properties.");
        var points = new List<PlanPoint>();
        foreach (var path in paths)
        {
            var found = PointOf(runtime.RunningModel ?? workspace.Released, plan, path);
            if (found is null)
                return Results.Problem($"Nothing that has values has the path '{path}'.", statusCode: StatusCodes.Status404NotFound);
            points.Add(found);
        }
        var now = history.Now;
        if (!Time(to, now, out var until) || !Time(from, until - TimeSpan.TicksPerHour, out var since))
            return Wrong("from and to are times as 2026-06-01T12:00:00Z.");
        if (since >= until)
            return Wrong("from has to be before to.");
        if (scale is not (null or "now" or "then"))
            return Wrong($"scale is now or then, not '{scale}'.");
        if (format is not (null or "json" or "csv" or "parquet"))
            return Wrong($"format is json, csv or parquet, not '{format}'.");
        Aggregate? wanted = null;
        var (step, count) = (0L, 0);
        if (aggregate is not null)
        {
            wanted = Aggregate.Find(aggregate);
            if (wanted is null)
                return Wrong($"There is no aggregate '{aggregate}'; /api/v1/history/aggregates lists them.");
            if (interval is { } seconds && !(seconds is > 0.001 and < 1e10))
                return Wrong("interval is in seconds, more than 0.001.");
            step = interval is { } length ? (long)(length * TimeSpan.TicksPerSecond) : until - since;
            var intervals = (until - since + step - 1) / step;
            if (intervals > MostIntervals)
                return Wrong($"These are {intervals} intervals; {MostIntervals} is the most. Ask for longer ones.");
            count = (int)intervals;
        }
        IEnumerable<HistoryDto> Rows(PlanPoint point, long begin) =>
            wanted is null
                ? Values(history, point, begin, until, scale == "now")
                : Aggregates(history, point, wanted, since, until, step, count, scale == "now").Where(r => r.Ticks >= begin);
        if (format is "csv" or "parquet")
            return await HistoryFile.AnswerAsync(points.SelectMany(p => Rows(p, since)).Take(MostRows), format, context.RequestAborted);
        if (ListPage.Problem(limit) is { } problem)
            return problem;
        var (at, start) = (0, since);
        if (!string.IsNullOrEmpty(cursor))
            if (
                cursor.Split('~') is not [var place, var ticks]
                || !int.TryParse(place, NumberStyles.None, CultureInfo.InvariantCulture, out at)
                || !long.TryParse(ticks, NumberStyles.None, CultureInfo.InvariantCulture, out start)
                || at >= points.Count
            )
                return Wrong($"'{cursor}' is no cursor; give the member next of the page before, as it is.");
        var (items, most) = (new List<HistoryDto>(), limit ?? ListPage.DefaultLimit);
        for (; at < points.Count; (at, start) = (at + 1, since))
            foreach (var row in Rows(points[at], start))
            {
                if (items.Count == most)
                    return Results.Ok(new ListPage<HistoryDto>(items, string.Create(CultureInfo.InvariantCulture, $"{at}~{row.Ticks}")));
                items.Add(row);
            }
        return Results.Ok(new ListPage<HistoryDto>(items, null));
    }

    private static async Task<IResult> EnterAsync(
        HttpContext context,
        PlantRuntime runtime,
        ModelWorkspace workspace,
        HistoryRecorder recorder,
        TimeProvider clock,
        string? path,
        bool? dry
    )
    {
        var isText = context.Request.ContentType?.StartsWith("text/csv", StringComparison.OrdinalIgnoreCase) == true;
        if (!isText && !context.Request.HasJsonContentType())
            return Results.Problem(
                $"'{context.Request.ContentType}' is not taken; send application/json or text/csv.",
                statusCode: StatusCodes.Status415UnsupportedMediaType
            );
        PastDto? said = null;
        if (!isText)
        {
            try
            {
                said = await context.Request.ReadFromJsonAsync<PastDto>(context.RequestAborted);
            }
            catch (System.Text.Json.JsonException e)
            {
                return Wrong($"The body is not as it should be: {JsonTrouble.Words(e)}");
            }
            catch (InvalidOperationException) // A charset nobody has.
            {
                return Results.Problem(
                    $"'{context.Request.ContentType}' cannot be read; send application/json in UTF-8.",
                    statusCode: StatusCodes.Status415UnsupportedMediaType
                );
            }
            path = said?.Path ?? path;
        }
        if (string.IsNullOrWhiteSpace(path))
            return Wrong("Give path, the path of a property.");
        if (PointOf(runtime.RunningModel ?? workspace.Released, runtime.Snapshot.Plan, path.Trim('/')) is not { } point)
            return Results.Problem($"Nothing that has values has the path '{path}'.", statusCode: StatusCodes.Status404NotFound);
        IReadOnlyList<HistorySample> samples;
        IReadOnlyList<string> problems;
        if (isText)
        {
            using var reader = new StreamReader(context.Request.Body);
            samples = HistoryText.Read(await reader.ReadToEndAsync(context.RequestAborted), point, clock.GetUtcNow(), out problems);
        }
        else
            samples = Read(said?.Values, point, clock.GetUtcNow(), out problems);
        if (problems.Count > 0)
            return Results.Problem(
                string.Join(" ", problems.Take(10)) + (problems.Count > 10 ? $" And {problems.Count - 10} more." : ""),
                statusCode: StatusCodes.Status422UnprocessableEntity
            );
        if (samples.Count == 0)
            return Results.Problem("There is no value to take in.", statusCode: StatusCodes.Status422UnprocessableEntity);
        if (dry != true)
            try
            {
                recorder.Enter(point, samples, Actor.Interface.Name);
            }
            catch (Store.StoreException e)
            {
                return Results.Problem(e.Message, statusCode: StatusCodes.Status503ServiceUnavailable);
            }
        return Results.Ok(
            new EnteredHistoryDto(
                point.Path,
                samples.Count,
                new DateTime(samples.Min(s => s.Ticks), DateTimeKind.Utc),
                new DateTime(samples.Max(s => s.Ticks), DateTimeKind.Utc),
                dry != true
            )
        );
    }

    /// <summary>Values of the past as they come in JSON.</summary>
    private static List<HistorySample> Read(
        IReadOnlyList<PastValueDto?>? values,
        PlanPoint point,
        DateTimeOffset now,
        out IReadOnlyList<string> problems
    )
    {
        var (samples, wrong) = (new List<HistorySample>(), new List<string>());
        problems = wrong;
        if (values?.Count > HistoryText.MostLines)
            wrong.Add($"There are {values.Count} values; {HistoryText.MostLines} is the most at once.");
        for (var i = 0; i < values?.Count && wrong.Count == 0; i++)
            if (values[i] is not { Time: { } time } one)
                wrong.Add($"Value {i + 1} has no time.");
            else if (one.Value is { } json && TagApi.TextOf(json) is null)
                wrong.Add($"Value {i + 1} is no number, text, true or false.");
            else if (HistoryText.Of(time, one.Value is { } said ? TagApi.TextOf(said)! : "", point, now, out var problem) is { } sample)
                samples.Add(sample);
            else
                wrong.Add($"Value {i + 1}: {problem}");
        return samples;
    }

    /// <summary>The point of a path; null when there is none.</summary>
    /// <param name="model">The model that runs.</param>
    /// <param name="plan">Its plan.</param>
    /// <param name="path">The path of a property.</param>
    internal static PlanPoint? PointOf(PlantModel model, Plan plan, string path)
    {
        var at = path.LastIndexOf('/');
        if (at <= 0 || model.Index.Find(path[..at]) is not { } node)
            return null;
        return
            model.Index.PropertiesOf(node).FirstOrDefault(p => p.Code.Equals(path[(at + 1)..], StringComparison.OrdinalIgnoreCase))
                is { } property
            && plan.PointIndexOf(node.Id, property.Id) is >= 0 and var point
            ? plan.Points[point]
            : null;
    }

    private static IEnumerable<HistoryDto> Values(History history, PlanPoint point, long from, long to, bool asNow) =>
        history
            .Samples(point.EquipmentId, point.PropertyId, from, to, asNow ? point.Chain : null)
            .Where(s => s.Ticks >= from && s.Ticks < to)
            .Select(s => Of(point, s.Ticks, s.Number, s.Status.Value, s.Status.Name, s.Text, s.Reason));

    private static IEnumerable<HistoryDto> Aggregates(
        History history,
        PlanPoint point,
        Aggregate aggregate,
        long from,
        long to,
        long step,
        int count,
        bool asNow
    )
    {
        var samples = history.Samples(point.EquipmentId, point.PropertyId, from, to, asNow ? point.Chain : null).ToArray();
        var isStepped = point.Recording?.IsStepped ?? false;
        var first = Aggregation.FirstNotBefore(samples, from);
        for (var i = 0; i < count; i++)
        {
            var start = from + i * step;
            var facts = IntervalFacts.Of(samples, first, start, Math.Min(start + step, to), isStepped, out first);
            var value = aggregate.Of(facts);
            yield return Of(point, value.Ticks == 0 ? start : value.Ticks, value.Number, value.Status.Value, value.Status.Name, null, null);
        }
    }

    private static HistoryDto Of(PlanPoint point, long ticks, double number, uint status, string name, string? text, string? reason) =>
        new(
            point.Path,
            new DateTime(ticks, DateTimeKind.Utc),
            double.IsFinite(number) ? number : null,
            double.IsFinite(number) ? point.States?.NameOf(number) ?? text : text,
            new(name, status),
            reason
        )
        {
            Ticks = ticks,
        };

    private static IResult Recording(PlantRuntime runtime, HistoryRecorder recorder, Store.HistoryStore store, int? limit, string? cursor)
    {
        var (plan, extents) = (runtime.Snapshot.Plan, store.Extents());
        return ListPage.Of(
            [.. plan.Points.Take(plan.Shown).Where(p => p.Source != PointSource.Fixed)],
            p => $"{p.EquipmentId}.{p.PropertyId}",
            limit,
            cursor,
            p =>
            {
                var extent = extents.GetValueOrDefault(recorder.SeriesIdOf(p.EquipmentId, p.PropertyId));
                return new RecordingDto(
                    p.Path,
                    p.Recording is not null,
                    p.Recording?.Deadband,
                    p.Recording?.Every is > 0 and var every ? every : null,
                    p.Recording?.While,
                    p.Recording?.KeepDays,
                    p.Recording?.KeepCount,
                    p.Recording?.KeepSummedDays,
                    extent?.Count ?? 0,
                    (extent?.Bytes ?? 0) + (extent?.RollupBytes ?? 0),
                    extent is null ? null : new DateTime(extent.First, DateTimeKind.Utc),
                    extent is null ? null : new DateTime(extent.Last, DateTimeKind.Utc)
                );
            }
        );
    }

    private static bool Time(string? text, long otherwise, out long ticks)
    {
        var time = HistoryText.TimeOf(text);
        ticks = time?.UtcTicks ?? otherwise;
        return time is not null || string.IsNullOrWhiteSpace(text);
    }

    private static IResult Wrong(string words) => Results.Problem(words, statusCode: StatusCodes.Status400BadRequest);
}

/// <summary>A recorded value, or an aggregate.</summary>
/// <param name="Path">Path of the property.</param>
/// <param name="Time">When.</param>
/// <param name="Value">The number in the property's unit; null for none.</param>
/// <param name="Text">The state or text.</param>
/// <param name="Status">How good it is.</param>
/// <param name="Reason">Why it is not Good.</param>
internal sealed record HistoryDto(string Path, DateTime Time, double? Value, string? Text, HistoryStatusDto Status, string? Reason)
{
    [System.Text.Json.Serialization.JsonIgnore]
    public long Ticks { get; init; }
}

/// <summary>A status code of OPC UA.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Number">The code with its information bits.</param>
internal sealed record HistoryStatusDto(string Name, uint Number);

/// <summary>An aggregate of OPC UA Part 13.</summary>
/// <param name="Name">Its name.</param>
/// <param name="NodeId">Its node.</param>
/// <param name="Words">What it is.</param>
internal sealed record AggregateDto(string Name, string NodeId, string Words);

/// <summary>How a property is recorded, and how much of it there is.</summary>
internal sealed record RecordingDto(
    string Path,
    bool Recorded,
    double? Deadband,
    double? EverySeconds,
    string? While,
    double? KeepDays,
    long? KeepCount,
    double? KeepSummedDays,
    long Values,
    long Bytes,
    DateTime? First,
    DateTime? Last
);
