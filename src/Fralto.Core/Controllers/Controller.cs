using System.Collections.Immutable;
using Fralto.Core.Basics;

namespace Fralto.Core.Controllers;

/// <summary>A device or broker Fralto talks to.</summary>
/// <param name="Id">Stable and opaque.</param>
/// <param name="Name">Unique name, for example kiln-plc.</param>
/// <param name="Connection">How it is reached.</param>
/// <param name="UpdateInterval">Time between two reads of each tag, or between two messages where the device sends by itself; zero there
/// when it sends only what changes.</param>
public sealed record Controller(long Id, string Name, Connection Connection, TimeSpan UpdateInterval) : Entity(Id)
{
    /// <summary>Shortest update interval.</summary>
    public static readonly TimeSpan ShortestInterval = TimeSpan.FromMilliseconds(50);

    /// <summary>Longest update interval.</summary>
    public static readonly TimeSpan LongestInterval = TimeSpan.FromHours(1);

    /// <summary>A tag is never stale sooner than this: shorter pauses are this machine's, not the device's (a choice of ours, no
    /// source).</summary>
    public static readonly TimeSpan ShortestStale = TimeSpan.FromSeconds(1);

    /// <summary>The most update classes.</summary>
    public const int MostClasses = 20;

    /// <summary>Other intervals that tags can be read at, by name.</summary>
    public ImmutableArray<UpdateClass> UpdateClasses { get; init; } = [];

    /// <summary>What it speaks.</summary>
    public Protocol Protocol => Connection.Protocol;

    /// <summary>How long an answer may take: the update interval, between 100 ms and 2 s.</summary>
    public TimeSpan Timeout => TimeSpan.FromMilliseconds(Math.Clamp(UpdateInterval.TotalMilliseconds, 100, 2000));

    /// <summary>Time between two reads of a tag: that of its update class, or the controller's own.</summary>
    public TimeSpan IntervalOf(Tag tag) => ClassOf(tag) is { } its ? its.Interval : UpdateInterval;

    /// <summary>The update class of a tag; null for the controller's own.</summary>
    public UpdateClass? ClassOf(Tag tag) => tag.UpdateClass is { } its ? UpdateClasses.FirstOrDefault(c => Same(c.Name, its)) : null;

    /// <summary>After this long without an update a tag counts as stale: three intervals (common practice, no source); never where nothing
    /// says how often updates come.</summary>
    public TimeSpan StaleAfter(Tag tag)
    {
        if (!Connection.IsTimed || IntervalOf(tag) is not { Ticks: > 0 } interval)
            return TimeSpan.MaxValue;
        return interval * 3 > ShortestStale ? interval * 3 : ShortestStale;
    }

    /// <inheritdoc/>
    public bool Equals(Controller? other) =>
        other is not null
        && (Id, Name, UpdateInterval) == (other.Id, other.Name, other.UpdateInterval)
        && Connection == other.Connection
        && UpdateClasses.SequenceEqual(other.UpdateClasses);

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Name);

    private static bool Same(string one, string other) => string.Equals(one, other, StringComparison.OrdinalIgnoreCase);
}
