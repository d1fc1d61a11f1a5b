using Fralto.Core.Quality;

namespace Fralto.Core.Proposals;

/// <summary>What a property shows now.</summary>
/// <param name="Value">Its value in its unit; not-a-number when there is none.</param>
/// <param name="Status">How good it is.</param>
/// <param name="Why">Why it is not Good, in words.</param>
public readonly record struct LiveReading(double Value, StatusCode Status, string Why);
