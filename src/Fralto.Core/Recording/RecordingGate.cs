using Fralto.Core.Quality;

namespace Fralto.Core.Recording;

/// <summary>What of a point's values is recorded: held against the one that was recorded last.</summary>
/// <remarks>
/// What lies inside the deadband is passed over, and remembered: when the value moves at last, the one that was passed over last is
/// recorded
/// before it, so that the line between two recorded values never departs from what was by more than the deadband.
/// </remarks>
public struct RecordingGate
{
    private double _value;
    private StatusCode _status;
    private bool _hasAny;

    /// <summary>When the newest value that was passed over was read, in ticks; 0 for none.</summary>
    public long PassedTicks { get; private set; }

    /// <summary>When a value was recorded last, in ticks; 0 for never.</summary>
    public long RecordedTicks { get; private set; }

    /// <summary>Whether a value is recorded.</summary>
    /// <param name="rule">How the point is recorded.</param>
    /// <param name="value">The value in its unit; not-a-number for text and what is Bad.</param>
    /// <param name="status">How good it is.</param>
    /// <param name="ticks">When it was read.</param>
    /// <param name="isOther">True for a text that is another one.</param>
    public bool Takes(RecordingRule rule, double value, StatusCode status, long ticks, bool isOther)
    {
        var moves =
            !_hasAny
            || status != _status
            || isOther
            || (
                rule.OnChange && !status.IsBad && (rule.Deadband <= 0 ? !value.Equals(_value) : !(Math.Abs(value - _value) < rule.Deadband))
            );
        var isDue = rule.Every > 0 && ticks - RecordedTicks >= rule.Every * TimeSpan.TicksPerSecond;
        if (!moves && !isDue)
        {
            PassedTicks = ticks;
            return false;
        }
        (_value, _status, _hasAny) = (value, status, true);
        (RecordedTicks, PassedTicks) = (ticks, 0);
        return true;
    }

    /// <summary>Forgets what was recorded last: the next value is recorded, whatever it is.</summary>
    public void Reset() => this = default;
}
