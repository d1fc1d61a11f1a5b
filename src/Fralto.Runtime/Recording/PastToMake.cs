namespace Fralto.Runtime.Recording;

/// <summary>Values of the past that are to be recorded before those of now.</summary>
/// <param name="Steps">What is recorded, in order of time, each batch with the share that is done with it, 0 to 1.</param>
/// <param name="Kept">Told once all of it is kept on disk; not told where it broke off.</param>
public sealed record PastToMake(IEnumerable<(RecordBatch Batch, double Share)> Steps, Action Kept);
