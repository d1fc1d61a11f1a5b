using Fralto.Core.Limits;

namespace Fralto.Core.Alarms;

/// <summary>What an alarm is the alarm of: a limit of an instance. Stays the same over a change of plan.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property of a level limit; of other limits their own id, which is below 0.</param>
/// <param name="Condition">Which level limit; <see cref="LimitCondition.High"/> or <see cref="LimitCondition.Low"/> for others.</param>
public readonly record struct AlarmKey(long EquipmentId, long PropertyId, LimitCondition Condition);
