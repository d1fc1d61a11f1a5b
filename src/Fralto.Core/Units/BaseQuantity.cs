namespace Fralto.Core.Units;

/// <summary>The quantities every dimension is a product of; at most sixteen.</summary>
public enum BaseQuantity
{
    /// <summary>Length.</summary>
    Length,

    /// <summary>Mass.</summary>
    Mass,

    /// <summary>Time.</summary>
    Time,

    /// <summary>Electric current.</summary>
    Current,

    /// <summary>Thermodynamic temperature.</summary>
    Temperature,

    /// <summary>Amount of substance.</summary>
    Amount,

    /// <summary>Luminous intensity.</summary>
    LuminousIntensity,

    /// <summary>Plane angle, kept apart although the SI takes it for a number.</summary>
    Angle,

    /// <summary>Gas volume at normal state; no fixed factor leads to an actual volume.</summary>
    NormalVolume,

    /// <summary>Gas volume at a stated standard state.</summary>
    StandardVolume,

    /// <summary>How far two temperatures lie apart; a temperature itself has a zero of its own.</summary>
    TemperatureDifference,

    /// <summary>pH.</summary>
    Acidity,

    /// <summary>Turbidity by nephelometer.</summary>
    NephelometricTurbidity,

    /// <summary>Turbidity by formazin.</summary>
    FormazinTurbidity,

    /// <summary>Decibel.</summary>
    Level,

    /// <summary>Months and years of the calendar, which have no fixed length.</summary>
    CalendarTime,
}
