using Fralto.Core.Limits;

namespace Fralto.Core.Engine;

/// <summary>What an alarm is the alarm of: a limit of a property of an instance. Stays the same over a change of plan.</summary>
public readonly record struct AlarmKey(long EquipmentId, long PropertyId, LimitCondition Condition);
