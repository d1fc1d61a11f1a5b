namespace Fralto.Core.History;

/// <summary>How long a state held.</summary>
/// <param name="State">The state's number.</param>
/// <param name="Seconds">Seconds.</param>
public readonly record struct StateTime(int State, double Seconds);
