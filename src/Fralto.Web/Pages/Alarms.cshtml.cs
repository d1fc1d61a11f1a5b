using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>What is abnormal now, and what happened lately.</summary>
public sealed class AlarmsModel : FraltoPage
{
    private const int MostAlarms = 300;
    private const int MostEvents = 100;

    public override LiveScope Scope => new(LiveScopeKind.Place);

    public IEnumerable<Alarm> Shown => Snapshot.Alarms.Take(MostAlarms);

    public IEnumerable<AlarmEvent> Recent => Runtime.RecentEvents.Take(MostEvents);

    public void OnGet()
    {
        // The page renders itself from the newest snapshot.
    }

    public IActionResult OnGetLists() => Partial("_AlarmLists", this);

    public async Task<IActionResult> OnPostAcknowledgeAsync(long equipmentId, long propertyId, LimitCondition condition)
    {
        if (!ModelState.IsValid) return BadRequest();
        await Runtime.AcknowledgeAsync(new AlarmKey(equipmentId, propertyId, condition), ModelWorkspace.LocalUser);
        return RedirectToPage();
    }

    /// <summary>What an event was, in words.</summary>
    public static string Words(AlarmEvent e) => e.Cause switch
    {
        AlarmCause.ConditionRaised => "raised",
        AlarmCause.ConditionCleared => "returned to normal",
        _ => $"acknowledged by {e.Who}",
    };

    /// <summary>Names from the site down to the instance; the path when the instance has been taken out.</summary>
    public string PlaceOf(long equipmentId, string path) => Model.Equipment.ContainsKey(equipmentId)
        ? string.Join(" / ", Model.Index.LineageOf(equipmentId).Skip(1).Select(e => e.Name)) : path;

    /// <summary>Name of the property; the last code of the path when it has been taken out.</summary>
    public string PropertyOf(AlarmKey key, string path) => Model.Equipment.TryGetValue(key.EquipmentId, out var instance)
        && Model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == key.PropertyId) is { } property ? property.Name : path[(path.LastIndexOf('/') + 1)..];
}
