using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Views;
using Fralto.Store;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Curves over state strips: what was recorded of any properties.</summary>
public sealed class TrendsModel(Trends trends, SavedTrends saved, PlantStore store, HistoryRecorder recorder) : FraltoPage
{
    private TrendView? _view;

    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public TrendsQuery Query { get; set; } = new();

    /// <summary>The curves.</summary>
    public TrendView View =>
        _view ??= TrendView.Of(Query.Question(Model), Model, Snapshot.Plan, trends, store, ticks =>
            new DateTime(ticks, DateTimeKind.Utc).ToLocalTime()
        );

    /// <summary>What is drawn.</summary>
    public TrendPlot Plot =>
        new(
            View,
            recorder.PastMade,
            View.Tracks.Count > 0 ? ""
                : View.IsRuns ? "No such run was recorded in the last 30 days."
                : Templates.Any() ? "Choose what is to be shown: properties and instances at the left."
                : "Nothing is recorded yet: bind an instance under Bindings.",
            Query.Before ?? 0
        );

    /// <summary>Templates with instances.</summary>
    public IEnumerable<Template> Templates =>
        Model.Templates.Values.Where(t => Model.Index.InstanceCountOf(t.Id) > 0).OrderBy(t => t.Name, StringComparer.Ordinal);

    /// <summary>Lines that were added one by one: key and path.</summary>
    public IReadOnlyList<(string Key, string Path)> Lines =>
        [
            .. Query
                .Singles()
                .Select(l => Snapshot.Plan.PointIndexOf(l.EquipmentId, l.PropertyId))
                .Where(i => i >= 0)
                .Select(i => Snapshot.Plan.Points[i])
                .Select(p => ($"{p.EquipmentId}.{p.PropertyId}", p.Path)),
            .. Trends
                .Lines(Model, Snapshot.Plan, Query.Singles().Where(l => l.EquipmentId == Trends.OfTags))
                .Select(l => (l.Key, l.Point!.Path)),
        ];

    /// <summary>Properties of the template that can be shown, by the template they come from.</summary>
    public IEnumerable<IGrouping<long, ResolvedProperty>> Properties =>
        Query.Template is { } id && Model.Templates.ContainsKey(id)
            ? Model.Index.PropertiesOf(id).Where(p => p.Declaration.Kind != PropertyKind.Fixed).GroupBy(p => p.DeclaredBy)
            : [];

    /// <summary>Instances of the template, in the order of the plant.</summary>
    public IEnumerable<Core.Hierarchy.Equipment> Instances =>
        Query.Template is { } id ? Model.Index.InstancesOf(id).Take(MostInstances) : [];

    private const int MostInstances = 60;

    /// <summary>States with which a run can begin: the property and the state.</summary>
    public IEnumerable<(ResolvedProperty Property, State State)> Beginnings =>
        Properties
            .SelectMany(g => g)
            .Where(p => p.Declaration.Type == PropertyType.State && p.Facts.StateListId is not null)
            .SelectMany(p => Model.StateLists[p.Facts.StateListId!.Value].States.Select(s => (p, s)));

    /// <summary>Trends that are kept with the template, or with none, or with the place of what is shown.</summary>
    public IEnumerable<SavedTrend> Saved => saved.All.Where(t => t.PlaceId is { } at ? at == Place?.Id : t.TemplateId == Query.Template);

    /// <summary>The place that has all instances shown below it; null where there is none.</summary>
    public Core.Hierarchy.Equipment? Place
    {
        get
        {
            var above = Query
                .Question(Model)
                .Lines.Select(l => l.EquipmentId)
                .Where(Model.Equipment.ContainsKey)
                .Distinct()
                .Select(id => Model.Index.LineageOf(id).SkipLast(1).Select(e => e.Id).ToArray())
                .ToArray();
            if (above.Length == 0)
                return null;
            var shared = above[0].TakeWhile((id, i) => above.All(a => i < a.Length && a[i] == id)).LastOrDefault();
            return Model.Equipment.GetValueOrDefault(shared);
        }
    }

