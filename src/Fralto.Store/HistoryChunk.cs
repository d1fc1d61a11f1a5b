namespace Fralto.Store;

/// <summary>A chunk of history as it is kept.</summary>
/// <param name="Series">Its series.</param>
/// <param name="First">Time of its first value, in ticks.</param>
/// <param name="Last">Time of its last value, in ticks.</param>
/// <param name="Count">How many values it holds.</param>
/// <param name="IsLate">True where its values came after later ones.</param>
/// <param name="Scaling">What its numbers are read with; 0 for nothing.</param>
/// <param name="Data">The values, packed.</param>
public sealed record HistoryChunk(int Series, long First, long Last, int Count, bool IsLate, int Scaling, byte[] Data);
