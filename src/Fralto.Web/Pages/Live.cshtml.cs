using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Units;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>One place's values, living.</summary>
public sealed class LivePageModel : FraltoPage
{
    /// <summary>Most values one page shows.</summary>
    public const int MostValues = 400;

    /// <summary>The place; null for the whole plant.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>Code of the unit that is to be looked at as another.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Unit { get; set; }

    /// <summary>The unit that is to be looked at as another; null when none is.</summary>
    public Unit? Looked => Model.Units.Find(Unit);

    public Equipment? Place { get; private set; }

    public IReadOnlyList<Equipment> Lineage { get; private set; } = [];

    public IReadOnlyList<Equipment> Below { get; private set; } = [];

    /// <summary>Values of the place and all below it, grouped by instance.</summary>
    public IReadOnlyList<IGrouping<long, (PlanPoint Point, PointValue Value)>> Values { get; private set; } = [];

    public int Count { get; private set; }

    public override LiveScope Scope => new(LiveScopeKind.Place, At ?? 0);

    public IActionResult OnGet()
    {
        if (At is { } at && (Place = Model.Equipment.GetValueOrDefault(at)) is null) return NotFound();
        Lineage = At is { } id ? Model.Index.LineageOf(id) : [];
        Below = [.. Model.Index.ChildrenOf(At)];
        var points = new LiveScope(LiveScopeKind.Place, At ?? 0).Select(Snapshot, Model).Points;
        Count = points.Length;
        Values = [.. points.Take(MostValues).Select(i => (Snapshot.Plan.Points[i], Snapshot.Values[i])).Where(v => Model.Equipment.ContainsKey(v.Item1.EquipmentId)).GroupBy(v => v.Item1.EquipmentId)];
        return Page();
    }

    /// <summary>Keeps in which unit this person wants to look at another.</summary>
    public IActionResult OnPostLook(string from, string to)
    {
        if (Model.Units.Find(from) is not { } one || Model.Units.Find(to) is not { } other || UnitConversion.Between(one, other) is null)
            return BadRequest();
        Response.Cookies.Append(UnitLook.Cookie, Look.With(from, to).Text, new() { SameSite = SameSiteMode.Strict, HttpOnly = true, MaxAge = TimeSpan.FromDays(365), IsEssential = true });
        return RedirectToPage(new { at = At });
    }

    /// <summary>Code of the unit another is looked at in.</summary>
    public string ShownAs(Unit unit) => Look.Shown(unit.Code);

    /// <summary>Name of a point's property; its path's last code when the model has just changed under the page.</summary>
    public string NameOf(PlanPoint point) =>
        Model.Index.PropertiesOf(Model.Equipment[point.EquipmentId]).FirstOrDefault(p => p.Id == point.PropertyId)?.Name ?? point.Path[(point.Path.LastIndexOf('/') + 1)..];
}
