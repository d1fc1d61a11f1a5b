using System.Globalization;
using System.Text;
using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Notices;

namespace Fralto.Core.Rules;

/// <summary>What a mail says of the alarms one list is told of: plain text, one mail for what comes together.</summary>
/// <param name="Subject">Its subject, one line.</param>
/// <param name="Text">Its text.</param>
public sealed record NoticeMail(string Subject, string Text)
{
    /// <summary>How many alarms a mail says in words; of more it says how many.</summary>
    public const int MostInWords = 40;

    private const int LongestSubject = 150;

    /// <summary>Writes the mail.</summary>
    /// <param name="list">Who is told.</param>
    /// <param name="notices">Of what; one at least.</param>
    /// <param name="valueOf">The value of a step with its unit.</param>
    /// <param name="saysOf">What the limit of an alarm says.</param>
    /// <param name="local">A moment by the clock of the plant.</param>
    public static NoticeMail Of(
        NoticeList list,
        IReadOnlyList<Notice> notices,
        Func<AlarmEvent, string> valueOf,
        Func<AlarmKey, LimitPatch?> saysOf,
        Func<DateTimeOffset, DateTime> local
    )
    {
        var sorted = notices
            .OrderBy(n => n.Reason == NoticeReason.Returned)
            .ThenBy(n => n.Step.Priority)
            .ThenBy(n => n.Step.Time)
            .ToArray();
        var first = sorted[0];
        var subject =
            notices.Count == 1
                ? $"{Word(first.Reason)}priority {first.Step.Priority}: {first.Step.Path} {first.Step.Limit}"
                : $"{notices.Count} alarms, first priority {first.Step.Priority}: {first.Step.Path} {first.Step.Limit}";
        var text = new StringBuilder();
        foreach (var notice in sorted.Take(MostInWords))
        {
            var step = notice.Step;
            text.Append(CultureInfo.InvariantCulture, $"{Word(notice.Reason)}Priority {step.Priority}: {step.Path} {step.Limit}\n")
                .Append(
                    CultureInfo.InvariantCulture,
                    $"  {(notice.Reason == NoticeReason.Returned ? "returned" : "raised")} {local(step.Time):yyyy-MM-dd HH:mm:ss}"
                );
            if (valueOf(step) is { Length: > 0 } value)
                text.Append(CultureInfo.InvariantCulture, $" at {value}");
            text.Append('\n');
            var message = MessageText.In(step.Message, step.Translations, list.Language);
            var says = notice.Reason == NoticeReason.Returned ? null : saysOf(notice.Key);
            foreach (
                var (word, words) in new[]
                {
                    ("", message),
                    ("Cause: ", says?.Cause),
                    ("Consequence: ", says?.Consequence),
                    ("What to do: ", says?.Action),
                    ("Document: ", says?.Document),
                }
            )
                if (!string.IsNullOrWhiteSpace(words))
                    text.Append(CultureInfo.InvariantCulture, $"  {word}{words.ReplaceLineEndings("\n    ")}\n");
            if (says?.RespondSeconds is { } respond)
                text.Append(CultureInfo.InvariantCulture, $"  Time to respond: {LimitFormula.Seconds(respond)}\n");
            text.Append('\n');
        }
        if (sorted.Length > MostInWords)
            text.Append(CultureInfo.InvariantCulture, $"And {sorted.Length - MostInWords} more; Fralto lists them all.\n\n");
        text.Append(CultureInfo.InvariantCulture, $"Told: {list.Name}. Acknowledge in Fralto, under Alarms.\n");
        var line = new string([.. subject.Select(c => char.IsControl(c) ? ' ' : c)]);
        return new(line.Length > LongestSubject ? line[..LongestSubject] : line, text.ToString());
    }

    private static string Word(NoticeReason reason) =>
        reason switch
        {
            NoticeReason.Repeated => "Still not acknowledged: ",
            NoticeReason.Escalated => "Handed on, not acknowledged: ",
            NoticeReason.Returned => "Returned: ",
            _ => "",
        };
}
