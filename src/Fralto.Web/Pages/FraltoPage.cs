using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>What every page has: the model, the newest values, and a form that keeps what was typed.</summary>
public abstract class FraltoPage : PageModel
{
    /// <summary>Fields that stand hidden in forms: what is wrong with them is said above the form.</summary>
    private static readonly string[] Unseen = ["", "Id", "ParentId", "TemplateId", "TagId", "PropertyId"];

    private ModelWorkspace? _workspace;
    private PlantRuntime? _runtime;
    private PlantModel? _model;
    private EngineSnapshot? _snapshot;
    private UnitLook? _look;

    /// <summary>The form the page shows.</summary>
    public FormState Form { get; protected set; } = FormState.Empty;

    /// <summary>One line about what was done just now; shown once.</summary>
    [TempData]
    public string? Done { get; set; }

    /// <summary>What was refused and belongs to no field.</summary>
    public string? Refusal { get; protected set; }

    /// <summary>Who sits at the page.</summary>
    public static Actor Actor => Actor.Local;

    public ModelWorkspace Workspace => _workspace ??= HttpContext.RequestServices.GetRequiredService<ModelWorkspace>();

    public PlantRuntime Runtime => _runtime ??= HttpContext.RequestServices.GetRequiredService<PlantRuntime>();

    /// <summary>The model this request shows; the same from its first to its last line.</summary>
    public PlantModel Model => _model ??= ShowsReleased ? Workspace.Released : Workspace.Model;

    /// <summary>The values this request shows.</summary>
    public EngineSnapshot Snapshot => _snapshot ??= ShowsReleased ? Runtime.Snapshot : Runtime.WorkingSnapshot;

    /// <summary>True where what runs is shown; elsewhere it is what is being edited, as it would run.</summary>
    protected virtual bool ShowsReleased => false;

    /// <summary>The units this person looks at values in.</summary>
    public UnitLook Look => _look ??= UnitLook.Parse(Request.Cookies[UnitLook.Cookie]);

    /// <summary>What the open page follows.</summary>
    public virtual LiveScope Scope => new(LiveScopeKind.Header);

    /// <summary>What was done just now is told by the next whole page: a piece of one that is fetched meanwhile leaves it there.</summary>
    public override void OnPageHandlerExecuted(PageHandlerExecutedContext context)
    {
        if (context.Result is not PageResult || Request.Headers.ContainsKey("HX-Request"))
            TempData.Keep();
    }

    /// <summary>Places to choose from: the nodes without a template below an enterprise.</summary>
    public IEnumerable<Equipment> AllPlaces => Model.Index.EquipmentInOrder.Where(e => e.TemplateId is null && e.ParentId is not null);

    /// <summary>A place with those above it, without the enterprise.</summary>
    public string PlaceName(Equipment place) => string.Join(" / ", Model.Index.LineageOf(place.Id).Skip(1).Select(e => e.Name));

    /// <summary>Makes an edit and goes on; when it is refused, shows the page again with the form as it was typed.</summary>
    protected IActionResult Do(Edit edit, FormReader reader, Func<EditOutcome, IActionResult> next, Func<IActionResult> again)
    {
        var outcome = reader.HasProblems
            ? EditOutcome.Refused(edit.On(Workspace.Model).Problems.Where(p => !reader.State().Problems.Any(r => r.Field == p.Field)))
            : Workspace.Do(edit, Actor, reader.Seen);
        if (!reader.HasProblems && !outcome.IsRefused)
        {
            Done = outcome.Summary;
            return next(outcome);
        }
        Form = reader.State(outcome.Problems);
        Refusal = string.Join(" ", Form.Problems.Where(p => Unseen.Contains(p.Field)).Select(p => p.Message)) is { Length: > 0 } text
            ? text
            : null;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return again();
    }

    /// <summary>Id of what an edit added or changed last.</summary>
    protected static long IdOf(EditOutcome outcome) => ((Entity)outcome.Changes[^1].After!).Id;
}
