using System.Globalization;
using Fralto.Core.Hierarchy;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>A list of who is told between the model and its form in files.</summary>
internal static class NoticeForm
{
    private const double MostMinutes = 1e6;

    public static ModelDocument.NoticeListEntry EntryOf(PlantModel model, NoticeList list) =>
        new(list.Name, list.Addresses)
        {
            Place = list.PlaceId is { } place ? model.Index.PathOf(place) : null,
            Label = list.Label,
            Priorities = list.Priorities.IsEmpty ? null : list.Priorities,
            Days = list.Days.IsEmpty ? null : list.Days,
            From = TextOf(list.From),
            Until = TextOf(list.Until),
            RepeatMinutes = list.RepeatAfter?.TotalMinutes,
            Repeats = list.RepeatAfter is null ? null : list.Repeats,
            EscalateMinutes = list.EscalateAfter?.TotalMinutes,
            EscalateTo = list.EscalateTo,
            TellsReturn = list.TellsReturn ? true : null,
            OnlyEscalated = list.OnlyEscalated ? true : null,
            Language = list.Language,
        };

    /// <summary>The list an entry says, and what of it cannot be read.</summary>
    /// <param name="entry">The entry.</param>
    /// <param name="find">The node of a path; null when there is none.</param>
    public static (NoticeList List, IReadOnlyList<(string Field, string Message)> Problems) ListOf(
        ModelDocument.NoticeListEntry entry,
        Func<string, Equipment?> find
    )
    {
        var problems = new List<(string, string)>();
        long? place = null;
        if (entry.Place is { Length: > 0 } path)
            if (find(path) is { } node)
                place = node.Id;
            else
                problems.Add(("Place", $"{entry.Name}: nothing has the path '{path}'."));
        TimeOnly? Time(string field, string? text)
        {
            if (string.IsNullOrEmpty(text))
                return null;
            if (TimeOnly.TryParseExact(text, "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out var time))
                return time;
            problems.Add((field, $"{entry.Name}: '{text}' is no time of day; write it as 06:00."));
            return null;
        }
        TimeSpan? Minutes(string field, double? minutes)
        {
            if (minutes is null or (> 0 and < MostMinutes))
                return minutes is { } given ? TimeSpan.FromMinutes(given) : null;
            problems.Add((field, $"{entry.Name}: times are minutes above 0."));
            return null;
        }
        var list = new NoticeList(entry.Name, [.. entry.Addresses])
        {
            PlaceId = place,
            Label = entry.Label,
            Priorities = [.. entry.Priorities ?? []],
            Days = [.. entry.Days ?? []],
            From = Time("From", entry.From),
            Until = Time("Until", entry.Until),
            RepeatAfter = Minutes("RepeatAfter", entry.RepeatMinutes),
            Repeats = entry.Repeats ?? new NoticeList("", []).Repeats,
            EscalateAfter = Minutes("EscalateAfter", entry.EscalateMinutes),
            EscalateTo = entry.EscalateTo,
            TellsReturn = entry.TellsReturn ?? false,
            OnlyEscalated = entry.OnlyEscalated ?? false,
            Language = entry.Language,
        };
        return (list, problems);
    }

    public static string? TextOf(TimeOnly? time) => time?.ToString("HH:mm", CultureInfo.InvariantCulture);
}
