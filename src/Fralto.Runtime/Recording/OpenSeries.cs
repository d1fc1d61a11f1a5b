using System.Collections.Immutable;
using Fralto.Core.History;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Recording;

namespace Fralto.Runtime.Recording;

/// <summary>What the recorder holds of a point: its open chunk, and what was recorded last.</summary>
internal sealed class OpenSeries(int id)
{
    public int Id { get; } = id;

    /// <summary>The open chunk.</summary>
    public ChunkWriter Chunk { get; } = new();

    /// <summary>What the numbers of the open chunk are read with.</summary>
    public int Scaling { get; set; }

    public RecordingGate Gate;

    /// <summary>How it is recorded; null while it is not.</summary>
    public RecordingRule? Rule { get; set; }

    /// <summary>The value that was recorded last.</summary>
    public HistorySample Last { get; set; }

    /// <summary>The newest value that was passed over.</summary>
    public HistorySample Passed { get; set; }

    /// <summary>Values that are older than others which are kept already.</summary>
    public List<HistorySample>? Late { get; set; }

    /// <summary>Time of the oldest value that came late since a chunk was closed.</summary>
    public long LateFrom { get; set; } = long.MaxValue;

    /// <summary>Time of the newest such value; 0 for none.</summary>
    public long LateTo { get; set; }

    /// <summary>Time of the newest value in a chunk that was closed.</summary>
    public long ClosedTicks { get; set; }

    /// <summary>The newest value before the open chunk, in the property's unit.</summary>
    public HistorySample? Before { get; set; }

    /// <summary>What the minute of that value amounts to, up to it.</summary>
    public Rollup? Part { get; set; }

    /// <summary>True where the open chunk has changed since it was kept.</summary>
    public bool IsChanged { get; set; }

    /// <summary>True where states are told apart.</summary>
    public bool HasStates { get; set; }

    /// <summary>True where a value holds until the next one.</summary>
    public bool IsStepped { get; set; }

    /// <summary>The limits it had when they were looked at last.</summary>
    public ImmutableArray<Limit> Limits { get; set; }

    /// <summary>The same as they are kept.</summary>
    public string KeptLimits { get; set; } = "";

    /// <summary>True while what it is recorded with does not hold.</summary>
    public bool IsHeldBack { get; set; }

    /// <summary>Takes up how a point is recorded now.</summary>
    public void Follow(PlanPoint point, bool isOther)
    {
        Rule = point.Recording;
        HasStates = point.Type is PropertyType.State or PropertyType.Boolean;
        IsStepped = point.Recording?.IsStepped ?? point.Type != PropertyType.Number;
        if (isOther)
            Gate.Reset();
    }
}