    /// <summary>Keeps what is shown under a name, or takes one out.</summary>
    /// <param name="template">The template; null for none.</param>
    /// <param name="name">The name.</param>
    /// <param name="query">What the address asks for.</param>
    /// <param name="with">The id of the place it is kept with; null for with the template, or for itself.</param>
    /// <param name="gone">True takes it out.</param>
    public IActionResult OnPostKeep(long? template, string? name, string? query, long? with, bool gone)
    {
        if (template is { } of && !Model.Templates.ContainsKey(of))
            return NotFound();
        var wanted = Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(query ?? "");
        // Instances are whoever it is looked at for; where the window ends is when.
        var kept = string.Join(
            "&",
            wanted
                .Where(q =>
                    q.Key is "p" or "for" or "earlier" or "runs" or "becomes" or "n" or "before"
                    || (q.Key == "s" && (template is null || with is not null))
                    || (q.Key is "e" or "template" && with is not null)
                )
                .SelectMany(q => q.Value.Select(v => $"{q.Key}={Uri.EscapeDataString(v ?? "")}"))
        );
        try
        {
            if (gone)
                saved.TakeOut(name ?? "", with is null ? template : null, with);
            else if (with is { } place && !Model.Equipment.ContainsKey(place))
                return NotFound();
            else if (saved.Keep(new((name ?? "").Trim(), with is null ? template : null, kept, with)) is { } problem)
            {
                Refusal = problem;
                Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
                Query.Template = template;
                Query.Begin(Model);
                return Page();
            }
        }
        catch (StoreException e)
        {
            Refusal = e.Message;
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
            return Page();
        }
        Done = gone ? $"{name} is kept no longer" : $"Kept: {name}";
        return Redirect($"/trends?{(template is { } id && with is null ? $"template={id}&" : "")}{kept}");
    }

    /// <summary>Paths of properties that hold all words of a text.</summary>
    public IActionResult OnGetPaths(string? q)
    {
        var words = (q ?? "").Split([' ', '/'], StringSplitOptions.RemoveEmptyEntries);
        bool IsMeant(string text) => words.All(w => text.Contains(w, StringComparison.OrdinalIgnoreCase));
        return new JsonResult(
            Snapshot
                .Plan.Points.Take(Snapshot.Plan.Shown)
                .Where(p => p.Recording is not null && IsMeant(p.Path))
                .Select(p => p.Path)
                .Take(MostFound)
                .Concat(
                    Model
                        .Tags.Values.Select(t => $"{Model.Controllers.GetValueOrDefault(t.ControllerId)?.Name}/{t.Name}")
                        .Where(IsMeant)
                        .Take(MostTags)
                )
        );
    }

    /// <summary>The tag a controller and a name tell, with a stroke between.</summary>
    private Core.Controllers.Tag? TagOf(string path) =>
        path.IndexOf('/', StringComparison.Ordinal) is > 0 and var stroke
            ? Model.Tags.Values.FirstOrDefault(t =>
                t.Name.Equals(path[(stroke + 1)..], StringComparison.OrdinalIgnoreCase)
                && path[..stroke].Equals(Model.Controllers.GetValueOrDefault(t.ControllerId)?.Name, StringComparison.OrdinalIgnoreCase)
            )
            : null;

    private const int MostTags = 10;

    private const int MostFound = 30;

    public IActionResult OnGet(bool plot = false)
    {
        if (Query.Add is { Length: > 0 } path)
        {
            if (Api.HistoryApi.PointOf(Model, Snapshot.Plan, path.Trim().Trim('/')) is { } point)
                Query.S = [.. Query.S.Append($"{point.EquipmentId}.{point.PropertyId}").Distinct()];
            else if (TagOf(path.Trim()) is { } tag)
                Query.S = [.. Query.S.Append($"{Trends.OfTags}.{tag.Id}").Distinct()];
            else
                Refusal = $"Nothing that has values has the path '{path}', and no tag; a tag is written controller/tag.";
        }
        if (Query.S.Length > 0 && Lines.Count == 0)
        {
            Refusal ??= "Nothing of what was asked for is there any more; something else is shown.";
            Query.S = [];
        }
        if (Query.Template is { } id && !Model.Templates.ContainsKey(id))
            Query.Template = null;
        if (Query.S.Length == 0)
            Query.Template ??= RichestTemplate();
        if (Query.S.Length == 0)
            Query.Begin(Model);
        return plot ? Partial("_TrendPlot", Plot) : Page();
    }

    /// <summary>The template of which most is recorded, one with states first.</summary>
    private long? RichestTemplate() =>
        Snapshot
            .Plan.Points.Take(Snapshot.Plan.Shown)
            .Where(p => p.Recording is not null && p.Source == Core.Planning.PointSource.Tag)
            .GroupBy(p => Model.Equipment.GetValueOrDefault(p.EquipmentId)?.TemplateId)
            .OrderByDescending(g => g.Any(p => p.Type == PropertyType.State))
            .ThenByDescending(g => g.Count())
            .FirstOrDefault()
            ?.Key;
}
