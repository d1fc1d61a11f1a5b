using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Links;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What is abnormal now, and what happened lately.</summary>
public sealed class AlarmsModel : ListingPage
{
    private const int MostAlarms = 300;
    private const int MostNamed = 4;

    public override LiveScope Scope => new(LiveScopeKind.Place);

    public IEnumerable<Alarm> Shown => Snapshot.Alarms.Take(MostAlarms);

    /// <inheritdoc/>
    protected override string ListingName => "alarm-events";

    /// <inheritdoc/>
    protected override IListing? MakeListing()
    {
        var events = Runtime.RecentEvents;
        return new Listing<AlarmEvent>(
            ListingName,
            "events",
            () => [.. events],
            (Snapshot.AlarmVersion, Model),
            e => $"{e.Key.EquipmentId}.{e.Key.PropertyId}.{e.Key.Condition}.{e.Time.Ticks}.{e.Cause}",
            [
                new("when", "When", e => ValueText.Utc(e.Time))
                {
                    Number = e => e.Time.Ticks,
                    Class = "num",
                    Cell = e => new(ValueText.Time(e.Time)) { Title = ValueText.Utc(e.Time) },
                },
                new("priority", "Priority", e => $"{e.Priority}")
                {
                    IsFacet = true,
                    Width = "narrow",
                    Cell = e => new("") { Content = new HtmlString(PriorityTagHelper.Mark(e.Priority)) },
                },
                new("place", "Place", e => PlaceOf(e.Key.EquipmentId, e.Path)) { Width = "wide", IsFacet = true },
                new("property", "Property", e => PropertyOf(e.Key, e.Path)) { IsFacet = true },
                new("limit", "Limit", e => e.Key.Condition.Letters())
                {
                    Class = "num",
                    IsFacet = true,
                    Width = "narrow",
                },
                new("value", "Value", e => ValueOf(e))
                {
                    Class = "num",
                    IsRight = true,
                    Number = e => e.Value,
                    Width = "narrow",
                },
                new("what", "What", e => Words(e)) { IsFacet = true, Width = "wide" },
            ]
        )
        {
            Page = "/alarms",
            Empty = "No alarm has been logged in this plant yet.",
        };
    }

    private string ValueOf(AlarmEvent e) =>
        Snapshot.Find(e.Key.EquipmentId, e.Key.PropertyId) is { } found ? ValueText.Of(found.Point, e.Value) : ValueText.Plain(e.Value, 3);

    /// <summary>How many limits are watched; what is not watched is not said to be kept.</summary>
    public LimitWatch Watch => _watch ??= LimitWatch.Of(Snapshot.Plan, i => Snapshot.ValueOf(i).Status.IsBad);

    private LimitWatch? _watch;

    /// <summary>What can be said of the limits when there is no alarm to show.</summary>
    public string Quiet =>
        !Runtime.IsRunning ? "The engine does not run yet: no limit is being watched."
        : Watch.Total == 0 ? "No limit is being watched: no property that is bound has one."
        : Watch.Watched == Watch.Total
            ? Watch.Total == 1 ? "No alarm. The one limit that is watched is kept."
                : $"No alarm. All {Watch.Total} limits that are watched are kept."
        : Watch.Watched == 0 ? "Whether there is an alarm is not known: no limit is being watched."
        : $"No alarm at the {Limits(Watch.Watched)} being watched.";

    /// <summary>What is not being watched and why; empty when everything is.</summary>
    public string Unwatched
    {
        get
        {
            if (Watch.Unwatched.IsEmpty)
                return "";
            var down = Watch
                .Unwatched.Where(u => u.Key != 0 && Runtime.Links.StatusOf(u.Key)?.State is not (LinkState.Up or LinkState.Partial))
                .ToArray();
            var others = Watch.Unwatched.Except(down).Sum(u => u.Value);
            string NameOf(long id) => Model.Controllers.TryGetValue(id, out var controller) ? controller.Name : "one taken out";
            return string.Join(
                " ",
                new[]
                {
                    down.Length == 0
                        ? ""
                        : $"{(down.Length == 1 ? "1 controller" : $"{down.Length} controllers")} down "
                            + $"({string.Join(", ", down.Take(MostNamed).Select(d => NameOf(d.Key)))}"
                            + $"{(down.Length > MostNamed ? " …" : "")}): "
                            + $"{Limits(down.Sum(d => d.Value))} {Are(down.Sum(d => d.Value))} not being watched.",
                    others == 0
                        ? ""
                        : $"{Limits(others)} {Are(others)} not being watched, because "
                            + $"{(others == 1 ? "its value is" : "their values are")} bad.",
                }.Where(s => s.Length > 0)
            );
        }
    }

    private static string Limits(int count) => count == 1 ? "1 limit" : $"{count} limits";

    private static string Are(int count) => count == 1 ? "is" : "are";

    public void OnGet()
    {
        // The page renders itself from the newest snapshot.
    }

    /// <summary>What is being watched, asked for again every few seconds: a controller that goes down moves no alarm.</summary>
    public IActionResult OnGetWatch() => Partial("_AlarmWatch", this);

    public IActionResult OnGetLists() => Partial("_AlarmLists", this);

    public async Task<IActionResult> OnPostAcknowledgeAsync(long equipmentId, long propertyId, LimitCondition condition)
    {
        if (!ModelState.IsValid)
            return BadRequest();
        await Runtime.AcknowledgeAsync(new AlarmKey(equipmentId, propertyId, condition), Actor);
        return RedirectToPage();
    }

    /// <summary>What an event was, in words.</summary>
    public static string Words(AlarmEvent e) =>
        e.Cause switch
        {
            AlarmCause.ConditionRaised => "raised",
            AlarmCause.ConditionCleared => "returned to normal",
            AlarmCause.NoLongerWatched => "no longer watched: its limit or binding was taken away",
            _ => $"acknowledged by {e.Who}",
        };

    /// <summary>Names from the site down to the instance; the path when the instance has been taken out.</summary>
    public string PlaceOf(long equipmentId, string path) =>
        Model.Equipment.ContainsKey(equipmentId)
            ? string.Join(" / ", Model.Index.LineageOf(equipmentId).Skip(1).Select(e => e.Name))
            : path;

    /// <summary>Name of the property; the last code of the path when it has been taken out.</summary>
    public string PropertyOf(AlarmKey key, string path) =>
        Model.Equipment.TryGetValue(key.EquipmentId, out var instance)
        && Model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == key.PropertyId) is { } property
            ? property.Name
            : path[(path.LastIndexOf('/') + 1)..];
}
