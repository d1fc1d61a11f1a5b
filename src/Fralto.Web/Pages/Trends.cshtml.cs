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
                .Others.Select(l => Snapshot.Plan.PointIndexOf(l.EquipmentId, l.PropertyId))
                .Where(i => i >= 0)
                .Select(i => Snapshot.Plan.Points[i])
                .Select(p => ($"{p.EquipmentId}.{p.PropertyId}", p.Path)),
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

    /// <summary>Trends that are kept with the template, or with none.</summary>
    public IEnumerable<SavedTrend> Saved => saved.All.Where(t => t.TemplateId == Query.Template);

    /// <summary>Keeps what is shown under a name, or takes one out.</summary>
    /// <param name="template">The template; null for none.</param>
    /// <param name="name">The name.</param>
    /// <param name="query">What the address asks for.</param>
    /// <param name="gone">True takes it out.</param>
    public IActionResult OnPostKeep(long? template, string? name, string? query, bool gone)
    {
        if (template is { } of && !Model.Templates.ContainsKey(of))
            return NotFound();
        var wanted = Microsoft.AspNetCore.WebUtilities.QueryHelpers.ParseQuery(query ?? "");
        // Instances are whoever it is looked at for; where the window ends is when.
        var kept = string.Join(
            "&",
            wanted
                .Where(q =>
                    q.Key is "p" or "for" or "earlier" or "runs" or "becomes" or "n" or "before" || (q.Key == "s" && template is null)
                )
                .SelectMany(q => q.Value.Select(v => $"{q.Key}={Uri.EscapeDataString(v ?? "")}"))
        );
        try
        {
            if (gone)
                saved.TakeOut(name ?? "", template);
            else if (saved.Keep(new((name ?? "").Trim(), template, kept)) is { } problem)
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
        return Redirect($"/trends?{(template is { } id ? $"template={id}&" : "")}{kept}");
    }

    /// <summary>Paths of properties that hold all words of a text.</summary>
    public IActionResult OnGetPaths(string? q)
    {
        var words = (q ?? "").Split([' ', '/'], StringSplitOptions.RemoveEmptyEntries);
        return new JsonResult(
            Snapshot
                .Plan.Points.Take(Snapshot.Plan.Shown)
                .Where(p => p.Recording is not null && words.All(w => p.Path.Contains(w, StringComparison.OrdinalIgnoreCase)))
                .Take(MostFound)
                .Select(p => p.Path)
        );
    }

    private const int MostFound = 30;

    public IActionResult OnGet(bool plot = false)
    {
        if (Query.Add is { Length: > 0 } path)
        {
            if (Api.HistoryApi.PointOf(Model, Snapshot.Plan, path.Trim().Trim('/')) is { } point)
                Query.S = [.. Query.S.Append($"{point.EquipmentId}.{point.PropertyId}").Distinct()];
            else
                Refusal = $"Nothing that has values has the path '{path}'.";
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
