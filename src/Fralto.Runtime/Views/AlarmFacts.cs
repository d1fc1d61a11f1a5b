using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Rules;

namespace Fralto.Runtime.Views;

/// <summary>All that is to be said of an alarm: its limit, and the value people look at.</summary>
/// <param name="Alarm">The alarm.</param>
/// <param name="Point">The point whose value is shown: the property the limit belongs to.</param>
/// <param name="Value">Its newest value.</param>
/// <param name="Limit">The limit, in the numbers it runs in.</param>
/// <param name="Code">Code of the limit.</param>
/// <param name="Watched">The formula behind it; null for a level with a number of its own.</param>
public sealed record AlarmFacts(Alarm Alarm, PlanPoint Point, PointValue Value, Limit Limit, string Code, LimitFormula? Watched)
{
    /// <summary>All that is said of the limit.</summary>
    public LimitPatch Says => Limit.Says ?? LimitPatch.Empty;

    /// <summary>The property the limit belongs to.</summary>
    public long PropertyId => Watched?.PropertyId ?? Alarm.Key.PropertyId;

    /// <summary>When it has to be responded to; null where nobody said.</summary>
    public DateTimeOffset? DueAt =>
        Alarm.State.IsStanding() && Alarm.IsTrue && Says.RespondSeconds is { } seconds ? Alarm.RaisedAt.AddSeconds(seconds) : null;

    /// <summary>The condition in words.</summary>
    public string Words => Watched?.Words(Point.Unit?.Symbol ?? "") ?? $"{Code} {Point.WithUnit(Limit.Setpoint, null)}";

    /// <summary>What an alarm is about, as things stand; null when its limit is no longer there.</summary>
    public static AlarmFacts? Of(EngineSnapshot snapshot, Alarm alarm)
    {
        if (snapshot.Find(alarm.Key.EquipmentId, alarm.Key.PropertyId) is not var (point, value))
            return null;
        if (point.LimitOf(alarm.Key.Condition) is not { } limit)
            return null;
        if (point.Watch is not { } watch)
            return new(alarm, point, value, limit, alarm.Key.Condition.Letters(), null);
        return watch.Subject >= 0
            ? new(alarm, snapshot.Plan.Points[watch.Subject], snapshot.ValueOf(watch.Subject), limit, watch.Limit.Code, watch.Limit)
            : new(alarm, point, value, limit, watch.Limit.Code, watch.Limit);
    }
}
