using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Runtime;

/// <summary>What the engine knew at one moment; shared by all readers. Only the times of what stays the same go on.</summary>
public sealed class EngineSnapshot
{
    public static readonly EngineSnapshot Empty = new();

    private ImmutableArray<Alarm>? _inOrder;

    /// <summary>The plan that ran.</summary>
    public Plan Plan { get; init; } = Plan.Empty;

    /// <summary>What the planner said of the model behind it.</summary>
    public FindingList Findings { get; init; } = FindingList.Empty;

    /// <summary>Points whose value is Good.</summary>
    public int GoodPoints { get; init; }

    /// <summary>Alarms whose condition is there now.</summary>
    public int ActiveAlarms { get; init; }

    /// <summary>Changes whenever an alarm does.</summary>
    public long AlarmVersion { get; init; }

    /// <summary>Alarms that are not normal, most urgent first.</summary>
    public ImmutableArray<Alarm> Alarms =>
        _inOrder ??= [
            .. Standing.OrderByDescending(a => a.IsActive).ThenBy(a => a.State).ThenBy(PriorityOf).ThenByDescending(a => a.RaisedAt),
        ];

    /// <summary>Which one it is, counted from the first.</summary>
    public long Number { get; init; }

    internal IReadOnlyList<Alarm> Standing { get; init; } = [];

    internal PagedArray<PointValue> Points { get; init; } = new();

    internal PagedArray<TagReading> Tags { get; init; } = new();

    internal TagTimes Times { get; init; }

    /// <summary>The value of a point, by its number in the plan.</summary>
    public PointValue ValueOf(int point)
    {
        var reading = ReadingOf(Plan.Points[point].Tag);
        return Points[point] with { Time = reading.Time, ReadAt = reading.ReadAt };
    }

    /// <summary>The reading of a tag, or of one element of an array, by its number in the plan.</summary>
    public TagReading ReadingOf(int tag) => Times.Refresh(tag, Tags[tag]);

    /// <summary>True where the formula of a property counts from a beginning, which can be made anew.</summary>
    public bool HasCounter(long equipmentId, long propertyId) =>
        Plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var point
        && Plan.FormulaOf(point) is >= 0 and var formula
        && Plan.Formulas[formula].Program is { HasCounter: true };

    /// <summary>The point of a property and its value; null when it is not bound in the running plan.</summary>
    public (PlanPoint Point, PointValue Value)? Find(long equipmentId, long propertyId) =>
        Plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var index ? (Plan.Points[index], ValueOf(index)) : null;

    /// <summary>The newest readings of all elements of a tag; empty when the running plan does not know it.</summary>
    public TagReading[] ReadingsOf(Tag tag)
    {
        if (Plan.TagIndexOf(tag.Id) is not (>= 0 and var index) || index + tag.Elements > Tags.Length)
            return [];
        var readings = new TagReading[tag.Elements];
        for (var i = 0; i < readings.Length; i++)
            readings[i] = ReadingOf(index + i);
        return readings;
    }

    /// <summary>The newest reading of a tag; null when the running plan does not know it.</summary>
    public TagReading? Reading(long tagId) => Plan.TagIndexOf(tagId) is >= 0 and var index ? ReadingOf(index) : null;

    /// <summary>How good the newest reading of a tag is, how often it has changed, and its raw number, as of now; null when the running
    /// plan does not know it.</summary>
    /// <param name="tagId">The tag.</param>
    public (StatusCode Status, int Changes, double Raw)? Brief(long tagId) =>
        Plan.TagIndexOf(tagId) is >= 0 and var index ? Times.Brief(index) : null;

    /// <summary>Points that are others than in the snapshot before this one; null when everything may be.</summary>
    public int[]? ChangedPoints { get; init; }

    /// <summary>Tags that are others than in the snapshot before this one; null when everything may be.</summary>
    public int[]? ChangedTags { get; init; }

    /// <summary>True when a point is what it was, however often it was read again since.</summary>
    public bool IsPointAs(EngineSnapshot earlier, int point) => Points.IsAs(earlier.Points, point);

    /// <summary>True when a tag is what it was, however often it was read again since.</summary>
    public bool IsTagAs(EngineSnapshot earlier, int tag) => Tags.IsAs(earlier.Tags, tag);

    /// <summary>True when this is the one right after another, so that what has changed between them is listed.</summary>
    public bool IsRightAfter(EngineSnapshot other) =>
        Number == other.Number + 1 && ReferenceEquals(Run, other.Run) && ChangedTags is not null;

    /// <summary>Whose it is: two engines count their snapshots each for itself.</summary>
    internal object? Run { get; init; }

    private int PriorityOf(Alarm alarm) =>
        Plan.Points[Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)].LimitOf(alarm.Key.Condition)!.Value.Priority;
}
