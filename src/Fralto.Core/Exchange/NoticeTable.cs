using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Who is told of alarms as a table, a list in each row.</summary>
internal sealed class NoticeTable : RowTable
{
    private const char Blank = ' ';

    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    [
        "noticeList",
        "addresses",
        "place",
        "onlyLabel",
        "priorities",
        "days",
        "from",
        "until",
        "repeatMinutes",
        "repeats",
        "escalateMinutes",
        "escalateTo",
        "tellsReturn",
        "onlyEscalated",
        "language",
    ];

    /// <inheritdoc/>
    protected override int Keys => 1;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model)
    {
        // Rows are taken in one after the other: a list that is handed on to stands before those that do.
        int DepthOf(NoticeList list, int most) =>
            most > 0 && model.AlarmSetup.Lists.FirstOrDefault(l => l.Name == list.EscalateTo) is { } next ? 1 + DepthOf(next, most - 1) : 0;
        return model.AlarmSetup.Lists.OrderBy(l => DepthOf(l, model.AlarmSetup.Lists.Length)).Select(l => RowOf(model, l));
    }

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells) =>
        model.AlarmSetup.Lists.FirstOrDefault(l => l.Name == cells["noticeList"]) is { } list ? RowOf(model, list) : null;

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        T[] Each<T>(string column, Func<string, T?> read, string what)
            where T : struct =>
            [
                .. Words(cells[column])
                    .Select(word =>
                    {
                        if (read(word) is { } one)
                            return one;
                        cells.Refuse(column, $"'{word}' is no {what}; write several with blanks between.");
                        return default;
                    }),
            ];
        var (list, problems) = NoticeForm.ListOf(
            new(cells["noticeList"], Words(cells["addresses"]))
            {
                Place = TextOf("place"),
                Label = TextOf("onlyLabel"),
                Priorities = Each<int>(
                    "priorities",
                    w => int.TryParse(w, NumberStyles.None, CultureInfo.InvariantCulture, out var p) ? p : null,
                    "priority"
                ),
                Days = Each<DayOfWeek>("days", w => Enum.TryParse<DayOfWeek>(w, true, out var d) && !char.IsDigit(w[0]) ? d : null, "day"),
                From = TextOf("from"),
                Until = TextOf("until"),
                RepeatMinutes = cells.Double("repeatMinutes"),
                Repeats = cells.Double("repeats") is { } repeats ? (int)Math.Clamp(repeats, 0, 1e6) : null,
                EscalateMinutes = cells.Double("escalateMinutes"),
                EscalateTo = TextOf("escalateTo"),
                TellsReturn = IsYes("tellsReturn"),
                OnlyEscalated = IsYes("onlyEscalated"),
                Language = TextOf("language"),
            },
            model.Index.Find
        );
        foreach (var (field, message) in problems)
            cells.Refuse(ColumnOf(field), message);
        return new SaveNoticeLists(
            model.AlarmSetup.Lists.FirstOrDefault(l => l.Name == list.Name) is { } known
                ? model.AlarmSetup.Lists.Replace(known, list)
                : model.AlarmSetup.Lists.Add(list)
        );

        string? TextOf(string column) => cells[column] is { Length: > 0 } text ? text : null;
        bool IsYes(string column)
        {
            if (cells[column] is not ("" or "true" or "false"))
                cells.Refuse(column, $"'{cells[column]}' is neither true nor false.");
            return cells[column] == "true";
        }
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) =>
        field switch
        {
            "Name" => "noticeList",
            "Label" => "onlyLabel",
            "RepeatAfter" => "repeatMinutes",
            "EscalateAfter" => "escalateMinutes",
            _ => base.ColumnOf(field),
        };

    private static string[] Words(string text) => text.Split(Blank, StringSplitOptions.RemoveEmptyEntries);

    private static string[] RowOf(PlantModel model, NoticeList list)
    {
        var entry = NoticeForm.EntryOf(model, list);
        return
        [
            entry.Name,
            string.Join(Blank, entry.Addresses),
            entry.Place ?? "",
            entry.Label ?? "",
            string.Join(Blank, entry.Priorities ?? []),
            string.Join(Blank, entry.Days ?? []),
            entry.From ?? "",
            entry.Until ?? "",
            entry.RepeatMinutes?.ToString("R", CultureInfo.InvariantCulture) ?? "",
            entry.Repeats?.ToString(CultureInfo.InvariantCulture) ?? "",
            entry.EscalateMinutes?.ToString("R", CultureInfo.InvariantCulture) ?? "",
            entry.EscalateTo ?? "",
            list.TellsReturn ? "true" : "",
            list.OnlyEscalated ? "true" : "",
            entry.Language ?? "",
        ];
    }
}
