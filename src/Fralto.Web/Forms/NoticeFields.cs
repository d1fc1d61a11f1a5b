using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>The fields of a list of who is told, and the list in words.</summary>
public static class NoticeFields
{
    private static readonly DayOfWeek[] Week =
    [
        DayOfWeek.Monday,
        DayOfWeek.Tuesday,
        DayOfWeek.Wednesday,
        DayOfWeek.Thursday,
        DayOfWeek.Friday,
        DayOfWeek.Saturday,
        DayOfWeek.Sunday,
    ];

    public static IEnumerable<(string Value, string Text)> Returns { get; } = [("", "says nothing"), ("yes", "is told, too")];

    public static IEnumerable<(string Value, string Text)> ByItself { get; } =
    [("", "is told at once"), ("yes", "is told only of what another list hands on")];

    public static IEnumerable<(string Value, string Text)> Securities { get; } =
    [
        (nameof(MailSecurity.StartTls), "STARTTLS"),
        (nameof(MailSecurity.Tls), "TLS from the beginning"),
        (nameof(MailSecurity.None), "not encrypted"),
    ];

    /// <summary>The form filled from a list.</summary>
    public static IEnumerable<(string, object?)> Of(NoticeList list) =>
        [
            ("Name", list.Name),
            ("Addresses", string.Join('\n', list.Addresses)),
            ("Place", list.PlaceId),
            ("Priorities", string.Join(", ", list.Priorities)),
            ("Label", list.Label),
            ("Days", string.Join(", ", list.Days.Select(d => d.ToString()[..3]))),
            ("From", list.From?.ToString("HH:mm", CultureInfo.InvariantCulture)),
            ("Until", list.Until?.ToString("HH:mm", CultureInfo.InvariantCulture)),
            ("RepeatAfter", ValueText.Plain(list.RepeatAfter?.TotalMinutes)),
            ("Repeats", list.Repeats),
            ("EscalateAfter", ValueText.Plain(list.EscalateAfter?.TotalMinutes)),
            ("EscalateTo", list.EscalateTo),
            ("TellsReturn", list.TellsReturn ? "yes" : ""),
            ("OnlyEscalated", list.OnlyEscalated ? "yes" : ""),
            ("Language", list.Language),
        ];

    /// <summary>What the form says.</summary>
    public static NoticeList Read(FormReader reader)
    {
        string? TextOf(string name) => reader.Text(name) is { Length: > 0 } text ? text : null;
        TimeOnly? TimeOf(string name)
        {
            if (TextOf(name) is not { } text)
                return null;
            if (TimeOnly.TryParseExact(text, ["HH:mm", "H:mm"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
                return time;
            reader.Refuse(name, $"'{text}' is no time of day; write it as 06:00.");
            return null;
        }
        return new NoticeList(TextOf("Name") ?? "", [.. Words(reader.Text("Addresses"))])
        {
            PlaceId = reader.Text("Place").Length == 0 ? null : reader.Id("Place"),
            Label = TextOf("Label"),
            Priorities =
            [
                .. Words(reader.Text("Priorities")).Select(w => w is ['1' or '2' or '3' or '4'] ? w[0] - '0' : 0).Distinct().Order(),
            ],
            Days = DaysOf(reader),
            From = TimeOf("From"),
            Until = TimeOf("Until"),
            RepeatAfter = reader.Number("RepeatAfter") is { } again ? Minutes(again) : null,
            Repeats = reader.Whole("Repeats", "how often it is told again"),
            EscalateAfter = reader.Number("EscalateAfter") is { } wait ? Minutes(wait) : null,
            EscalateTo = TextOf("EscalateTo"),
            TellsReturn = TextOf("TellsReturn") is not null,
            OnlyEscalated = TextOf("OnlyEscalated") is not null,
            Language = TextOf("Language"),
        };
    }

    /// <summary>Of which alarms a list is told, in words.</summary>
    public static string OfWhich(PlantModel model, NoticeList list)
    {
        var words = string.Join(
            ", ",
            new[]
            {
                list.Priorities.IsEmpty ? "" : $"priority {string.Join(", ", list.Priorities)}",
                list.PlaceId is { } place ? $"below {model.Index.PathOf(place)}" : "",
                list.Label ?? "",
            }.Where(w => w.Length > 0)
        );
        return (
                list.OnlyEscalated ? "only what is handed on"
                : words.Length == 0 ? "all"
                : words
            ) + (list.TellsReturn ? "; also when it has returned" : "");
    }

    /// <summary>When a list is told, in words.</summary>
    public static string Hours(NoticeList list) =>
        string.Join(
            " ",
            new[]
            {
                list is { From: { } from, Until: { } until } ? $"{from:HH\\:mm} to {until:HH\\:mm}"
                : list.Days.IsEmpty ? "always"
                : "",
                list.Days.IsEmpty ? "" : string.Join(", ", list.Days.Select(d => d.ToString()[..3])),
            }.Where(w => w.Length > 0)
        );

    /// <summary>What happens while nobody acknowledges, in words.</summary>
    public static string Unseen(NoticeList list) =>
        string.Join(
            "; ",
            new[]
            {
                list.RepeatAfter is { } again ? $"again every {LimitFormula.Seconds(again.TotalSeconds)}, {list.Repeats} times" : "",
                list.EscalateAfter is { } wait ? $"to {list.EscalateTo} after {LimitFormula.Seconds(wait.TotalSeconds)}" : "",
            }.Where(w => w.Length > 0)
        );

    private static ImmutableArray<DayOfWeek> DaysOf(FormReader reader)
    {
        var days = new List<DayOfWeek>();
        foreach (var word in Words(reader.Text("Days")))
            if (
                word.Length >= 2
                && Week.Where(d => d.ToString().StartsWith(word, StringComparison.OrdinalIgnoreCase)).ToArray() is [var day]
            )
                days.Add(day);
            else
                reader.Refuse("Days", $"'{word}' is no day; write Mon, Tue, Wed, Thu, Fri, Sat or Sun.");
        return [.. Week.Where(days.Contains)];
    }

    private static TimeSpan Minutes(double minutes) => TimeSpan.FromMinutes(Math.Clamp(double.IsFinite(minutes) ? minutes : 0, 0, 1e6));

    private static string[] Words(string text) =>
        text.Split([',', ';', '\n', '\r', ' '], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
}
