namespace Fralto.Runtime.Views;

/// <summary>Something that happened, on the axis of time.</summary>
/// <param name="X">Where it lies, in picture units.</param>
/// <param name="Ticks">When.</param>
/// <param name="Priority">Priority of an alarm; 0 for what is none.</param>
/// <param name="Text">What.</param>
/// <param name="Count">How many are drawn as one.</param>
public sealed record TrendMark(double X, long Ticks, int Priority, string Text, int Count);
