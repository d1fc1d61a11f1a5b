namespace Fralto.Core.Pictures;

/// <summary>One mark of an axis of a ruler.</summary>
/// <param name="X">Where it stands.</param>
/// <param name="Text">The number there.</param>
public readonly record struct RulerTick(double X, string Text);
