using System.Collections.Immutable;

namespace Fralto.Core.Limits;

/// <summary>How long, and for which usual times, an alarm may be shelved (ISA-18.2). Many limits share one.</summary>
/// <param name="Name">Its name; limits go by it.</param>
/// <param name="Longest">The longest time.</param>
/// <param name="Presets">Times that are offered, the first one by itself.</param>
public sealed record ShelvingRule(string Name, TimeSpan Longest, ImmutableArray<TimeSpan> Presets)
{
    /// <summary>The rule of a plant that has said none: at most a shift of eight hours (common practice, no source).</summary>
    public static ImmutableArray<ShelvingRule> Standard { get; } =
    [
        new("One shift", TimeSpan.FromHours(8), [TimeSpan.FromMinutes(15), TimeSpan.FromHours(1), TimeSpan.FromHours(8)]),
        new("Short", TimeSpan.FromHours(1), [TimeSpan.FromMinutes(15), TimeSpan.FromMinutes(30), TimeSpan.FromHours(1)]),
    ];

    /// <inheritdoc/>
    public bool Equals(ShelvingRule? other) =>
        other is not null && Name == other.Name && Longest == other.Longest && Presets.SequenceEqual(other.Presets);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Name, Longest, Presets.Length);
}
