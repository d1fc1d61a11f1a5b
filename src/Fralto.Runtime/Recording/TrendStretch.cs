namespace Fralto.Runtime.Recording;

/// <summary>A stretch in which a state held.</summary>
/// <param name="From">Where it begins, in ticks.</param>
/// <param name="To">Where it ends.</param>
/// <param name="Text">The state; null where there was no value.</param>
/// <param name="Value">Its number; not-a-number for text and for none.</param>
/// <param name="Reason">Why there was no value, or it is Uncertain.</param>
/// <param name="IsUncertain">True where it is Uncertain.</param>
public sealed record TrendStretch(long From, long To, string? Text, double Value, string? Reason, bool IsUncertain);
