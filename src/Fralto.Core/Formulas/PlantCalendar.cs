using System.Collections.Immutable;

namespace Fralto.Core.Formulas;

/// <summary>Hours, days and shifts of a plant: its time zone, and when its shifts begin.</summary>
/// <param name="TimeZone">Name of the IANA time zone database, for example Europe/Lisbon; UTC for none.</param>
/// <param name="Shifts">The shifts by their start; each ends where the next begins. Empty: shifts are days.</param>
public sealed record PlantCalendar(string TimeZone, ImmutableArray<Shift> Shifts)
{
    private const long Hour = TimeSpan.TicksPerHour;
    private TimeZoneInfo? _zone;

    /// <summary>UTC, and no shifts.</summary>
    public static PlantCalendar Utc { get; } = new("UTC", []);

    private TimeZoneInfo Zone => _zone ??= TimeZoneInfo.TryFindSystemTimeZoneById(TimeZone, out var zone) ? zone : TimeZoneInfo.Utc;

    /// <summary>True when the time zone is known here.</summary>
    public bool IsKnown => TimeZoneInfo.TryFindSystemTimeZoneById(TimeZone, out _);

    /// <summary>The first beginning of an hour, day or shift after a moment; UTC ticks both.</summary>
    public long NextAfter(CalendarSpan span, long utcTicks) =>
        span switch
        {
            CalendarSpan.Hour => NextStep(Hour, utcTicks),
            CalendarSpan.Day => NextAt(TimeSpan.Zero, utcTicks),
            _ => Shifts.IsDefaultOrEmpty ? NextAt(TimeSpan.Zero, utcTicks) : Shifts.Min(s => NextAt(s.Start.ToTimeSpan(), utcTicks)),
        };

    /// <summary>The first time after a moment at which the plant's clock shows a time of day.</summary>
    public long NextAt(TimeSpan timeOfDay, long utcTicks)
    {
        var day = Local(utcTicks).Date;
        for (var i = -1; ; i++)
            if (UtcOf(day.AddDays(i) + timeOfDay, utcTicks) is var at && at > utcTicks)
                return at;
    }

    /// <summary>The first whole multiple of a step after a moment, counted on the plant's clock: steps above an hour from midnight, so that
    /// they are an hour longer or shorter when the clock is set.</summary>
    public long NextStep(long step, long utcTicks)
    {
        var local = Local(utcTicks).Ticks;
        var next = (local / step + 1) * step;
        if (step <= Hour)
            return utcTicks + (next - local);
        for (; ; next += step)
            if (UtcOf(new(next), utcTicks) is var at && at > utcTicks)
                return at;
    }

    /// <summary>The shift a moment lies in; null without shifts.</summary>
    public Shift? ShiftAt(long utcTicks)
    {
        if (Shifts.IsDefaultOrEmpty)
            return null;
        var time = TimeOnly.FromDateTime(Local(utcTicks));
        return Shifts.Where(s => s.Start <= time).MaxBy(s => s.Start) ?? Shifts.MaxBy(s => s.Start);
    }

    /// <inheritdoc/>
    public bool Equals(PlantCalendar? other) => other is not null && TimeZone == other.TimeZone && Shifts.SequenceEqual(other.Shifts);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(TimeZone, Shifts.Length);

    /// <summary>What the plant's clock shows at a moment.</summary>
    public DateTime Local(long utcTicks) => TimeZoneInfo.ConvertTimeFromUtc(new(utcTicks, DateTimeKind.Utc), Zone);

    /// <summary>UTC of a time of the plant's clock. One that is left out when the clock is set forward is the moment it is set; of one that
    /// comes twice the first after a moment.</summary>
    private long UtcOf(DateTime local, long after)
    {
        if (Zone.IsInvalidTime(local))
        {
            // The gap begins at a time that exists: what is left out falls together with its end.
            var before = local;
            while (Zone.IsInvalidTime(before))
                before = before.AddMinutes(-15);
            var offset = Zone.GetUtcOffset(before);
            var edge = local;
            while (Zone.IsInvalidTime(edge.AddMinutes(-15)))
                edge = edge.AddMinutes(-15);
            return new DateTime(edge.Ticks - edge.Ticks % (15 * TimeSpan.TicksPerMinute)).Ticks - offset.Ticks;
        }
        if (!Zone.IsAmbiguousTime(local))
            return local.Ticks - Zone.GetUtcOffset(local).Ticks;
        var offsets = Zone.GetAmbiguousTimeOffsets(local);
        return offsets.Select(o => local.Ticks - o.Ticks).Where(t => t > after).DefaultIfEmpty(local.Ticks - offsets.Min().Ticks).Min();
    }
}
