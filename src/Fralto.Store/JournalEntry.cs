namespace Fralto.Store;

/// <summary>One edit as the journal keeps it.</summary>
/// <param name="Id">Running number.</param>
/// <param name="At">When, UTC.</param>
/// <param name="Who">Who made it.</param>
/// <param name="Summary">What it did, one line.</param>
/// <param name="Kind">Whether it is an edit, or takes one back or makes it again.</param>
/// <param name="Target">The edit it takes back or makes again; null for an edit.</param>
public sealed record JournalEntry(long Id, DateTimeOffset At, string Who, string Summary, JournalKind Kind, long? Target);
