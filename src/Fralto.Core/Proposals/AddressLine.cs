namespace Fralto.Core.Proposals;

/// <summary>Addresses that go on by the same step from instance to instance.</summary>
/// <param name="Source">The device and table they lie in.</param>
/// <param name="Step">From one instance to the next.</param>
/// <param name="Base">The address of an instance numbered 0.</param>
internal sealed record AddressLine(long Source, double Step, double Base)
{
    private const double Most = 0.8;

    public double At(long order) => Base + Step * order;

    /// <summary>The line through most points; null when fewer than four in five lie on one.</summary>
    public static AddressLine? Through(long source, (long Order, long Number)[] points)
    {
        Array.Sort(points);
        var steps = new Dictionary<double, int>();
        for (var i = 1; i < points.Length; i++)
            if (points[i].Order > points[i - 1].Order)
                Count(steps, (points[i].Number - points[i - 1].Number) / (double)(points[i].Order - points[i - 1].Order));
        if (steps.Count == 0)
            return null;
        var step = steps.MaxBy(s => s.Value).Key;
        var bases = new Dictionary<double, int>();
        foreach (var (order, number) in points)
            Count(bases, Math.Round(number - step * order, 3));
        var most = bases.MaxBy(b => b.Value);
        return step != 0 && most.Value >= Most * points.Length ? new(source, step, most.Key) : null;
    }

    private static void Count(Dictionary<double, int> counts, double value) => counts[value] = counts.GetValueOrDefault(value) + 1;
}
