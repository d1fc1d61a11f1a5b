using System.Collections.Immutable;
using Fralto.Core.Planning;

namespace Fralto.Core.Engine;

/// <summary>How many limits are being watched. A limit is watched while its value is not Bad: a Bad value says nothing about the
/// process.</summary>
/// <param name="Total">Limits of bound properties.</param>
/// <param name="Unwatched">Those whose value is Bad, by the controller it comes from; 0 stands for simulations.</param>
public sealed record LimitWatch(int Total, ImmutableSortedDictionary<long, int> Unwatched)
{
    /// <summary>Limits that are watched now.</summary>
    public int Watched => Total - Unwatched.Values.Sum();

    /// <summary>Counts the limits of a plan.</summary>
    /// <param name="plan">The plan that runs.</param>
    /// <param name="isBad">Whether the value of a point, by its number in the plan, is Bad.</param>
    public static LimitWatch Of(Plan plan, Func<int, bool> isBad)
    {
        var (total, unwatched) = (0, new SortedDictionary<long, int>());
        for (var i = 0; i < plan.Points.Length; i++)
        {
            // What tells whether a limit counts is no limit itself.
            if (plan.Points[i].Watch is { Limit.IsGate: true })
                continue;
            var (limits, tag) = (plan.Points[i].Limits.Length, plan.Points[i].Tag);
            total += limits;
            if (limits > 0 && isBad(i))
                unwatched[plan.Tags[tag].ControllerId] = unwatched.GetValueOrDefault(plan.Tags[tag].ControllerId) + limits;
        }
        return new(total, unwatched.ToImmutableSortedDictionary());
    }
}
