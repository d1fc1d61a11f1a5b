using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Scaling;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Api;

/// <summary>Bindings over REST: proposals for what is open, and bindings to make.</summary>
internal static class BindingApi
{
    private const int MostLines = 100_000;
    private const long LargestBody = 64L * 1024 * 1024;

    public static void MapBindingApi(this IEndpointRouteBuilder routes)
    {
        var api = routes.MapGroup("/api/v1");
        api.MapPost("/bindings/proposals", Propose)
            .WithSummary("Proposes a tag for every open required cell, with certainty and reasons")
            .WithDescription(
                "template, place and threshold (0 to 1, 0.8 when not said) are optional; all: true asks for optional cells too."
            )
            .Produces<ProposedDto>()
            .ProducesProblem(StatusCodes.Status422UnprocessableEntity);
        api.MapPost("/bindings", Set)
            .WithSummary("Makes bindings, all or none, as one edit that can be taken back")
            .WithDescription(
                "Each line says the path of the property, the controller and the tag; slice takes a part of the tag; tag: null "
                    + "unbinds. share: true lets a tag feed several properties. If-Match: what ETag said refuses to write over what "
                    + "was changed since."
            )
            .WithMetadata(new RequestSizeLimitAttribute(LargestBody))
            .Produces<ReplacedDto>()
            .Produces<FindingsDto>(StatusCodes.Status422UnprocessableEntity)
            .ProducesProblem(StatusCodes.Status412PreconditionFailed);
    }

    private static IResult Propose(ProposalAskDto? ask, ModelWorkspace workspace, ProposalCache desk)
    {
        var model = workspace.Model;
        long[]? templates = null;
        long? below = null;
        if (ask?.Template is { Length: > 0 } code)
        {
            if (model.Templates.Values.FirstOrDefault(t => t.Code.Equals(code, StringComparison.OrdinalIgnoreCase)) is not { } template)
                return Wrong($"There is no template {code}{Naming.OrNearest(code, model.Templates.Values.Select(t => t.Code))}");
            templates = [template.Id];
        }
        if (ask?.Place is { Length: > 0 } path)
        {
            if (model.Index.Find(path) is not { } place)
                return Wrong($"There is no equipment {path}; give its path, as in Corvane/TarnQuay.");
            below = place.Id;
        }
        var threshold = ask?.Threshold ?? ProposalQuestion.DefaultThreshold;
        if (!(threshold > 0 && threshold <= 1))
            return Wrong($"A threshold is a number above 0 and at most 1, not {threshold.ToString(CultureInfo.InvariantCulture)}.");
        var matrix = desk.Ask(model, templates, below, threshold);
        var declared = new Dictionary<long, Dictionary<long, ResolvedProperty>>();
        ResolvedProperty Property(Proposal p)
        {
            var its = model.Equipment[p.EquipmentId].TemplateId!.Value;
            return (
                declared.TryGetValue(its, out var known) ? known : declared[its] = model.Index.PropertiesOf(its).ToDictionary(x => x.Id)
            )[p.PropertyId];
        }
        return Results.Ok(
            new ProposedDto(
                [
                    .. matrix
                        .Proposals.Select(p => (Proposal: p, Property: Property(p)))
                        .Where(p => ask?.All is true || p.Property.Declaration.IsRequired)
                        .Select(p => Of(model, p.Proposal, p.Property)),
                ],
                [
                    .. matrix.Rules.Select(r => new RuleDto(
                        model.Templates[r.TemplateId].Code,
                        model.Index.PropertiesOf(r.TemplateId).First(p => p.Id == r.PropertyId).Code,
                        r.Face,
                        r.Pattern.ToString(),
                        r.Strength,
                        r.Found,
                        r.Of,
                        r.IsKept,
                        r.IsSupposed
                    )),
                ]
            )
        );
    }

    private static ProposalDto Of(PlantModel model, Proposal p, ResolvedProperty property)
    {
        var tag = p.TagId is { } id ? model.Tags[id] : null;
        return new(
            $"{model.Index.PathOf(p.EquipmentId)}/{property.Code}",
            p.Kind,
            tag is null ? null : model.Controllers[tag.ControllerId].Name,
            tag?.Name,
            p.Slice?.ToString(),
            tag?.Address.ToString(),
            p.Certainty,
            p.Reason,
            [.. p.Parts.Select(r => new ReasonDto(r.Kind, Math.Round(r.Weight, 2), r.Words))]
        );
    }

