namespace Fralto.Runtime.Views;

/// <summary>A limit for as long as it was in force.</summary>
/// <param name="Code">Its letters.</param>
/// <param name="Value">Its setpoint.</param>
/// <param name="Priority">Its priority.</param>
/// <param name="IsHigh">True for a high one.</param>
/// <param name="Y">Where it lies.</param>
/// <param name="X">Where it begins to be in force.</param>
/// <param name="Width">For how long.</param>
/// <param name="IsLast">True where it is in force at the end of the window.</param>
public sealed record TrendLimit(string Code, double Value, int Priority, bool IsHigh, double Y, double X, double Width, bool IsLast);
