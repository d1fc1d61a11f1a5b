using Fralto.Core.History;

namespace Fralto.Runtime.Views;

/// <summary>Statistics of a track over a window, by the names of OPC UA Part 13.</summary>
/// <param name="Track">The track.</param>
/// <param name="Figures">Name and number; not-a-number for none.</param>
/// <param name="States">Seconds each state held.</param>
public sealed record TrendFigures(TrendTrack Track, IReadOnlyList<(string Name, double Value)> Figures, IReadOnlyList<StateTime> States);
