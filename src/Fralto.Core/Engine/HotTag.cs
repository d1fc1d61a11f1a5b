using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Engine;

/// <summary>What the engine knows of a tag: one line of memory.</summary>
internal struct HotTag
{
    public static readonly HotTag Waiting = new()
    {
        Raw = double.NaN,
        Status = StatusCode.BadWaitingForInitialData,
        Reason = "waiting for the first reading",
        Magnitudes = Magnitudes.None,
    };

    public double Raw;

    /// <summary>The time its source gave it last, in UTC ticks.</summary>
    public long SourceTicks;

    /// <summary>When it was heard of last, in engine time.</summary>
    public long ArrivedTicks;

    public string? Reason;
    public StatusCode Status;

    // Changes, and in the highest bit whether it is timed: one field more would be one line of memory more.
    private uint _changes;

    /// <summary>When it last held something new, by our own clock, in UTC ticks.</summary>
    public long ChangedTicks;

    /// <summary>The time its source gave it when it was last not Bad, in UTC ticks.</summary>
    public long ReadTicks;

    public Magnitudes Magnitudes;

    private const uint Timed = 1u << 31;

    /// <summary>How often it has held something new.</summary>
    public int Changes
    {
        readonly get => (int)(_changes & ~Timed);
        set => _changes = (uint)value & ~Timed | _changes & Timed;
    }

    /// <summary>True while it will be looked at when it would be stale.</summary>
    public bool IsTimed
    {
        readonly get => (_changes & Timed) != 0;
        set => _changes = value ? _changes | Timed : _changes & ~Timed;
    }
}
