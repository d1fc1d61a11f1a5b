using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Bench.Naming;

/// <summary>A property of a machine of the generated quarries, with what its people call it.</summary>
/// <param name="Code">Code of the property.</param>
/// <param name="Name">Its name.</param>
/// <param name="Letters">Instrument letters.</param>
/// <param name="Short">What a programmer makes of it.</param>
/// <param name="French">What it is called in French.</param>
/// <param name="Type">What the value is.</param>
/// <param name="Raw">The tag's raw type.</param>
/// <param name="Unit">Unit; null for none.</param>
/// <param name="High">High end of the range.</param>
/// <param name="IsWritten">True for one that is written.</param>
/// <param name="IsDrive">True for one that the electrician's cabinet tells.</param>
internal sealed record QuarrySignal(
    string Code,
    string Name,
    string Letters,
    string Short,
    string French,
    PropertyType Type,
    RawType Raw,
    string? Unit,
    double High,
    bool IsWritten = false,
    bool IsDrive = false
);
