using System.Globalization;
using System.Text.Json;
using Fralto.Core.Commands;
using Fralto.Core.Controllers;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Core.Mqtt;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Links;
using Fralto.Web.Exchange;
using Fralto.Web.Live;

namespace Fralto.Web.Api;

/// <summary>Tag lists out, and values in: commands to properties, raw values to tags of memory.</summary>
internal static class TagApi
{
    public static void MapTagApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1");
        api.MapGet("/controllers/{controller}/tags.{format}", List).WithSummary("The tag list of a controller as csv or xlsx");
        api.MapPost("/commands", CommandAsync)
            .WithSummary("Gives a command property a value, in its unit, and waits until it reads back")
            .Produces<CommandedDto>()
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPost("/entered", EnterAsync)
            .WithSummary("Enters a value of a property that people enter, in its unit")
            .Produces(StatusCodes.Status204NoContent)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPost("/resets", ResetAsync)
            .WithSummary("Begins the totals, counts and times of a calculated property anew")
            .Produces(StatusCodes.Status204NoContent)
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPut("/controllers/{controller}/tags/{tag}/value", WriteAsync)
            .WithSummary("Writes a tag of memory")
            .Produces<CommandedDto>()
            .ProducesProblem(StatusCodes.Status404NotFound)
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapGet("/commands", Given).WithSummary("Commands and what came of them, the newest first").Pages<Store.CommandEntry>();
    }

    private static IResult Given(Store.RunStore store, int? limit, string? cursor) =>
        ListPage.ByNumber(limit, cursor, store.Commands, entry => entry);

    private static IResult List(string controller, string format, ModelWorkspace workspace)
    {
        if (Find(workspace.Model, controller) is not { } known)
            return Results.Problem($"There is no controller {controller}.", statusCode: StatusCodes.Status404NotFound);
        var table = TagTable.Of(workspace.Model, known);
        return format switch
        {
            "csv" => Results.Bytes(TableFile.WriteCsv(table), TableFile.CsvType, $"{known.Name}-tags.csv"),
            "xlsx" => Results.Bytes(TableFile.WriteXlsx(table), TableFile.XlsxType, $"{known.Name}-tags.xlsx"),
            _ => Results.Problem($"Lists come as csv or xlsx, not as {format}.", statusCode: StatusCodes.Status404NotFound),
        };
    }

    private static async Task<IResult> CommandAsync(
        CommandDto command,
        HttpContext context,
        ModelWorkspace workspace,
        PlantRuntime runtime,
        CommandWriter desk
    )
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        var model = workspace.Released;
        if (Named(model, command.Path) is not var (instance, property))
            return Results.Problem($"Nothing has the path '{command.Path}'.", statusCode: StatusCodes.Status404NotFound);
        if (TextOf(command.Value) is not { } text)
            return Results.Problem("A value is a number, a text, true or false.", statusCode: StatusCodes.Status422UnprocessableEntity);
        if (CommandOrder.Read(model, instance.Id, property.Id, text, out var problem) is not { } order)
            return Results.Problem(problem, statusCode: StatusCodes.Status422UnprocessableEntity);
        var before = runtime.Snapshot.Find(instance.Id, property.Id) is var (point, value)
            ? ValueText.Of(point, value.Value)
            : ValueText.None;
        return Answer(await desk.GiveAsync(order, before, Actor.Interface));
    }

    private static async Task<IResult> EnterAsync(CommandDto entered, HttpContext context, ModelWorkspace workspace, PlantRuntime runtime)
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        if (Named(workspace.Released, entered.Path) is not var (instance, property))
            return Results.Problem($"Nothing has the path '{entered.Path}'.", statusCode: StatusCodes.Status404NotFound);
        if (TextOf(entered.Value) is not { } text)
            return Results.Problem("A value is a number, a text, true or false.", statusCode: StatusCodes.Status422UnprocessableEntity);
        return await runtime.EnterAsync(instance.Id, property.Id, text, Actor.Interface) is { } refusal
            ? Results.Problem(refusal, statusCode: StatusCodes.Status422UnprocessableEntity)
            : Results.NoContent();
    }

    private static async Task<IResult> ResetAsync(ResetDto reset, HttpContext context, ModelWorkspace workspace, PlantRuntime runtime)
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        if (Named(workspace.Released, reset.Path) is not var (instance, property))
            return Results.Problem($"Nothing has the path '{reset.Path}'.", statusCode: StatusCodes.Status404NotFound);
        return await runtime.ResetAsync(instance.Id, property.Id, Actor.Interface) is { } refusal
            ? Results.Problem(refusal, statusCode: StatusCodes.Status422UnprocessableEntity)
            : Results.NoContent();
    }

    /// <summary>The property of a path; null when nothing has it.</summary>
    internal static (Equipment Instance, ResolvedProperty Property)? Named(PlantModel model, string? path)
    {
        var slash = (path ?? "").LastIndexOf('/');
        return
            slash >= 0
            && model.Index.Find(path![..slash]) is { TemplateId: not null } instance
            && model
                .Index.PropertiesOf(instance)
                .FirstOrDefault(p => p.Code.Equals(path[(slash + 1)..], StringComparison.OrdinalIgnoreCase))
                is { } property
            ? (instance, property)
            : null;
    }

    private static async Task<IResult> WriteAsync(
        string controller,
        string tag,
        ValueToWriteDto body,
        HttpContext context,
        ModelWorkspace workspace,
        PlantRuntime runtime,
        CommandWriter desk
    )
    {
        if (!context.Request.HasJsonContentType())
            return Results.StatusCode(StatusCodes.Status415UnsupportedMediaType);
        var model = workspace.Model;
        if (
            Find(model, controller) is not { } known
            || model.Index.TagsOf(known.Id).FirstOrDefault(t => t.Name.Equals(tag, StringComparison.OrdinalIgnoreCase)) is not { } at
        )
            return Results.Problem($"There is no tag {tag} on a controller {controller}.", statusCode: StatusCodes.Status404NotFound);
        if (known.Protocol.Rules().HasDevice)
            return Results.Problem(
                $"{known.Name} is a device; give commands to its properties, with POST /api/v1/commands.",
                statusCode: StatusCodes.Status422UnprocessableEntity
            );
        if (TextOf(body.Value) is not { } text)
            return Results.Problem("A value is a number, a text, true or false.", statusCode: StatusCodes.Status422UnprocessableEntity);
        return TagWrite.Read(at, text, out var problem) is { } write
            ? Answer(await desk.GiveAsync(write, ValueText.Raw(at, runtime.WorkingSnapshot.ReadingsOf(at)), Actor.Interface))
            : Results.Problem(problem, statusCode: StatusCodes.Status422UnprocessableEntity);
    }

    private static IResult Answer(WriteResult result) =>
        result.Outcome == WriteOutcome.Refused
            ? Results.Problem($"Refused: {result.Reason}.", statusCode: StatusCodes.Status422UnprocessableEntity)
            : Results.Ok(new CommandedDto(result.Outcome, result.Reason));

    private static Controller? Find(PlantModel model, string name) =>
        model.Controllers.Values.FirstOrDefault(c => c.Name.Equals(name, StringComparison.OrdinalIgnoreCase));

    /// <summary>A value of JSON as text; null for what is no number, text, true or false.</summary>
    internal static string? TextOf(JsonElement value) =>
        value.ValueKind switch
        {
            JsonValueKind.String => JsonText.Of(value),
            JsonValueKind.Number => value.GetDouble().ToString("R", CultureInfo.InvariantCulture),
            JsonValueKind.True => "true",
            JsonValueKind.False => "false",
            _ => null,
        };
}
