namespace Fralto.Core.Scaling;

/// <summary>Temperature sensors with a published characteristic.</summary>
public enum SensorKind
{
    /// <summary>Platinum resistance thermometer of 100 Ω at 0 °C (IEC 60751).</summary>
    Pt100,

    /// <summary>Platinum resistance thermometer of 1000 Ω at 0 °C (IEC 60751).</summary>
    Pt1000,

    /// <summary>Thermocouple type K (ITS-90).</summary>
    TypeK,

    /// <summary>Thermocouple type J (ITS-90).</summary>
    TypeJ,
}
