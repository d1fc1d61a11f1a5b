using Fralto.Core.Properties;
using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>What a formula has to give: the property it belongs to.</summary>
/// <param name="Type">The property's type.</param>
/// <param name="Unit">Its unit; null for none.</param>
/// <param name="States">Its states; null for none.</param>
public sealed record FormulaTarget(PropertyType Type, Unit? Unit, StateList? States);
