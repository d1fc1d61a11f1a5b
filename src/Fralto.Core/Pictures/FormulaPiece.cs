namespace Fralto.Core.Pictures;

/// <summary>A piece of a formula and what it gives.</summary>
/// <param name="At">Its first character.</param>
/// <param name="End">The character behind its last.</param>
/// <param name="Level">How many pieces lie one in another in it: 1 for one that has none.</param>
/// <param name="Text">Its text.</param>
/// <param name="Unit">What it gives, in words.</param>
public sealed record FormulaPiece(int At, int End, int Level, string Text, string Unit);
