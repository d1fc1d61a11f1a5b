using Fralto.Core.Exchange;
using Fralto.Web.Exchange;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Api;

/// <summary>The whole model and the bulk lists over REST.</summary>
internal static class ModelApi
{
    // The workbook with a sheet for every list.
    private const string Everything = "all";
    private const long LargestModel = 512L * 1024 * 1024;

    public static void MapModelApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1");
        api.MapGet("/model", Get)
            .WithSummary("The whole working model, by code and path, always in the same order; ETag says how far its journal is");
        api.MapPut("/model", PutAsync)
            .WithSummary(
                "Replaces the working model, as one edit that can be taken back; or answers with everything that is wrong. If-Match: "
                    + "what ETag said refuses to write over what was changed since"
            )
            .WithMetadata(new RequestSizeLimitAttribute(LargestModel))
            .Accepts<ModelDocument>("application/json")
            .Produces<ReplacedDto>()
            .Produces<FindingsDto>(StatusCodes.Status422UnprocessableEntity)
            .ProducesProblem(StatusCodes.Status412PreconditionFailed);
        api.MapGet("/model/nodeset2", (ModelWorkspace workspace, TimeProvider clock) =>
                Results.Text(NodeSetWriter.Write(workspace.Model, clock.GetUtcNow()), "application/xml", System.Text.Encoding.UTF8)
            )
            .WithSummary(
                "Templates, equipment, state lists, units and ranges of the working model as a NodeSet2 file of OPC UA (Part 6, annex F), "
                    + "which OPC UA servers load"
            );
        api.MapGet("/model/schema", () =>
                Results.Stream(typeof(ModelApi).Assembly.GetManifestResourceStream("model-format.schema.json")!, "application/schema+json")
            )
            .WithSummary("The JSON Schema of the model format");
        api.MapGet("/bulk/{kind}.{format}", Bulk)
            .WithSummary(
                $"A list as csv or xlsx: {string.Join(", ", Enum.GetNames<TableKind>()).ToLowerInvariant()}; all.xlsx has a sheet for each"
            );
    }

    private static IResult Get(HttpContext context, ModelWorkspace workspace)
    {
        // The number first: what is newer than it says is refused later rather than written over.
        Seen.Tell(context, workspace.Head);
        return Results.Bytes(ModelFormat.Write(workspace.Model), "application/json");
    }

    private static async Task<IResult> PutAsync(HttpContext context, ModelWorkspace workspace)
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        var seen = Seen.Read(context.Request, out var unread);
        if (unread is not null)
            return unread;
        using var body = new MemoryStream();
        await context.Request.Body.CopyToAsync(body, context.RequestAborted);
        var document = ModelFormat.Read(body.GetBuffer().AsSpan(0, (int)body.Length), out var problem);
        if (document is null)
            return FindingsDto.Refusal([new(problem!.Field, problem.Message)]);
        var edit = new ReplaceModel(document);
        var outcome = edit.On(workspace.Model);
        if (outcome is { IsRefused: false, Changes.IsEmpty: true })
            return Results.Ok(new ReplacedDto("nothing changed", 0));
        outcome = workspace.Do(edit, Actor.Interface, seen);
        if (outcome.IsOvertaken)
            return Seen.Overtaken(outcome);
        Seen.Tell(context, workspace.Head);
        return outcome.IsRefused
            ? FindingsDto.Refusal([.. outcome.Problems.Select(p => new PlacedDto(p.Field, p.Message))])
            : Results.Ok(new ReplacedDto(outcome.Summary, outcome.Changes.Length));
    }

    private static IResult Bulk(string kind, string format, ModelWorkspace workspace)
    {
        if (kind.Equals(Everything, StringComparison.OrdinalIgnoreCase) && format == "xlsx")
            return Results.Bytes(
                TableFile.WriteXlsx(Enum.GetValues<TableKind>().Select(k => (ImportTable.NameOf(k), ImportTable.Of(workspace.Model, k)))),
                TableFile.XlsxType,
                $"{Everything}.xlsx"
            );
        if (char.IsAsciiDigit(kind[0]) || !Enum.TryParse<TableKind>(kind, ignoreCase: true, out var known) || !Enum.IsDefined(known))
            return Results.Problem(
                $"There is no list '{kind}'; the lists are {string.Join(", ", Enum.GetNames<TableKind>()).ToLowerInvariant()}.",
                statusCode: StatusCodes.Status404NotFound
            );
        var table = ImportTable.Of(workspace.Model, known);
        return format switch
        {
            "csv" => Results.Bytes(TableFile.WriteCsv(table), TableFile.CsvType, $"{kind}.csv"),
            "xlsx" => Results.Bytes(TableFile.WriteXlsx(table), TableFile.XlsxType, $"{kind}.xlsx"),
            _ => Results.Problem($"Lists come as csv or xlsx, not as {format}.", statusCode: StatusCodes.Status404NotFound),
        };
    }
}
