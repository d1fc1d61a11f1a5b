using System.Collections.Immutable;
using Fralto.Core.History;
using Fralto.Core.Scaling;

namespace Fralto.Core.Pictures;

/// <summary>How long values were where on a range: what a limit would have met.</summary>
/// <param name="Range">The range, upright.</param>
/// <param name="Seconds">Seconds in each of equal parts of the range, from low to high; what lies beyond is in the first or last.</param>
/// <param name="Instances">Of how many instances anything is known.</param>
public sealed record TimeOnRange(Span Range, ImmutableArray<double> Seconds, int Instances)
{
    /// <summary>Into how many parts a range is cut.</summary>
    public const int Parts = 120;

    /// <summary>All seconds.</summary>
    public double Total => Seconds.Sum();

    /// <summary>Adds up what instances did.</summary>
    /// <param name="range">The range, upright.</param>
    /// <param name="instances">What each did, in short stretches.</param>
    public static TimeOnRange Of(Span range, IEnumerable<IReadOnlyList<Rollup>> instances)
    {
        var (seconds, count) = (new double[Parts], 0);
        foreach (var stretches in instances)
        {
            var isKnown = false;
            foreach (var stretch in stretches)
            {
                if (!(stretch.HeldSeconds > 0) || !double.IsFinite(stretch.Mean))
                    continue;
                isKnown = true;
                // A stretch spreads evenly over what it reached.
                var (low, high) = (PartOf(range, stretch.Minimum), PartOf(range, stretch.Maximum));
                for (var part = low; part <= high; part++)
                    seconds[part] += stretch.HeldSeconds / (high - low + 1);
            }
            if (isKnown)
                count++;
        }
        return new(range, [.. seconds], count);
    }

    /// <summary>The share of the time that lay outside a span, 0 to 1; 0 where nothing is known.</summary>
    public double Outside(Span normal)
    {
        var (outside, total) = (0d, 0d);
        for (var part = 0; part < Seconds.Length; part++)
        {
            total += Seconds[part];
            if (!normal.Contains(Range.At((part + 0.5) / Seconds.Length)))
                outside += Seconds[part];
        }
        return total > 0 ? outside / total : 0;
    }

    private static int PartOf(Span range, double value) => (int)Math.Clamp(range.FractionOf(value) * Parts, 0, Parts - 1);
}
