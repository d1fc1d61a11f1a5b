namespace Fralto.Core.Formulas;

/// <summary>A stretch of the plant's calendar.</summary>
public enum CalendarSpan
{
    /// <summary>An hour of the clock.</summary>
    Hour,

    /// <summary>A day, from midnight to midnight; of 23 or 25 hours where the clock is set.</summary>
    Day,

    /// <summary>A shift.</summary>
    Shift,
}
