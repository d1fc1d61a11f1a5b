using Fralto.Core.Quality;

namespace Fralto.Core.Recording;

/// <summary>A value of a point that is recorded, as the engine puts it out.</summary>
/// <param name="Point">Index of the point in its plan.</param>
/// <param name="Ticks">The time its source gave it.</param>
/// <param name="HeldTicks">When the value before was told last: it held until then at least.</param>
/// <param name="Raw">The number its tag holds.</param>
/// <param name="Value">The value in the property's unit.</param>
/// <param name="Status">How good it is.</param>
/// <param name="Reason">Why it is not Good, where its tag says so.</param>
/// <param name="Text">The text; null for numbers.</param>
public readonly record struct Recorded(
    int Point,
    long Ticks,
    long HeldTicks,
    double Raw,
    double Value,
    StatusCode Status,
    string? Reason,
    string? Text
);
