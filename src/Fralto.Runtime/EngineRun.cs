using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Runtime;

/// <summary>An engine, the model it runs, and the newest snapshot of it. The released model has one, and the working model another for as
/// long as it differs.</summary>
internal sealed class EngineRun(PlantEngine engine, PlantModel model, FindingList findings, EngineSnapshot before)
{
    private volatile EngineSnapshot _snapshot = before;
    private long _alarmVersion = before.AlarmVersion + 1;

    public PlantEngine Engine { get; } = engine;

    /// <summary>The model that runs.</summary>
    public PlantModel Model { get; private set; } = model;

    /// <summary>What the planner says of it.</summary>
    public FindingList Findings { get; private set; } = findings;

    /// <summary>When what stands in for its simulated tags was said last; 0 for never.</summary>
    public long SimulatedAt { get; set; }

    /// <summary>What it knew when it was looked at last.</summary>
    public EngineSnapshot Snapshot => _snapshot;

    /// <summary>Puts another plan in.</summary>
    public void Swap(MadePlan made, Moment now)
    {
        Engine.Swap(made.Map, now);
        (Model, Findings) = (made.Model, made.Findings);
        // Alarms may carry another priority or path now.
        _alarmVersion++;
    }

    /// <summary>Alarms have moved.</summary>
    public void MoveAlarms() => _alarmVersion++;

    /// <summary>Makes the newest snapshot out of the last one and what has changed since; a plant that stands still costs
    /// nothing.</summary>
    public void Publish()
    {
        var last = _snapshot;
        var isSwapped = !ReferenceEquals(Engine.Plan, last.Plan);
        if (!isSwapped && Engine.Output.Points.Count == 0 && Engine.Output.Tags.Count == 0 && _alarmVersion == last.AlarmVersion)
            return;
        var isOther = isSwapped || !ReferenceEquals(last.Run, this);
        var sameAlarms = _alarmVersion == last.AlarmVersion && !isSwapped;
        _snapshot = new EngineSnapshot
        {
            Run = this,
            Number = last.Number + 1,
            ChangedPoints = isOther ? null : [.. Engine.Output.Points],
            ChangedTags = isOther ? null : [.. Engine.Output.Tags],
            Plan = Engine.Plan,
            Findings = Findings,
            Points = isSwapped
                ? last.Points.Anew(Engine.Plan.Points.Length, Engine.ValueOf)
                : last.Points.With(Engine.Output.Points, Engine.ValueOf),
            Tags = isSwapped
                ? last.Tags.Anew(Engine.Plan.Tags.Length, Engine.ReadingOf)
                : last.Tags.With(Engine.Output.Tags, Engine.ReadingOf),
            Times = Engine.Times,
            GoodPoints = Engine.GoodPoints,
            Standing = sameAlarms ? last.Standing : [.. Engine.Alarms],
            ActiveAlarms = sameAlarms ? last.ActiveAlarms : Engine.Alarms.Count(a => a.IsActive),
            AlarmVersion = _alarmVersion,
        };
        Engine.Output.ClearChanges();
    }
}
