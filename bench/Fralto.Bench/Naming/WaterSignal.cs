using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>A property of the waterworks' equipment, with what plants call it.</summary>
/// <param name="Code">Code of the property.</param>
/// <param name="Name">Its name.</param>
/// <param name="Isa">Instrument letters.</param>
/// <param name="Short">Abbreviation.</param>
/// <param name="Spanish">Spanish description.</param>
/// <param name="Type">What the value is.</param>
/// <param name="Raw">The tag's raw type.</param>
/// <param name="Unit">Unit; null for none.</param>
/// <param name="Low">Low end of the range.</param>
/// <param name="High">High end of the range.</param>
internal sealed record WaterSignal(
    string Code,
    string Name,
    string Isa,
    string Short,
    string Spanish,
    PropertyType Type,
    RawType Raw,
    string? Unit = null,
    double Low = 0,
    double High = 1
);
