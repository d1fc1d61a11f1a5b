using Fralto.Core.Quality;

namespace Fralto.Core.Controllers;

/// <summary>One reading of one tag, or of one element of an array.</summary>
/// <param name="TagId">The tag.</param>
/// <param name="Raw">The raw number; ignored when the status is Bad.</param>
/// <param name="Status">How good the reading is.</param>
/// <param name="TimeTicks">The time its source gives it, in UTC ticks of 100 ns: shown and kept, and never compared with another
/// clock.</param>
/// <param name="Reason">Why it is not Good, in words; null when it is.</param>
/// <param name="Element">Which element of an array; 0 for a single value.</param>
/// <param name="Text">What a tag of text holds; null for numbers.</param>
public readonly record struct Sample(
    long TagId,
    double Raw,
    StatusCode Status,
    long TimeTicks,
    string? Reason = null,
    int Element = 0,
    string? Text = null
);
