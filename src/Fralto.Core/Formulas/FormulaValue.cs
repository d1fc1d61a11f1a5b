using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>What a step has given.</summary>
/// <param name="Value">The number; 0 and 1 for false and true.</param>
/// <param name="Status">How good it is.</param>
/// <param name="Why">The step that made it less than Good; -1 while it is Good.</param>
public readonly record struct FormulaValue(double Value, StatusCode Status, int Why = -1)
{
    /// <summary>A good one.</summary>
    public static FormulaValue Good(double value) => new(value, StatusCode.Good);
}
