using System.Collections.Immutable;

namespace Fralto.Core.History;

/// <summary>A length of time that is rolled up.</summary>
/// <param name="Ticks">How long it is.</param>
/// <param name="Block">How many are kept together.</param>
/// <param name="Word">What people call it.</param>
public sealed record RollupStep(long Ticks, int Block, string Word)
{
    /// <summary>Minute, hour, day: each is whole in the next.</summary>
    public static ImmutableArray<RollupStep> All { get; } =
    [new(TimeSpan.TicksPerMinute, 120, "minute"), new(TimeSpan.TicksPerHour, 96, "hour"), new(TimeSpan.TicksPerDay, 64, "day")];

    /// <summary>How much time a block holds.</summary>
    public long BlockTicks => Ticks * Block;

    /// <summary>Where the block begins in which a time lies.</summary>
    public long BlockOf(long ticks) => ticks - ticks % BlockTicks;

    /// <summary>Where the step begins in which a time lies.</summary>
    public long StartOf(long ticks) => ticks - ticks % Ticks;
}
