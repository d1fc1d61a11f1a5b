using Fralto.Core.Units;

namespace Fralto.Core.Limits;

/// <summary>Deadband and delays to begin with, by what is measured.</summary>
/// <remarks>Source: ANSI/ISA-18.2, recommended starting points, also in EEMUA 191 (figures from memory).</remarks>
/// <param name="Quantity">What is measured.</param>
/// <param name="DeadbandPercent">In percent of the range.</param>
/// <param name="Delay">On-delay and off-delay, in seconds.</param>
public sealed record LimitSuggestion(string Quantity, double DeadbandPercent, double Delay)
{
    private static readonly LimitSuggestion Flow = new("flow", 5, 15);
    private static readonly LimitSuggestion Level = new("level", 5, 60);
    private static readonly LimitSuggestion Pressure = new("pressure", 2, 15);
    private static readonly LimitSuggestion Temperature = new("temperature", 1, 60);

    /// <summary>What is suggested for a unit; null where the standard says nothing.</summary>
    /// <param name="unit">The unit; null for none.</param>
    public static LimitSuggestion? For(Unit? unit)
    {
        if (unit is null)
            return null;
        bool Is(string code) => UnitCatalogue.Standard.Find(code) is { } other && UnitConversion.Between(other, unit) is not null;
        return Is("CEL") ? Temperature
            : Is("PAL") ? Pressure
            : Is("MQH") || Is("F30") || Is("E93") ? Flow
            : Is("MTR") ? Level
            : null;
    }
}
