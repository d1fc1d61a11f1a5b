using System.Globalization;
using Fralto.Core.Commands;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Units;
using Fralto.Links;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One place's values, living.</summary>
public sealed class LivePageModel(CommandWriter desk) : FraltoPage
{
    /// <summary>Most values one page shows.</summary>
    public const int MostValues = 400;

    /// <summary>The place; null for the whole plant.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>Code of the unit that is to be looked at as another.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Unit { get; set; }

    /// <summary>The command being given: instance and property, joined by a point.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Command { get; set; }

    /// <summary>The point of the command being given; null when none is.</summary>
    public (PlanPoint Point, PointValue Value)? Commanded { get; private set; }

    /// <summary>The tag the command is written to.</summary>
    public Tag? CommandTag { get; private set; }

    /// <summary>What the command would write, looked at before it is given.</summary>
    public CommandOrder? Order { get; private set; }

    /// <summary>The unit that is to be looked at as another; null when none is.</summary>
    public Unit? Looked => Model.Units.Find(Unit);

    public Equipment? Place { get; private set; }

    public IReadOnlyList<Equipment> Lineage { get; private set; } = [];

    public IReadOnlyList<Equipment> Below { get; private set; } = [];

    /// <summary>Values of the place and all below it, grouped by instance.</summary>
    public IReadOnlyList<IGrouping<long, (PlanPoint Point, PointValue Value)>> Values { get; private set; } = [];

    public int Count { get; private set; }

    public override LiveScope Scope => new(LiveScopeKind.Place, At ?? 0);

    public IActionResult OnGet() => Show();

    /// <summary>Looks at what a command would write, and when it is sure gives it.</summary>
    public async Task<IActionResult> OnPostCommandAsync(bool sure)
    {
        var reader = new FormReader(Request.Form);
        if (ParseCell(Command) is not var (equipment, property))
            return NotFound();
        Order = CommandOrder.Read(Model, equipment, property, reader.Text("Value"), out var problem);
        if (Order is null)
            reader.Refuse("Value", problem!);
        else if (sure)
        {
            var before = Snapshot.Find(equipment, property) is var (point, value)
                ? $"{ValueText.Of(point, value.Value)} {ValueText.Unit(point)}".TrimEnd()
                : ValueText.None;
            var result = await desk.GiveAsync(Order, before, Actor);
            if (result.Outcome == WriteOutcome.Confirmed)
            {
                Done = $"Confirmed: {Order.Path} is {Order.Text}{(result.Reason.Length > 0 ? $"; {result.Reason}" : "")}";
                return RedirectToPage(new { at = At });
            }
            reader.Refuse("Value", $"{(result.Outcome == WriteOutcome.Refused ? "Refused" : "Not confirmed")}: {result.Reason}.");
            Order = null;
        }
        Form = reader.State();
        if (reader.HasProblems)
            Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Show();
    }

    /// <summary>True for a point that can be commanded.</summary>
    public bool IsCommand(PlanPoint point) =>
        Model.Index.PropertiesOf(Model.Equipment[point.EquipmentId]).FirstOrDefault(p => p.Id == point.PropertyId)?.Declaration.Kind
        == PropertyKind.Command;

    /// <summary>What a command can be chosen from; null when it is typed.</summary>
    public static IEnumerable<(string Value, string Text)>? ChoicesOf(PlanPoint point) =>
        point.States is { } states ? states.States.Select(s => (s.Name, s.Name))
        : point.Type == PropertyType.Boolean ? [("true", "true"), ("false", "false")]
        : null;

    private static (long Equipment, long Property)? ParseCell(string? cell) =>
        cell?.Split('.') is [var e, var p]
        && long.TryParse(e, NumberStyles.None, CultureInfo.InvariantCulture, out var equipment)
        && long.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var property)
            ? (equipment, property)
            : null;

    private IActionResult Show()
    {
        // The plan that runs may be a moment older than the model.
        if (
            ParseCell(Command) is var (equipment, property)
            && Model.Bindings.TryGetValue((equipment, property), out var binding)
            && Snapshot.Find(equipment, property) is { } found
        )
            (Commanded, CommandTag) = (found, Model.Tags[binding.TagId]);
        if (Commanded is { } c && Form.Problems.IsEmpty && Form["Value"].Length == 0)
            Form = FormState.Of(
                (
                    "Value",
                    ChoicesOf(c.Point) is null
                        ? (double.IsFinite(c.Value.Value) ? ValueText.Plain(c.Value.Value, c.Point.Decimals) : "")
                        : ValueText.Of(c.Point, c.Value.Value)
                )
            );
        if (At is { } at && (Place = Model.Equipment.GetValueOrDefault(at)) is null)
            return NotFound();
        Lineage = At is { } id ? Model.Index.LineageOf(id) : [];
        Below = [.. Model.Index.ChildrenOf(At)];
        var points = new LiveScope(LiveScopeKind.Place, At ?? 0).Select(Snapshot, Model).Points;
        Count = points.Length;
        Values =
        [
            .. points
                .Take(MostValues)
                .Select(i => (Snapshot.Plan.Points[i], Snapshot.ValueOf(i)))
                .Where(v => Model.Equipment.ContainsKey(v.Item1.EquipmentId))
                .GroupBy(v => v.Item1.EquipmentId),
        ];
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
        return RedirectToPage(new { at = At });
    }

    /// <summary>Code of the unit another is looked at in.</summary>
    public string ShownAs(Unit unit) => Look.Shown(unit.Code);

    /// <summary>Name of a point's property; its path's last code when the model has just changed under the page.</summary>
    public string NameOf(PlanPoint point) =>
        Model.Index.PropertiesOf(Model.Equipment[point.EquipmentId]).FirstOrDefault(p => p.Id == point.PropertyId)?.Name
        ?? point.Path[(point.Path.LastIndexOf('/') + 1)..];
}
