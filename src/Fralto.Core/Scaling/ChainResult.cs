using Fralto.Core.Quality;

namespace Fralto.Core.Scaling;

/// <summary>What a chain makes of a raw number.</summary>
/// <param name="Value">In the property's unit; not-a-number when there is none.</param>
/// <param name="Status">Good, or what the chain has against it.</param>
public readonly record struct ChainResult(double Value, StatusCode Status);
