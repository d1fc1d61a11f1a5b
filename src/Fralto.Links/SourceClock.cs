namespace Fralto.Links;

/// <summary>How far the clock of a source is from ours, measured from the times it sends: the one rule for clocks that are ahead or
/// behind.</summary>
/// <remarks>
/// A source's time is kept as it was told. Nothing here is decided by it: what has to be compared with our own time, such as an age, is put
/// right by what is
/// measured here. The way of a message takes time and only ever makes a source look behind, so the least difference of the last minute or
/// two is the truest.
/// </remarks>
public sealed class SourceClock
{
    /// <summary>Clocks that are no further apart count as the same.</summary>
    public static readonly TimeSpan Tolerance = TimeSpan.FromSeconds(2);

    private static readonly long Window = TimeSpan.TicksPerMinute;
    private long _windowBegan = long.MinValue;
    private long _before = long.MaxValue;
    private long _least = long.MaxValue;

    /// <summary>How much later it is here than there: positive for a clock that is behind; null before the first time was told.</summary>
    public TimeSpan? Measured =>
        Math.Min(Volatile.Read(ref _before), Volatile.Read(ref _least)) is var least and < long.MaxValue ? TimeSpan.FromTicks(least) : null;

    /// <summary>The same, and zero for clocks that count as the same.</summary>
    public TimeSpan Offset => Measured is { } offset && offset.Duration() > Tolerance ? offset : TimeSpan.Zero;

    /// <summary>Takes in a time that was told now.</summary>
    /// <param name="source">The time, in UTC ticks of the source.</param>
    /// <param name="arrived">When it was told, in our UTC ticks.</param>
    public void Observe(long source, long arrived)
    {
        // A window that lies in what is to come is one of a clock that has been set back.
        if (_windowBegan == long.MinValue || arrived - _windowBegan >= Window || arrived < _windowBegan)
            (_windowBegan, _before, _least) = (
                arrived,
                _windowBegan == long.MinValue || arrived - _windowBegan >= 2 * Window || arrived < _windowBegan ? long.MaxValue : _least,
                long.MaxValue
            );
        Volatile.Write(ref _least, Math.Min(_least, arrived - source));
    }
}
