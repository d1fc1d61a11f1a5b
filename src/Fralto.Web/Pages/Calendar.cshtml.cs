using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Formulas;
using Fralto.Web.Forms;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Time zone and shifts of the plant.</summary>
public sealed class CalendarModel(TimeProvider clock) : FraltoPage
{
    private long NowTicks => clock.GetUtcNow().UtcTicks;

    private PlantCalendar Calendar => Model.Calendar;

    /// <summary>What the plant's clock shows.</summary>
    public string Now => Local(NowTicks);

    /// <summary>The shift that is on; null without shifts.</summary>
    public string? Shift => Calendar.ShiftAt(NowTicks)?.Name;

    /// <summary>When the day ends.</summary>
    public string DayEnds => Local(Calendar.NextAfter(CalendarSpan.Day, NowTicks));

    /// <summary>When the shift ends.</summary>
    public string ShiftEnds => Local(Calendar.NextAfter(CalendarSpan.Shift, NowTicks));

    public void OnGet() =>
        Form = FormState.Of(
            ("TimeZone", Calendar.TimeZone),
            (
                "Shifts",
                string.Join('\n', Calendar.Shifts.Select(s => $"{s.Start.ToString("HH:mm", CultureInfo.InvariantCulture)} {s.Name}"))
            )
        );

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var shifts = new List<Shift>();
        foreach (var line in reader.Text("Shifts").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var space = line.IndexOf(' ', StringComparison.Ordinal);
            if (
                space > 0
                && TimeOnly.TryParseExact(
                    line[..space],
                    ["HH:mm", "H:mm"],
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.None,
                    out var start
                )
            )
                shifts.Add(new(line[(space + 1)..].Trim(), start));
            else
                reader.Refuse("Shifts", $"'{line}' is no shift; write when it begins and its name: 06:00 early.");
        }
        return Do(new SaveCalendar(reader.Text("TimeZone"), [.. shifts]), reader, _ => RedirectToPage(), Page);
    }

    private string Local(long utcTicks) => Calendar.Local(utcTicks).ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
}
