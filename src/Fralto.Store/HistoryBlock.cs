namespace Fralto.Store;

/// <summary>A block of rollups as it is kept.</summary>
/// <param name="Series">Its series.</param>
/// <param name="Step">How long each is, in ticks.</param>
/// <param name="Start">Where the block begins, in ticks.</param>
/// <param name="Data">The rollups, packed.</param>
public sealed record HistoryBlock(int Series, long Step, long Start, byte[] Data);
