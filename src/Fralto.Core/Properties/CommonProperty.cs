using Fralto.Core.Scaling;

namespace Fralto.Core.Properties;

/// <summary>A property that equipment of many plants has, as it is proposed.</summary>
/// <param name="Name">What people call it.</param>
/// <param name="Code">Its code.</param>
/// <param name="Letters">The letters of ISA-5.1 for it; empty where there are none.</param>
/// <param name="Kind">Its kind.</param>
/// <param name="Type">Its type.</param>
/// <param name="Unit">Code of its unit; null for none.</param>
/// <param name="Range">A usual range in that unit; null where there is none.</param>
/// <param name="DeadbandPercent">Deadband of a limit to begin with, in percent of the range; null where none is recommended.</param>
/// <param name="DelaySeconds">On- and off-delay of a limit to begin with, in seconds; null where none is recommended.</param>
/// <param name="Source">Where it comes from: the catalogue, or a template of the plant.</param>
public sealed record CommonProperty(
    string Name,
    string Code,
    string Letters,
    PropertyKind Kind,
    PropertyType Type,
    string? Unit,
    Span? Range,
    double? DeadbandPercent,
    double? DelaySeconds,
    string Source
)
{
    /// <summary>Deadband of a limit to begin with, in the unit; null without one.</summary>
    public double? Deadband => DeadbandPercent is { } percent && Range is { } range ? Math.Round(range.Width * percent / 100, 6) : null;
}
