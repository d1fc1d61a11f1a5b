namespace Fralto.Core.History;

/// <summary>Puts values of several chunks in the order of their times.</summary>
public static class HistoryMerge
{
    /// <summary>Values by time; of several at one time the one that was added last.</summary>
    /// <param name="samples">Values in the order they were kept; sorted in place.</param>
    public static void InOrder(List<HistorySample> samples)
    {
        var isInOrder = true;
        for (var i = 1; i < samples.Count && isInOrder; i++)
            isInOrder = samples[i].Ticks > samples[i - 1].Ticks;
        if (isInOrder)
            return;
        // A stable sort, so that of two at one time the later one stands last.
        var ordered = samples.OrderBy(s => s.Ticks).ToArray();
        samples.Clear();
        foreach (var sample in ordered)
            if (samples.Count > 0 && samples[^1].Ticks == sample.Ticks)
                samples[^1] = sample;
            else
                samples.Add(sample);
    }
}
