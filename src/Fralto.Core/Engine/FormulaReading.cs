using Fralto.Core.Formulas;

namespace Fralto.Core.Engine;

/// <summary>What each step of a formula gives at a moment.</summary>
/// <param name="Program">The formula.</param>
/// <param name="Steps">What each step gives.</param>
/// <param name="Reasons">Why each is less than Good; null where it is Good.</param>
public sealed record FormulaReading(FormulaProgram Program, IReadOnlyList<FormulaValue> Steps, IReadOnlyList<string?> Reasons);
