namespace Fralto.Core.Engine;

/// <summary>A moment as the engine counts it, and what the clock on the wall said then.</summary>
/// <param name="Ticks">Engine time, in ticks of 100 ns from any beginning. It only goes forward, whoever sets a clock; delays, staleness
/// and order run on it.</param>
/// <param name="UtcTicks">UTC at that moment, in ticks of 100 ns: what people read.</param>
public readonly record struct Moment(long Ticks, long UtcTicks)
{
    /// <summary>UTC at the moment.</summary>
    public DateTimeOffset Utc => new(UtcTicks, TimeSpan.Zero);

    /// <summary>The moment of a clock that is never set: engine time and UTC are one.</summary>
    public static Moment At(DateTimeOffset time) => new(time.UtcTicks, time.UtcTicks);

    /// <summary>UTC of another engine time, as the clock on the wall stands now.</summary>
    public DateTimeOffset UtcOf(long ticks) => new(UtcTicks + (ticks - Ticks), TimeSpan.Zero);
}
