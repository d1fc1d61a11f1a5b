namespace Fralto.Core.Scaling;

/// <summary>One point of a table.</summary>
/// <param name="Input">Raw number, or what the signal stands for.</param>
/// <param name="Value">Engineering value there.</param>
public readonly record struct TablePoint(double Input, double Value);
