using Fralto.Core.Basics;

namespace Fralto.Core.Units;

/// <summary>A customer's own unit: so many of another.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Code">Unique code, unlike any Rec 20 code.</param>
/// <param name="Symbol">What stands beside a number.</param>
/// <param name="Name">Its name.</param>
/// <param name="Factor">How many of the base unit one is; above 0.</param>
/// <param name="BaseCode">Code of the shipped unit it is a multiple of.</param>
public sealed record OwnUnit(long Id, string Code, string Symbol, string Name, double Factor, string BaseCode) : Entity(Id)
{
    /// <summary>Shortest and longest code: longer than Rec 20's, so that the two never meet.</summary>
    public const int ShortestCode = 4,
        LongestCode = 12;

    /// <summary>Longest symbol, in characters.</summary>
    public const int LongestSymbol = 16;

    /// <summary>The unit with its dimension; null while the base is unknown.</summary>
    public Unit? Resolve() =>
        UnitCatalogue.Standard.Find(BaseCode) is { } unit
            ? new(Code, Symbol, Name, unit.Quantity, unit.Dimension, unit.Factor * Factor) { PerSeconds = unit.PerSeconds, IsOwn = true }
            : null;
}
