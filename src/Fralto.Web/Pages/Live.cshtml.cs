using Fralto.Core.Commands;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Units;
using Fralto.Links;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One place's values, living.</summary>
public sealed class LivePageModel(CommandWriter commands) : ListingPage
{
    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public LiveQuery Query { get; set; } = new();

    /// <summary>What is shown of it.</summary>
    public LiveView View { get; private set; } = null!;

    /// <inheritdoc/>
    protected override string ListingName => LiveListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing() =>
        Query.At is { } at && !Model.Equipment.ContainsKey(at)
            ? null
            : LiveListing.Of(Model, Snapshot, Runtime, Look, Query.At, () => LiveScope.AllPoints(Snapshot, Model, Query.At));

    /// <summary>Controllers that are not there, said once.</summary>
    public IEnumerable<(string Name, string Reason)> Down => LiveListing.DownControllers(Model, Runtime).Values;

    /// <summary>What the command would write, looked at before it is given.</summary>
    public CommandOrder? Order { get; private set; }

    /// <summary>The unit that is to be looked at as another; null when none is.</summary>
    public Unit? Looked => Model.Units.Find(Query.Unit);

    public override LiveScope Scope => new(LiveScopeKind.Running, Query.At ?? 0);

    public IActionResult OnGet() => Show();

    /// <summary>Looks at what a command would write, and when it is sure gives it.</summary>
    public async Task<IActionResult> OnPostCommandAsync(bool sure)
    {
        var reader = new FormReader(Request.Form);
        if (CellText.Read(Query.Command) is not var (equipment, property))
            return NotFound();
        Order = CommandOrder.Read(Model, equipment, property, reader.Text("Value"), out var problem);
        if (Order is null)
            reader.Refuse("Value", problem!);
        else if (sure)
        {
            var before = Snapshot.Find(equipment, property) is var (point, value)
                ? $"{ValueText.Of(point, value.Value)} {ValueText.Unit(point)}".TrimEnd()
                : ValueText.None;
            var result = await commands.GiveAsync(Order, before, Actor);
            if (result.Outcome == WriteOutcome.Confirmed)
            {
                Done = $"Confirmed: {Order.Path} is {Order.Text}{(result.Reason.Length > 0 ? $"; {result.Reason}" : "")}";
                return RedirectToPage(new { at = Query.At });
            }
            reader.Refuse("Value", $"{(result.Outcome == WriteOutcome.Refused ? "Refused" : "Not confirmed")}: {result.Reason}.");
            Order = null;
        }
        Form = reader.State();
        if (reader.HasProblems)
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Show();
    }

    /// <summary>Takes a value somebody enters.</summary>
    /// <param name="cell">Instance and property.</param>
    /// <param name="back">The instance on whose sheet it was entered; null for this page.</param>
    public Task<IActionResult> OnPostEnterAsync(string? cell, long? back) =>
        ActAsync(
            cell,
            back,
            (equipment, property) => Runtime.EnterAsync(equipment, property, new FormReader(Request.Form).Text("Value"), Actor),
            "Entered"
        );

    /// <summary>Begins what a formula counts anew.</summary>
    /// <param name="cell">Instance and property.</param>
    /// <param name="back">The instance on whose sheet it was ordered; null for this page.</param>
    public Task<IActionResult> OnPostResetAsync(string? cell, long? back) =>
        ActAsync(cell, back, (equipment, property) => Runtime.ResetAsync(equipment, property, Actor), "Reset");

    private async Task<IActionResult> ActAsync(string? cell, long? back, Func<long, long, Task<string?>> act, string did)
    {
        if (CellText.Read(cell) is not var (equipment, property))
            return NotFound();
        var name = Snapshot.Find(equipment, property) is { } found ? found.Point.Path : "it";
        var refusal = await act(equipment, property);
        if (refusal is null)
        {
            Done = $"{did}: {name}";
            return back is { } sheet ? RedirectToPage("/Plant", new { at = sheet }) : RedirectToPage(new { at = Query.At });
        }
        Refusal = $"{name}: {refusal}";
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        Query.Enter = cell;
        Form = new FormReader(Request.Form).State();
        return Show();
    }

    /// <summary>What is being entered; null when nothing is.</summary>
    public (PlanPoint Point, PointValue Value)? Entering =>
        CellText.Read(Query.Enter) is var (equipment, property)
        && Snapshot.Find(equipment, property) is { Point.Source: PointSource.Entered } found
            ? found
            : null;

    /// <summary>What a command can be chosen from; null when it is typed.</summary>
    public static IEnumerable<(string Value, string Text)>? ChoicesOf(PlanPoint point) =>
        point.States is { } states ? states.States.Select(s => (s.Name, s.Name))
        : point.Type == PropertyType.Boolean ? [("true", "true"), ("false", "false")]
        : null;

    private IActionResult Show()
    {
        if (LiveView.Of(Model, Snapshot, Query.At, CellText.Read(Query.Command)) is not { } view)
            return NotFound();
        View = view;
        if (View.Commanded is { } c && Form.Problems.IsEmpty && Form["Value"].Length == 0)
            Form = FormState.Of(
                (
                    "Value",
                    ChoicesOf(c.Point) is null
                        ? (double.IsFinite(c.Value.Value) ? ValueText.Plain(c.Value.Value, c.Point.Decimals) : "")
                        : ValueText.Of(c.Point, c.Value.Value)
                )
            );
        return Page();
    }

    /// <summary>Keeps in which unit this person wants to look at another.</summary>
    public IActionResult OnPostLook(string from, string to)
    {
        if (Model.Units.Find(from) is not { } one || Model.Units.Find(to) is not { } other || UnitConversion.Between(one, other) is null)
            return BadRequest();
        Response.Cookies.Append(
            UnitLook.Cookie,
            Look.With(from, to).Text,
            new()
            {
                SameSite = SameSiteMode.Strict,
                HttpOnly = true,
                MaxAge = TimeSpan.FromDays(365),
                IsEssential = true,
            }
        );
        return RedirectToPage(new { at = Query.At });
    }

    /// <summary>Code of the unit another is looked at in.</summary>
    public string ShownAs(Unit unit) => Look.Shown(unit.Code);
}
