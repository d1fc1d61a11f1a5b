namespace Fralto.Bench.Naming;

/// <summary>A kind of equipment of the waterworks.</summary>
/// <param name="Code">Code of its template.</param>
/// <param name="Name">Name of its template, and of its instances with a number after it.</param>
/// <param name="Letters">What codes of its instances begin with.</param>
/// <param name="Spanish">What descriptions call it.</param>
/// <param name="Signals">What its instances have.</param>
/// <param name="Parts">The parts of each instance: code, name, Spanish name, kind.</param>
internal sealed record WaterKind(
    string Code,
    string Name,
    string Letters,
    string Spanish,
    WaterSignal[] Signals,
    (string Code, string Name, string Spanish, string Kind)[] Parts
);
