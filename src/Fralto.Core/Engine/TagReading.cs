using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Engine;

/// <summary>The newest reading of a tag.</summary>
/// <param name="Raw">The last raw number that was not Bad; not-a-number before the first.</param>
/// <param name="Status">How good it is now.</param>
/// <param name="Time">When it was last read, by the clock of its source, or last went Bad.</param>
/// <param name="Reason">Why it is not Good; null when it is.</param>
/// <param name="Text">What a tag of text holds; null for numbers.</param>
/// <param name="Changes">How often it has held something new, the first value counted.</param>
/// <param name="ChangedAt">When it last held something new, as it came here.</param>
/// <param name="ReadAt">When the raw number was read, by the clock of its source; no failed attempt since makes it younger.</param>
/// <param name="Magnitudes">How small and how large it has been since it is read as it is now.</param>
public readonly record struct TagReading(
    double Raw,
    StatusCode Status,
    DateTimeOffset Time,
    string? Reason,
    string? Text = null,
    int Changes = 0,
    DateTimeOffset ChangedAt = default,
    DateTimeOffset ReadAt = default,
    Magnitudes Magnitudes = default
);
