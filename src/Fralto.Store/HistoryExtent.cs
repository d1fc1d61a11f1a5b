namespace Fralto.Store;

/// <summary>How much of a series is kept.</summary>
/// <param name="Series">The series.</param>
/// <param name="First">Time of the oldest value in a closed chunk, in ticks; 0 for none.</param>
/// <param name="Last">Time of the newest one, in ticks.</param>
/// <param name="Count">How many values.</param>
/// <param name="Bytes">Bytes they take.</param>
/// <param name="RollupBytes">Bytes that what is summed up takes.</param>
public sealed record HistoryExtent(int Series, long First, long Last, long Count, long Bytes, long RollupBytes);
