using Fralto.Core.Engine;

namespace Fralto.Links;

/// <summary>The moments of a clock.</summary>
public static class Moments
{
    /// <summary>Now. Its engine time is that of the clock's time stamps: nobody can set it.</summary>
    public static Moment Moment(this TimeProvider clock) => new(clock.GetElapsedTime(0).Ticks, clock.GetUtcNow().UtcTicks);
}
