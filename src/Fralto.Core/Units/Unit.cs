namespace Fralto.Core.Units;

/// <summary>An engineering unit.</summary>
/// <param name="Code">UNECE Rec 20 common code, two or three characters.</param>
/// <param name="Symbol">What stands beside a number, for example m³/h.</param>
/// <param name="Name">The unit's name as Rec 20 gives it.</param>
/// <param name="Quantity">The kind of quantity it measures, for example volume flow.</param>
public sealed record Unit(string Code, string Symbol, string Name, string Quantity);
