using Fralto.Core.Scaling;

namespace Fralto.Core.Review;

/// <summary>A number before and after on the range of its property.</summary>
/// <param name="Range">The range.</param>
/// <param name="Before">The number before; null for none.</param>
/// <param name="After">The number after; null for none.</param>
/// <param name="Unit">Code of the unit; null for none.</param>
public sealed record ReviewRuler(Span Range, double? Before, double? After, string? Unit);
