using System.Collections.Immutable;
using Fralto.Core.Limits;

namespace Fralto.Core.Planning;

/// <summary>The delays of all limits of a plan. Points whose limits wait equally long share a set of delays.</summary>
internal sealed class LimitDelays
{
    private const int Conditions = 4;

    // Delays in ticks, on-delays first; the first set is that of points without any.
    private readonly List<long[]> _sets = [new long[2 * Conditions]];
    private readonly ushort[] _setOf;

    public LimitDelays(ImmutableArray<PlanPoint> points)
    {
        _setOf = new ushort[points.Length];
        var shared = new Dictionary<ImmutableArray<Limit>, ushort>();
        for (var i = 0; i < points.Length; i++)
        {
            var limits = points[i].Limits;
            if (limits.IsEmpty)
                continue;
            if (!shared.TryGetValue(limits, out var set))
                shared[limits] = set = SetOf(limits);
            _setOf[i] = set;
        }
    }

    /// <summary>True when any limit waits.</summary>
    public bool Any => _sets.Count > 1;

    /// <summary>How long a limit waits before it is an alarm, or before it clears, in ticks.</summary>
    public long Of(int point, LimitCondition condition, bool raised) => _sets[_setOf[point]][(raised ? 0 : Conditions) + (int)condition];

    private ushort SetOf(ImmutableArray<Limit> limits)
    {
        var delays = new long[2 * Conditions];
        foreach (var limit in limits)
        {
            delays[(int)limit.Condition] = (long)(limit.OnDelay * TimeSpan.TicksPerSecond);
            delays[Conditions + (int)limit.Condition] = (long)(limit.OffDelay * TimeSpan.TicksPerSecond);
        }
        var known = _sets.FindIndex(d => d.AsSpan().SequenceEqual(delays));
        if (known >= 0)
            return (ushort)known;
        _sets.Add(delays);
        return checked((ushort)(_sets.Count - 1));
    }
}
