using System.Collections.Immutable;
using Fralto.Core.Formulas;

namespace Fralto.Core.Pictures;

/// <summary>What a formula gives for one instance now.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="Name">Its name.</param>
/// <param name="Values">What each piece gives; empty where the formula does not hold for it.</param>
/// <param name="Reasons">Why each is less than Good.</param>
/// <param name="Result">What the whole gives, in the property's unit.</param>
/// <param name="Reason">Why it is less than Good; null when it is Good.</param>
public sealed record FormulaInstance(
    long EquipmentId,
    string Name,
    ImmutableArray<FormulaValue> Values,
    ImmutableArray<string?> Reasons,
    FormulaValue Result,
    string? Reason
);
