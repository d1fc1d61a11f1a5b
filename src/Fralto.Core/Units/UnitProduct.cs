namespace Fralto.Core.Units;

/// <summary>What an arithmetic of units leads to.</summary>
/// <param name="Dimension">The dimension of the result.</param>
/// <param name="Factor">The number of <paramref name="Unit"/> in the result of one and one; of coherent SI when no unit has the
/// dimension.</param>
/// <param name="Unit">The unit the result is in; null when none has its dimension.</param>
public sealed record UnitProduct(Dimension Dimension, double Factor, Unit? Unit);
