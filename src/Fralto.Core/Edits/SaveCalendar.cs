using System.Collections.Immutable;
using Fralto.Core.Formulas;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Says the calendar of the plant.</summary>
/// <param name="TimeZone">Name of the IANA time zone database.</param>
/// <param name="Shifts">The shifts; none where days are all there is.</param>
public sealed record SaveCalendar(string TimeZone, ImmutableArray<Shift> Shifts) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var before = model.Calendars.Values.FirstOrDefault();
        var after = new SiteCalendar(before?.Id ?? model.NextId, TimeZone, [.. Shifts.OrderBy(s => s.Start)]);
        var problems = EntityRules.Problems(after).ToArray();
        return problems.Length > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed("Change the calendar", new ModelChange(before, after));
    }
}
