using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Core.Engine;

/// <summary>The newest value of a point.</summary>
/// <param name="Value">In the property's unit; the last one that was not Bad, not-a-number before the first.</param>
/// <param name="Status">How good it is now.</param>
/// <param name="Time">When it was read, by the clock of its source, or went Bad.</param>
/// <param name="Exceeded">Limits exceeded long enough to be an alarm, one bit each in the order of <see cref="LimitCondition"/>.</param>
/// <param name="Reason">Why it is not Good; null when it is.</param>
/// <param name="Text">The value of a text; null for numbers.</param>
/// <param name="ReadAt">When the value was read, by the clock of its source; no failed attempt since makes it younger.</param>
public readonly record struct PointValue(
    double Value,
    StatusCode Status,
    DateTimeOffset Time,
    byte Exceeded,
    string? Reason,
    string? Text = null,
    DateTimeOffset ReadAt = default
)
{
    /// <summary>True while the value is beyond a limit, or in a state that is not as it should be; what is Bad says neither.</summary>
    /// <param name="point">What it is a value of.</param>
    public bool IsAbnormalOf(PlanPoint point) =>
        !Status.IsBad && ((point.Limits.Length > 0 && Exceeded != 0) || point.States?.StateOf(Value) is { IsAbnormal: true });

    /// <summary>True while a limit of this condition is exceeded.</summary>
    public bool Exceeds(LimitCondition condition) => (Exceeded & (1 << (int)condition)) != 0;
}
