using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Runtime.Views;

/// <summary>What somebody may do to an alarm, by the rules of the plant.</summary>
public static class AlarmActs
{
    /// <summary>The act, or why it may not be.</summary>
    /// <param name="model">Where the rules of shelving are.</param>
    /// <param name="key">The alarm.</param>
    /// <param name="says">What is said of its limit.</param>
    /// <param name="cause">What is done.</param>
    /// <param name="comment">What is said with it.</param>
    /// <param name="minutes">How long it is shelved; null for everything else.</param>
    public static (AlarmAct? Act, string Why) Of(
        PlantModel model,
        AlarmKey key,
        LimitPatch? says,
        AlarmCause cause,
        string comment,
        double? minutes
    )
    {
        if (cause is AlarmCause.ShelvedByOperator or AlarmCause.TakenOutOfService && comment.Length == 0)
            return (null, "say why, in the comment");
        if (cause != AlarmCause.ShelvedByOperator)
            return (new(key, cause, "", comment), "");
        var rule = model.ShelvingRuleOf(says);
        var time = minutes is { } given && double.IsFinite(given) ? TimeSpan.FromMinutes(given) : rule.Presets[0];
        return time <= TimeSpan.Zero ? (null, "say how long")
            : time > rule.Longest ? (null, $"its rule {rule.Name} allows at most {LimitFormula.Seconds(rule.Longest.TotalSeconds)}")
            : (new(key, cause, "", comment, time, rule.Name), "");
    }
}
