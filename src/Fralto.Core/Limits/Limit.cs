using System.Collections.Immutable;
using Fralto.Core.Scaling;

namespace Fralto.Core.Limits;

/// <summary>One alarm limit in force.</summary>
/// <param name="Condition">Which side of the setpoint is abnormal.</param>
/// <param name="Setpoint">In the property's unit. A high limit is exceeded at or above it, a low one at or below it.</param>
/// <param name="Deadband">In the property's unit, 0 or more: a high alarm clears below setpoint - deadband, a low one above setpoint +
/// deadband.</param>
/// <param name="Priority">1 (highest) to 4.</param>
/// <param name="OnDelay">Seconds the condition must last before the alarm is raised, 0 or more.</param>
/// <param name="OffDelay">Seconds it must be gone before the alarm clears, 0 or more.</param>
public readonly record struct Limit(
    LimitCondition Condition,
    double Setpoint,
    double Deadband,
    int Priority,
    double OnDelay = 0,
    double OffDelay = 0
)
{
    /// <summary>All that is said of it; null where only its numbers are known.</summary>
    public LimitPatch? Says { get; init; }

    /// <summary>The priority when none is said.</summary>
    public const int DefaultPriority = 3;

    /// <summary>The value the alarm clears beyond.</summary>
    public double ClearsBeyond => Condition.IsHigh() ? Setpoint - Deadband : Setpoint + Deadband;

    /// <summary>Where a value is beyond no limit.</summary>
    public static Span NormalOf(ImmutableArray<Limit> limits) =>
        new(
            limits
                .Where(l => !l.Condition.IsHigh())
                .Select(l => Math.BitIncrement(l.Setpoint))
                .DefaultIfEmpty(double.NegativeInfinity)
                .Max(),
            limits.Where(l => l.Condition.IsHigh()).Select(l => Math.BitDecrement(l.Setpoint)).DefaultIfEmpty(double.PositiveInfinity).Min()
        );
}
