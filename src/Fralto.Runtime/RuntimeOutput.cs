using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Runtime.Recording;

namespace Fralto.Runtime;

/// <summary>What the running plant has put out since the last time.</summary>
/// <param name="Snapshot">What it knows now.</param>
/// <param name="Events">What happened to alarms, in the order it came.</param>
/// <param name="Past">Values of the past that sources handed in later: for what keeps history alone.</param>
public sealed record RuntimeOutput(EngineSnapshot Snapshot, ImmutableArray<AlarmEvent> Events, ImmutableArray<SampleBatch> Past)
{
    /// <summary>Values of recorded points, each batch with the plan it is of.</summary>
    public ImmutableArray<RecordBatch> Records { get; init; } = [];

    /// <summary>When it was put out.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>What the working model knows at the same moment; null while it does not differ.</summary>
    public EngineSnapshot? Working { get; init; }

    /// <summary>What would have happened to alarms if the working model ran.</summary>
    public ImmutableArray<AlarmEvent> WouldHappen { get; init; } = [];
}
