namespace Fralto.Core.History;

/// <summary>Goes through values interval by interval.</summary>
public static class Aggregation
{
    /// <summary>The facts of each interval.</summary>
    /// <param name="samples">Values by time, with the ones around.</param>
    /// <param name="start">Where the first interval begins, in ticks.</param>
    /// <param name="interval">How long each is, in ticks.</param>
    /// <param name="count">How many there are.</param>
    /// <param name="isStepped">True where a value holds until the next.</param>
    public static IntervalFacts[] Of(ReadOnlySpan<HistorySample> samples, long start, long interval, int count, bool isStepped)
    {
        var facts = new IntervalFacts[count];
        var from = FirstNotBefore(samples, start);
        for (var i = 0; i < count; i++)
            facts[i] = IntervalFacts.Of(samples, from, start + i * interval, start + (i + 1) * interval, isStepped, out from);
        return facts;
    }

    /// <summary>Index of the first value that is not before a time; how many there are when none is.</summary>
    public static int FirstNotBefore(ReadOnlySpan<HistorySample> samples, long ticks)
    {
        var (low, high) = (0, samples.Length);
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (samples[middle].Ticks < ticks)
                low = middle + 1;
            else
                high = middle;
        }
        return low;
    }
}
