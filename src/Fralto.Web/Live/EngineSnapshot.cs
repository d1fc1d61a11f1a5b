using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Planning;

namespace Fralto.Web.Live;

/// <summary>What the engine knew at one moment; shared by all readers, never changed.</summary>
/// <param name="Plan">The plan that ran.</param>
/// <param name="Findings">What the planner said of the model behind it.</param>
/// <param name="Values">Value of each point, in the plan's order.</param>
/// <param name="Readings">Reading of each tag, in the plan's order.</param>
/// <param name="Alarms">Alarms that are not normal, most urgent first.</param>
/// <param name="AlarmVersion">Changes whenever an alarm does.</param>
public sealed record EngineSnapshot(
    Plan Plan, FindingList Findings, PointValue[] Values, TagReading[] Readings, ImmutableArray<Alarm> Alarms, long AlarmVersion)
{
    public static readonly EngineSnapshot Empty = new(Plan.Empty, FindingList.Empty, [], [], [], 0);

    /// <summary>Alarms whose condition is there now.</summary>
    public int ActiveAlarms => Alarms.Count(a => a.IsActive);

    /// <summary>The point of a property and its value; null when it is not bound in the running plan.</summary>
    public (PlanPoint Point, PointValue Value)? Find(long equipmentId, long propertyId) =>
        Plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var index ? (Plan.Points[index], Values[index]) : null;

    /// <summary>The newest readings of all elements of a tag; empty when the running plan does not know it.</summary>
    public ReadOnlySpan<TagReading> ReadingsOf(Tag tag) =>
        Plan.TagIndexOf(tag.Id) is >= 0 and var index && index + tag.Elements <= Readings.Length ? Readings.AsSpan(index, tag.Elements) : [];

    /// <summary>The newest reading of a tag; null when the running plan does not know it.</summary>
    public TagReading? Reading(long tagId) => Plan.TagIndexOf(tagId) is >= 0 and var index ? Readings[index] : null;
}
