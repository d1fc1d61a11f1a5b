namespace Fralto.Bench.Naming;

/// <summary>A machine of the generated quarries.</summary>
/// <param name="Code">Code of its template.</param>
/// <param name="Name">Its name.</param>
/// <param name="Letters">What codes begin with.</param>
/// <param name="French">What it is called in French.</param>
/// <param name="Few">Least number in an area.</param>
/// <param name="Many">Largest number in an area.</param>
/// <param name="Signals">What it tells and takes.</param>
internal sealed record QuarryKind(string Code, string Name, string Letters, string French, int Few, int Many, QuarrySignal[] Signals);
