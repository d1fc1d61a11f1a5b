using Fralto.Core.Scaling;

namespace Fralto.Core.Limits;

/// <summary>What makes a set of limits wrong.</summary>
public static class LimitRules
{
    /// <summary>Longest delay of a limit, in seconds: a day.</summary>
    public const double LongestDelay = 86400;

    /// <summary>The problems of a set of limits, each with the condition it belongs to.</summary>
    /// <remarks>Setpoints must fall from HH to LL, lie inside the range, and a deadband must not be negative or reach the other
    /// side.</remarks>
    public static IEnumerable<(LimitCondition Condition, LimitField Field, string Message)> Problems(
        IReadOnlyList<Limit> limits,
        Span? range
    )
    {
        foreach (var limit in limits)
        {
            var name = limit.Condition.Letters();
            if (!double.IsFinite(limit.Setpoint))
                yield return (limit.Condition, LimitField.Setpoint, $"{name} is not a number.");
            else if (range is { IsUsable: true } span && !span.Contains(limit.Setpoint))
                yield return (
                    limit.Condition,
                    LimitField.Setpoint,
                    $"{name} {limit.Setpoint} lies outside the range {span.Minimum} … {span.Maximum}."
                );
            if (limit.Deadband < 0 || !double.IsFinite(limit.Deadband))
                yield return (limit.Condition, LimitField.Deadband, $"The deadband of {name} is 0 or more, not {limit.Deadband}.");
            else if (range is { IsUsable: true } whole && limit.Deadband >= Math.Abs(whole.Width))
                yield return (
                    limit.Condition,
                    LimitField.Deadband,
                    $"The deadband of {name} is as wide as the whole range; the alarm would never clear."
                );
            if (!(limit.OnDelay is >= 0 and <= LongestDelay))
                yield return (
                    limit.Condition,
                    LimitField.OnDelay,
                    $"The on-delay of {name} is 0 to {LongestDelay} s, not {limit.OnDelay}."
                );
            if (!(limit.OffDelay is >= 0 and <= LongestDelay))
                yield return (
                    limit.Condition,
                    LimitField.OffDelay,
                    $"The off-delay of {name} is 0 to {LongestDelay} s, not {limit.OffDelay}."
                );
            if (limit.Priority is < 1 or > 4)
                yield return (limit.Condition, LimitField.Priority, $"The priority of {name} is 1, 2, 3 or 4, not {limit.Priority}.");
        }
        var ordered = limits.OrderBy(l => l.Condition).ToArray();
        for (var i = 1; i < ordered.Length; i++)
            if (ordered[i].Setpoint >= ordered[i - 1].Setpoint)
                yield return (
                    ordered[i].Condition,
                    LimitField.Setpoint,
                    $"{ordered[i].Condition.Letters()} {ordered[i].Setpoint} must lie below {ordered[i - 1].Condition.Letters()} "
                        + $"{ordered[i - 1].Setpoint}."
                );
        var high = ordered.Where(l => l.Condition.IsHigh()).Select(l => l.ClearsBeyond).DefaultIfEmpty(double.PositiveInfinity).Min();
        foreach (var low in ordered.Where(l => !l.Condition.IsHigh() && l.Deadband >= 0 && l.ClearsBeyond >= high))
            yield return (
                low.Condition,
                LimitField.Deadband,
                $"The deadband of {low.Condition.Letters()} overlaps the deadband of a high limit: no value would be normal."
            );
    }
}