    private static IResult Set(BindingsDto body, HttpContext context, ModelWorkspace workspace)
    {
        var seen = Seen.Read(context.Request, out var unread);
        if (unread is not null)
            return unread;
        if (body.Bindings is not { Count: > 0 } lines)
            return Wrong("Say at least one binding: bindings: [{ path, controller, tag }].");
        if (lines.Count > MostLines)
            return Wrong($"{lines.Count} bindings; {MostLines} is the most at once.");
        var model = workspace.Model;
        var (problems, binds, unbinds) = (
            new List<PlacedDto>(),
            ImmutableArray.CreateBuilder<BindingLine>(),
            ImmutableArray.CreateBuilder<(long, long)>()
        );
        var (placeOf, tags) = (new List<int>(), new TagFinder(model));
        for (var i = 0; i < lines.Count && problems.Count < BindMany.MostProblems; i++)
        {
            var at = $"$.bindings[{i}]";
            if (lines[i] is not { } line)
            {
                problems.Add(new(at, "null stands here where a binding was expected; take it out."));
                continue;
            }
            var slash = (line.Path ?? "").LastIndexOf('/');
            var node = slash > 0 ? model.Index.Find(line.Path![..slash]) : null;
            var property = node is null
                ? null
                : model
                    .Index.PropertiesOf(node)
                    .FirstOrDefault(p => p.Code.Equals(line.Path![(slash + 1)..], StringComparison.OrdinalIgnoreCase));
            if (node is null)
                problems.Add(
                    new(
                        $"{at}.path",
                        $"There is no equipment {(slash > 0 ? line.Path![..slash] : $"'{line.Path}'")}; a path is that of the "
                            + $"equipment, / and the code of the property."
                    )
                );
            else if (property is null)
                problems.Add(
                    new(
                        $"{at}.path",
                        $"{line.Path![..slash]} has no property "
                            + $"{line.Path[(slash + 1)..]}"
                            + $"{Naming.OrNearest(line.Path[(slash + 1)..], model.Index.PropertiesOf(node).Select(p => p.Code))}"
                    )
                );
            else if (line.Tag is null)
                unbinds.Add((node.Id, property.Id));
            else if (tags.Find(line.Controller, line.Tag, out var problem) is not { } tag)
                problems.Add(new($"{at}.tag", problem!));
            else if (line.Slice is { Length: > 0 } part && Slice.Parse(part) is null)
                problems.Add(new($"{at}.slice", $"'{part}' is no part of a tag; write [12], .4, .4-6 or [2].0-3."));
            else
            {
                binds.Add(new(node.Id, property.Id, tag.Id, string.IsNullOrEmpty(line.Slice) ? null : Slice.Parse(line.Slice)));
                placeOf.Add(i);
            }
        }
        if (problems.Count == 0 && unbinds.Count > 0 && binds.Count > 0)
            problems.Add(new("$.bindings", "Bind and unbind in two requests; each is one edit."));
        if (problems.Count > 0)
            return FindingsDto.Refusal(problems);
        var outcome = workspace.Do(
            unbinds.Count > 0 ? new UnbindMany(unbinds.ToImmutable()) : new BindMany(binds.ToImmutable(), body.Share ?? false),
            Actor.Interface,
            seen
        );
        if (outcome.IsOvertaken)
            return Seen.Overtaken(outcome);
        Seen.Tell(context, workspace.Head);
        if (!outcome.IsRefused)
            return Results.Ok(new ReplacedDto(outcome.Summary, outcome.Changes.Length));
        return FindingsDto.Refusal([
            .. outcome.Problems.Select(p => new PlacedDto(
                int.TryParse(p.Field, NumberStyles.None, CultureInfo.InvariantCulture, out var at) ? $"$.bindings[{placeOf[at]}]"
                    : placeOf.Count == 1 ? "$.bindings[0]"
                    : "$.bindings",
                p.Message
            )),
        ]);
    }

    private static IResult Wrong(string message) => Results.Problem(message, statusCode: StatusCodes.Status422UnprocessableEntity);
}
