using Fralto.Core.Scaling;

namespace Fralto.Core.Limits;

/// <summary>What makes a set of limits wrong.</summary>
public static class LimitRules
{
    /// <summary>Longest delay of a limit, in seconds: a day.</summary>
    public const double LongestDelay = 86400;

    /// <summary>Longest text of a limit, in characters.</summary>
    public const int LongestText = 1000;

    /// <summary>Longest time to respond, and until an alarm clears by itself or counts, in seconds: a week.</summary>
    public const double LongestTime = 7 * 86400;

    /// <summary>The problems of what is said of a limit beside its numbers: the field and the words.</summary>
    /// <param name="code">Its code.</param>
    /// <param name="says">What is said.</param>
    public static IEnumerable<(string Field, string Message)> Problems(string code, LimitPatch says)
    {
        foreach (
            var (field, text) in new[]
            {
                (nameof(LimitPatch.Message), says.Message),
                (nameof(LimitPatch.Cause), says.Cause),
                (nameof(LimitPatch.Consequence), says.Consequence),
                (nameof(LimitPatch.Action), says.Action),
                (nameof(LimitPatch.Capture), says.Capture),
                (nameof(LimitPatch.Translations), says.Translations),
                (nameof(LimitPatch.Class), says.Class),
                (nameof(LimitPatch.From), says.From),
                (nameof(LimitPatch.CountsWhile), says.CountsWhile),
                (nameof(LimitPatch.Document), says.Document),
                (nameof(LimitPatch.Shelving), says.Shelving),
                (nameof(LimitPatch.Responses), says.Responses),
            }
        )
            if (text is { Length: > LongestText })
                yield return (field, $"{code}: the text has {text.Length} characters; {LongestText} is the most.");
            else if (text?.Any(c => char.IsControl(c) && c is not ('\n' or '\r' or '\t')) == true)
                yield return (field, $"{code}: the text holds a control character.");
        foreach (var (language, text) in MessageText.TranslationsOf(says.Translations ?? ""))
            if (text.Length == 0 || language.Length is < 2 or > 35 || !language.All(c => char.IsAsciiLetterOrDigit(c) || c == '-'))
                yield return (
                    nameof(LimitPatch.Translations),
                    $"{code}: '{language}{(text.Length > 0 ? $" = {text}" : "")}' is no translation; write the language "
                        + "and the message: de = …"
                );
        foreach (
            var (field, seconds, words) in new[]
            {
                (nameof(LimitPatch.RespondSeconds), says.RespondSeconds, "time to respond"),
                (nameof(LimitPatch.ClearsAfter), says.ClearsAfter, "time until it clears by itself"),
                (nameof(LimitPatch.CountsAfter), says.CountsAfter, "time until it counts"),
            }
        )
            if (seconds is { } given && given is not (>= 0 and <= LongestTime))
                yield return (field, $"{code}: the {words} is 0 s to a week, not {given} s.");
        if (says.WindowSeconds is { } window && window is not (>= 1 and <= LongestDelay))
            yield return (nameof(LimitPatch.WindowSeconds), $"{code}: the window is 1 s to {LongestDelay} s, not {window}.");
        if (says.DeadbandPercent is { } percent && percent is not (>= 0 and < 100))
            yield return (nameof(LimitPatch.DeadbandPercent), $"{code}: the deadband is 0 to 100 % of the range, not {percent}.");
        if (says is { Latched: true, Momentary: true })
            yield return (
                nameof(LimitPatch.Momentary),
                $"{code}: an event has gone at once and cannot stay until it is reset; choose one."
            );
        if (says.CountsAfter is not null && says.CountsWhile is null)
            yield return (nameof(LimitPatch.CountsAfter), $"{code}: say while what it counts, or leave the time empty.");
        if (
            says.Document is { Length: > 0 } document
            && !(Uri.TryCreate(document, UriKind.Absolute, out var uri) && uri.Scheme is "http" or "https")
        )
            yield return (nameof(LimitPatch.Document), $"{code}: the document has an address that begins with http:// or https://.");
    }

