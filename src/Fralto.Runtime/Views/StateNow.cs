using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>The state an instance is in: since when, and until when by what the same state took before.</summary>
/// <param name="Text">The state.</param>
/// <param name="Since">Since when, in ticks.</param>
/// <param name="Runs">How often it was seen whole before.</param>
/// <param name="Took">How long it took then on average, in seconds; 0 when it was never seen whole.</param>
public sealed record StateNow(string Text, long Since, int Runs, double Took)
{
    private const int MostRuns = 9;

    /// <summary>When it will end by what it took before; null when it was never seen whole, or has lasted longer already.</summary>
    /// <param name="now">The time, in ticks.</param>
    public long? Until(long now) => Runs > 0 && Since + (long)(Took * TimeSpan.TicksPerSecond) is var end && end > now ? end : null;

    /// <summary>The state at the end of some stretches; null where there is no value.</summary>
    /// <param name="stretches">States one after the other.</param>
    public static StateNow? Of(IReadOnlyList<TrendStretch> stretches)
    {
        if (stretches.Count == 0 || stretches[^1].Text is not { } text)
            return null;
        // One that begins or ends with a gap may have been longer.
        var whole = new List<double>();
        for (var i = stretches.Count - 2; i > 0 && whole.Count < MostRuns; i--)
            if (stretches[i].Text == text && stretches[i - 1].Text is not null && stretches[i + 1].Text is not null)
                whole.Add((stretches[i].To - stretches[i].From) / (double)TimeSpan.TicksPerSecond);
        return new(text, stretches[^1].From, whole.Count, whole.Count == 0 ? 0 : whole.Average());
    }
}
