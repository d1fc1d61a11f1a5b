using Fralto.Core.Limits;

namespace Fralto.Core.Alarms;

/// <summary>How an alarm behaves once its condition is there. What says nothing lasts until the condition clears and is
/// acknowledged.</summary>
/// <param name="NeedsNoAcknowledgement">True where nobody acknowledges it.</param>
/// <param name="IsLatched">True where it stays until it is reset.</param>
/// <param name="IsMomentary">True for an event: it is raised and has gone at once, whatever the condition does.</param>
/// <param name="ClearsAfter">Ticks after which it clears by itself once its condition has gone; 0 for never.</param>
public readonly record struct AlarmBehaviour(
    bool NeedsNoAcknowledgement = false,
    bool IsLatched = false,
    bool IsMomentary = false,
    long ClearsAfter = 0
)
{
    /// <summary>The behaviour a limit asks for.</summary>
    public static AlarmBehaviour Of(Limit? limit) =>
        limit?.Says is not { } says
            ? default
            : new(
                says.NoAcknowledgement == true,
                says.Latched == true,
                says.Momentary == true,
                (long)((says.ClearsAfter ?? 0) * TimeSpan.TicksPerSecond)
            );
}