    /// <summary>The problems of a limit that is none of the four levels: the field and the words.</summary>
    /// <param name="code">Its code.</param>
    /// <param name="says">What all layers say of it.</param>
    /// <param name="isNumeric">Whether its property is a number.</param>
    /// <param name="range">The range of its property; null when it has none.</param>
    public static IEnumerable<(string Field, string Message)> ProblemsOfOther(string code, LimitPatch says, bool isNumeric, Span? range)
    {
        foreach (var problem in Problems(code, says))
            yield return problem;
        if (says.Off == true)
            yield break;
        if (says.Kind is not { } kind)
        {
            yield return (nameof(LimitPatch.Kind), $"{code}: say what it looks at.");
            yield break;
        }
        var needsNumber = kind is LimitKind.Deviation or LimitKind.Rate or LimitKind.NoChange;
        if (needsNumber && says.Setpoint is not { } setpoint)
            yield return (nameof(LimitPatch.Setpoint), $"{code}: give it a setpoint.");
        else if (kind != LimitKind.Rate && says.Setpoint is < 0 || needsNumber && !double.IsFinite(says.Setpoint!.Value))
            yield return (nameof(LimitPatch.Setpoint), $"{code}: its setpoint is 0 or more.");
        else if (kind == LimitKind.Rate && says.Setpoint == 0)
            yield return (nameof(LimitPatch.Setpoint), $"{code}: a rate is above 0 for rising, below 0 for falling.");
        else if (kind == LimitKind.NoChange && says.Setpoint is not (>= 1 and <= LongestTime))
            yield return (nameof(LimitPatch.Setpoint), $"{code}: no change is watched for 1 s to a week.");
        else if (kind == LimitKind.Deviation && range is { IsUsable: true } span && says.Setpoint > Math.Abs(span.Width))
            yield return (nameof(LimitPatch.Setpoint), $"{code}: it is wider than the whole range; it would never be raised.");
        if (needsNumber && says.Deadband is { } band && !(band >= 0 && band < Math.Abs(says.Setpoint ?? 0)))
            yield return (
                nameof(LimitPatch.Deadband),
                $"{code}: the deadband is 0 or more and less than the setpoint; it would never clear."
            );
        if (
            kind is LimitKind.Deviation or LimitKind.StateIs or LimitKind.StateIsNot or LimitKind.Formula
            && string.IsNullOrWhiteSpace(says.From)
        )
            yield return (
                nameof(LimitPatch.From),
                kind switch
                {
                    LimitKind.Deviation => $"{code}: say from which property it deviates.",
                    LimitKind.Formula => $"{code}: write the formula.",
                    _ => $"{code}: say the state.",
                }
            );
        if (kind is LimitKind.Deviation or LimitKind.Rate && !isNumeric)
            yield return (nameof(LimitPatch.Kind), $"{code}: only a number has a deviation or a rate.");
        if (kind is LimitKind.StateIs or LimitKind.StateIsNot && isNumeric)
            yield return (nameof(LimitPatch.Kind), $"{code}: a number has no states; choose a formula.");
        if (says.Priority is { } priority && priority is not (>= 1 and <= 4))
            yield return (nameof(LimitPatch.Priority), $"{code}: the priority is 1, 2, 3 or 4, not {priority}.");
        if (says.OnDelay is { } on && on is not (>= 0 and <= LongestDelay))
            yield return (nameof(LimitPatch.OnDelay), $"{code}: the on-delay is 0 to {LongestDelay} s, not {on}.");
        if (says.OffDelay is { } off && off is not (>= 0 and <= LongestDelay))
            yield return (nameof(LimitPatch.OffDelay), $"{code}: the off-delay is 0 to {LongestDelay} s, not {off}.");
    }

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
