using Fralto.Core.Quality;

namespace Fralto.Core.History;

/// <summary>One recorded value.</summary>
/// <param name="Ticks">The time its source gave it, in UTC ticks of 100 ns.</param>
/// <param name="Number">The number: in a chunk as its source gave it, once scaled in the property's unit; not-a-number for text and for
/// what has
/// no value.</param>
/// <param name="Status">How good it is.</param>
/// <param name="Reason">Why it is not Good; null where nothing is said.</param>
/// <param name="Text">The text; null for numbers.</param>
public readonly record struct HistorySample(long Ticks, double Number, StatusCode Status, string? Reason = null, string? Text = null)
{
    /// <summary>When, as a time.</summary>
    public DateTimeOffset At => new(Ticks, TimeSpan.Zero);

    /// <summary>True for the same bits at the same time: not-a-number is equal to itself, minus zero is not zero.</summary>
    public bool IsSame(in HistorySample other) =>
        Ticks == other.Ticks
        && BitConverter.DoubleToInt64Bits(Number) == BitConverter.DoubleToInt64Bits(other.Number)
        && Status == other.Status
        && Reason == other.Reason
        && Text == other.Text;
}
