using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Formulas;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>The calendar as a table: a shift in each row, with the time zone of the plant; one row without a shift where there is
/// none.</summary>
internal sealed class CalendarTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } = ["timeZone", "shift", "start"];

    /// <inheritdoc/>
    protected override int Keys => 2;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model.Calendars.Values.SelectMany(c =>
            c.Shifts.IsEmpty
                ?
                [
                    [c.TimeZone, "", ""],
                ]
                : c.Shifts.Select(s => RowOf(c, s))
        );

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (cells["timeZone"].Length == 0)
        {
            cells.Refuse("timeZone", "Give the time zone, for example Europe/Lisbon.");
            return null;
        }
        if (model.Calendars.Values.FirstOrDefault(c => c.TimeZone == cells["timeZone"]) is not { } calendar)
            return null;
        return cells["shift"].Length == 0 ? [calendar.TimeZone, "", ""]
            : calendar.Shifts.FirstOrDefault(s => s.Name == cells["shift"]) is { } shift ? RowOf(calendar, shift)
            : null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var shifts = model.Calendar.Shifts;
        if (cells["shift"].Length == 0)
            return new SaveCalendar(cells["timeZone"], shifts);
        if (!TimeOnly.TryParseExact(cells["start"], ["HH:mm", "H:mm"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var start))
        {
            cells.Refuse("start", $"'{cells["start"]}' is no time of day; write it as 06:00.");
            return null;
        }
        return new SaveCalendar(cells["timeZone"], [.. shifts.Where(s => s.Name != cells["shift"]), new Shift(cells["shift"], start)]);
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) => field == "Shifts" ? "start" : base.ColumnOf(field);

    private static string[] RowOf(SiteCalendar calendar, Shift shift) =>
        [calendar.TimeZone, shift.Name, shift.Start.ToString("HH:mm", CultureInfo.InvariantCulture)];
}
