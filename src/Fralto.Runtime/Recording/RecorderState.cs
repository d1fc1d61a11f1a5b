namespace Fralto.Runtime.Recording;

/// <summary>How recording stands.</summary>
/// <param name="Points">How many points are recorded.</param>
/// <param name="PerSecond">Values recorded a second, of late.</param>
/// <param name="Recorded">Values recorded since Fralto started.</param>
/// <param name="Lost">Values that were lost since nothing could be kept for too long, or too many came.</param>
/// <param name="Waiting">Values that are not durable yet.</param>
/// <param name="KeptAt">When values were last made durable; null before the first.</param>
public sealed record RecorderState(int Points, double PerSecond, long Recorded, long Lost, long Waiting, DateTimeOffset? KeptAt);
