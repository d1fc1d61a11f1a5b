namespace Fralto.Core.Proposals;

/// <summary>Which instances stand for all, and how near two of them stand.</summary>
internal static class InstanceSample
{
    /// <summary>How many stand for all.</summary>
    internal const int Most = 40;

    /// <summary>A stride by this part falls in with no rhythm.</summary>
    internal const double GoldenSection = 0.6180339887498949;

    /// <summary>A few dozen instances that stand for all: those nearest to the example and others spread over the rest.</summary>
    public static IReadOnlyList<InstanceNames> Of(InstanceNames? example, IReadOnlyList<InstanceNames> all)
    {
        var others = all.Where(o => o.Instance.Id != example?.Instance.Id).ToArray();
        if (others.Length <= Most)
            // Those beside the example first.
            return example is null ? others : [.. others.OrderByDescending(o => Nearness(example, o))];
        var near = example is null
            ? []
            : others
                .Where(o => o.Instance.ParentId == example.Instance.ParentId)
                .OrderBy(o => Math.Abs(o.Instance.Order - example.Instance.Order))
                .Take(Most / 2)
                .ToArray();
        var rest = others.Except(near).ToArray();
        var far = new InstanceNames[Most - near.Length];
        // Plants are built in rhythms, as valve, valve, motor; a stride by the golden section falls in with none of them.
        for (var i = 0; i < far.Length; i++)
            far[i] = rest[(int)(rest.Length * (i * GoldenSection % 1))];
        far = [.. far.Distinct()];
        // Near and far by turns, so that a few of the first stand for all.
        return [.. near.Zip(far).SelectMany(p => new[] { p.First, p.Second }), .. near.Skip(far.Length), .. far.Skip(near.Length)];
    }

    /// <summary>How near two instances stand: 1 below the same place, less the farther apart.</summary>
    public static double Nearness(InstanceNames one, InstanceNames other)
    {
        var shared = 0;
        while (shared < one.Lineage.Count - 1 && shared < other.Lineage.Count - 1 && one.Lineage[shared].Id == other.Lineage[shared].Id)
            shared++;
        return Math.Pow(0.75, one.Lineage.Count - 1 - shared);
    }

    /// <summary>How unlikely it is that of the units of each place just every second has something, or every third, and none between:
    /// natural logarithm; 0 where two have it or fewer.</summary>
    /// <param name="all">All units, in the order of the plant.</param>
    /// <param name="having">Those that have it.</param>
    public static double Leaps(IEnumerable<InstanceNames> all, IReadOnlySet<InstanceNames> having)
    {
        var leaps = 0.0;
        foreach (var group in all.GroupBy(i => i.Instance.ParentId))
        {
            long[] its = [.. group.Select((i, at) => (i, at)).Where(i => having.Contains(i.i)).Select(i => (long)i.at)];
            if (its.Length > FewestLeaps)
                leaps += (its.Length - 1) * Math.Log(its.Aggregate(0L, (step, at) => NumberRuns.Divisor(step, at - its[0])));
        }
        return leaps;
    }

    private const int FewestLeaps = 2;
}
