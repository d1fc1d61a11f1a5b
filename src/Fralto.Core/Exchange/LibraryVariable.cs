using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>A variable of a type.</summary>
/// <param name="Code">Its name.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Type">What its value is.</param>
/// <param name="Kind">Measured, commanded, or fixed.</param>
/// <param name="Unit">Code of its unit, or its spelling where it has no code of UNECE; null for none.</param>
/// <param name="Range">Its range; null where none is said.</param>
/// <param name="States">Name of its enumeration; null for none.</param>
/// <param name="Value">What it holds where it is fixed; null for nothing.</param>
/// <param name="Formula">How it is worked out; null where it is not.</param>
public sealed record LibraryVariable(
    string Code,
    string Name,
    PropertyType Type,
    PropertyKind Kind,
    string? Unit,
    Span? Range,
    string? States,
    string? Value = null,
    string? Formula = null
);
