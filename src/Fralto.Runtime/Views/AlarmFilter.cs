using Fralto.Core.Alarms;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Runtime.Views;

/// <summary>Which alarms somebody looks at; what is empty asks for nothing.</summary>
public sealed record AlarmFilter
{
    /// <summary>At or below one of these places.</summary>
    public IReadOnlyList<long> Places { get; init; } = [];

    /// <summary>With all of these labels, key=value.</summary>
    public IReadOnlyList<string> Labels { get; init; } = [];

    /// <summary>Of one of these priorities.</summary>
    public IReadOnlyList<int> Priorities { get; init; } = [];

    /// <summary>Only what somebody has yet to acknowledge.</summary>
    public bool OnlyUnacknowledged { get; init; }

    /// <summary>True where an instance lies at or below one of the places.</summary>
    public bool IsAt(PlantModel model, long equipmentId)
    {
        if (Places.Count == 0)
            return true;
        if (model.Index.RangeOf(equipmentId) is not var (its, _))
            return false;
        foreach (var place in Places)
            if (model.Index.RangeOf(place) is var (from, to) && its >= from && its < to)
                return true;
        return false;
    }

    /// <summary>True where an alarm is one of those asked for.</summary>
    /// <param name="model">The model.</param>
    /// <param name="facts">The alarm.</param>
    /// <param name="node">Its instance.</param>
    public bool Takes(PlantModel model, AlarmFacts facts, Equipment node) =>
        Takes(model, node.Id, facts.Limit.Priority) && (!OnlyUnacknowledged || facts.Alarm.State.IsUnacknowledged());

    /// <summary>True where an alarm of an instance and a priority is one of those asked for, whether it is acknowledged or not.</summary>
    /// <param name="model">The model.</param>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="priority">The priority.</param>
    public bool Takes(PlantModel model, long equipmentId, int priority) =>
        (Priorities.Count == 0 || Priorities.Contains(priority))
        && IsAt(model, equipmentId)
        && Labels.All(l => HasLabel(model, equipmentId, l));

    /// <summary>The instances whose alarms are asked for, by place and label; null for all.</summary>
    public IReadOnlyList<long>? InstancesOf(PlantModel model) =>
        Places.Count == 0 && Labels.Count == 0
            ? null
            :
            [
                .. (Places.Count == 0 ? model.Index.EquipmentInOrder : Places.SelectMany(p => model.Index.Below(p)).Distinct())
                    .Select(e => e.Id)
                    .Where(id => Labels.All(l => HasLabel(model, id, l))),
            ];

    /// <summary>True where an instance has a label, itself or by what it inherits.</summary>
    /// <param name="model">The model.</param>
    /// <param name="equipmentId">The instance; one that is gone has none.</param>
    /// <param name="label">The label, key=value.</param>
    public static bool HasLabel(PlantModel model, long equipmentId, string label) =>
        model.Equipment.GetValueOrDefault(equipmentId) is { } node
        && label.Split('=', 2) is [var key, var value]
        && LabelsOf(model, node).Any(l => l.Key == key && l.Value == value);

    /// <summary>Labels of an instance, with those it inherits.</summary>
    public static IEnumerable<KeyValuePair<string, string>> LabelsOf(PlantModel model, Equipment node) => model.Index.LabelsOf(node);
}
