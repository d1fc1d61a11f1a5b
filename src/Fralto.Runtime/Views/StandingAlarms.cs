using Fralto.Core.Alarms;

namespace Fralto.Runtime.Views;

/// <summary>How things stand, with the alarms that stand by instance and property, gathered once.</summary>
/// <param name="snapshot">How things stand.</param>
public sealed class StandingAlarms(EngineSnapshot snapshot)
{
    private readonly ILookup<(long, long), Alarm> _alarms = snapshot
        .Standing.Where(a => a.IsActive)
        .ToLookup(a =>
            snapshot.Plan.PointIndexOf(a.Key.EquipmentId, a.Key.PropertyId) is >= 0 and var index
            && snapshot.Plan.Points[index].Watch is { } watch
                ? (a.Key.EquipmentId, watch.PropertyId)
                : (a.Key.EquipmentId, a.Key.PropertyId)
        );

    /// <summary>How things stand.</summary>
    public EngineSnapshot Snapshot => snapshot;

    /// <summary>The alarms of a property of an instance whose condition is there.</summary>
    public IEnumerable<Alarm> Of(long equipmentId, long propertyId) => _alarms[(equipmentId, propertyId)];
}
