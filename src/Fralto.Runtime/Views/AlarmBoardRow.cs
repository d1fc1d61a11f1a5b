using Fralto.Core.Alarms;
using Fralto.Core.Hierarchy;

namespace Fralto.Runtime.Views;

/// <summary>An alarm on the board: where it lies on the axis of time, whose middle is now.</summary>
/// <param name="Facts">The alarm.</param>
/// <param name="Node">Its instance.</param>
/// <param name="Property">Name of the property.</param>
/// <param name="IsFirstOfNode">True for the first row of its instance.</param>
/// <param name="RaisedX">Where it was raised, 0 (an hour ago, or earlier) to 1 (now).</param>
/// <param name="EndX">Where its condition went, or 1 while it is there.</param>
/// <param name="SeenX">Where it was acknowledged; null when it was not.</param>
/// <param name="DueX">Where it is due, 0 (now) to 1 (half an hour, or later); null without a time to respond, below 0 when it is
/// over.</param>
/// <param name="Thread">How long after the first alarm of its instance it came; null where none came within five minutes.</param>
/// <param name="IsFirst">True for the first of several that came within five minutes at one instance.</param>
public sealed record AlarmBoardRow(
    AlarmFacts Facts,
    Equipment Node,
    string Property,
    bool IsFirstOfNode,
    double RaisedX,
    double EndX,
    double? SeenX,
    double? DueX,
    TimeSpan? Thread,
    bool IsFirst
)
{
    /// <summary>The alarm.</summary>
    public Alarm Alarm => Facts.Alarm;

    /// <summary>What tells it from all others, for addresses.</summary>
    public string Key => $"{Alarm.Key.EquipmentId}.{Alarm.Key.PropertyId}.{Alarm.Key.Condition}";
}
