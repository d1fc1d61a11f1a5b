using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Formulas;

namespace Fralto.Core.Plant;

/// <summary>The calendar of the plant, as a part of the model; there is one at most.</summary>
/// <param name="Id">Its id.</param>
/// <param name="TimeZone">Name of the IANA time zone database.</param>
/// <param name="Shifts">The shifts by their start.</param>
public sealed record SiteCalendar(long Id, string TimeZone, ImmutableArray<Shift> Shifts) : Entity(Id)
{
    private PlantCalendar? _calendar;

    /// <summary>Hours, days and shifts.</summary>
    public PlantCalendar Calendar => _calendar ??= new(TimeZone, Shifts);

    /// <inheritdoc/>
    public bool Equals(SiteCalendar? other) => other is not null && Id == other.Id && Calendar.Equals(other.Calendar);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, TimeZone);
}
