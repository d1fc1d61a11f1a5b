using System.Globalization;
using Fralto.Core.Alarms;

namespace Fralto.Web.Pages;

/// <summary>Steps of alarms in words.</summary>
public static class AlarmWords
{
    /// <summary>What a step was.</summary>
    public static string Of(AlarmEvent e) =>
        e.Cause switch
        {
            AlarmCause.ConditionRaised => "raised",
            AlarmCause.ConditionCleared => "returned to normal",
            AlarmCause.AcknowledgedByOperator => $"acknowledged by {e.Who}",
            AlarmCause.NoLongerWatched => "no longer watched: its limit or binding was taken away",
            AlarmCause.ResetByOperator => $"reset by {e.Who}",
            AlarmCause.ClearedByTime => "cleared by itself",
            AlarmCause.ShelvedByOperator => $"shelved by {e.Who}",
            AlarmCause.UnshelvedByOperator => $"brought back by {e.Who}",
            AlarmCause.ShelvingEnded => "back from the shelf",
            AlarmCause.SuppressionBegan => "does not count now",
            AlarmCause.SuppressionEnded => "counts again",
            AlarmCause.TakenOutOfService => $"taken out of service by {e.Who}",
            AlarmCause.PutBackInService => $"put back in service by {e.Who}",
            AlarmCause.ResponseDone => $"response {e.Who} done",
            _ => $"response {e.Who} failed",
        };

    /// <summary>An alarm as addresses say it.</summary>
    public static string KeyText(AlarmKey key) =>
        string.Create(CultureInfo.InvariantCulture, $"{key.EquipmentId}.{key.PropertyId}.{key.Condition}");

    /// <summary>A span of time as a clock shows it: 6:28, 2 h 07.</summary>
    public static string Clock(TimeSpan time)
    {
        var t = time.Duration();
        return t.TotalDays >= 2 ? $"{(int)t.TotalDays} d"
            : t.TotalHours >= 1 ? $"{(int)t.TotalHours} h {t.Minutes:00}"
            : $"{(int)t.TotalMinutes}:{t.Seconds:00}";
    }
}
