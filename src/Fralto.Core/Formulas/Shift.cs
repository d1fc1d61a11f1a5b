namespace Fralto.Core.Formulas;

/// <summary>A shift of the plant.</summary>
/// <param name="Name">What people call it.</param>
/// <param name="Start">When it begins, by the clock of the plant; it ends where the next begins.</param>
public sealed record Shift(string Name, TimeOnly Start);
