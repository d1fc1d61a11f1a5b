namespace Fralto.Store;

/// <summary>A finding somebody accepts.</summary>
/// <param name="Key">What tells the finding from all others.</param>
/// <param name="Reason">Why it is as it is meant to be.</param>
/// <param name="Who">Who says so.</param>
/// <param name="At">When.</param>
/// <param name="Until">Until when it holds; null for good.</param>
public sealed record AcceptedFinding(string Key, string Reason, string Who, DateTimeOffset At, DateTimeOffset? Until);
