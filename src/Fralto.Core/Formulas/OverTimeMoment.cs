namespace Fralto.Core.Formulas;

/// <summary>A moment for what a formula keeps.</summary>
/// <param name="Ticks">Engine time, which only goes forward.</param>
/// <param name="UtcTicks">What the clock on the wall says then.</param>
/// <param name="Calendar">The plant's hours, days and shifts.</param>
internal readonly record struct OverTimeMoment(long Ticks, long UtcTicks, PlantCalendar Calendar)
{
    /// <summary>Engine time of a moment of the clock on the wall.</summary>
    public long TicksOf(long utcTicks) => Ticks + (utcTicks - UtcTicks);
}
