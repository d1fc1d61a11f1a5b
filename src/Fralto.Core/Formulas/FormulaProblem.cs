namespace Fralto.Core.Formulas;

/// <summary>Why a formula, or a piece of it, does not hold.</summary>
/// <param name="At">The first character of the piece, from 0.</param>
/// <param name="Length">How many characters it has; 1 or more.</param>
/// <param name="Words">What is wrong and what was expected, one sentence.</param>
/// <param name="Instead">What would be right in place of the piece, where one answer is certain; else null.</param>
public sealed record FormulaProblem(int At, int Length, string Words, string? Instead = null);
