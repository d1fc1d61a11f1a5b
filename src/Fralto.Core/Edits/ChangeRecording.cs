using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;

namespace Fralto.Core.Edits;

/// <summary>Says of many properties of instances how they are recorded.</summary>
/// <param name="Properties">Properties of instances.</param>
/// <param name="Says">What is said of each; fields that are null stay as they are. A deadband is said of numbers alone.</param>
/// <param name="Words">What the journal says of it; empty for how many they are.</param>
public sealed record ChangeRecording(ImmutableArray<(long EquipmentId, long PropertyId)> Properties, RecordingPatch Says, string Words = "")
    : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Properties.IsEmpty)
            return EditOutcome.Refused("", "Choose what is to be recorded otherwise first.");
        if (Says == RecordingPatch.Empty)
            return EditOutcome.Refused("", "Say how it is to be recorded: fill in what is to change.");
        var (alike, withoutDeadband) = (
            new Dictionary<(long PropertyId, RecordingPatch After), List<long>>(),
            Says with
            {
                Deadband = null,
                DeadbandPercent = null,
            }
        );
        foreach (var (id, propertyId) in Properties.Distinct())
        {
            if (
                !model.Equipment.TryGetValue(id, out var node)
                || model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == propertyId) is not { } property
            )
                return Gone("One of them");
            var own = property.Own.Recording ?? RecordingPatch.Empty;
            var after = own.With(property.Declaration.Type.IsNumeric() ? Says : withoutDeadband);
            if (after == own)
                continue;
            if (!alike.TryGetValue((propertyId, after), out var some))
                alike[(propertyId, after)] = some = [];
            some.Add(id);
        }
        if (alike.Count == 0)
            return EditOutcome.Refused("", "All of these are recorded so already.");
        var count = alike.Values.Sum(s => s.Count);
        return new Several(
            [.. alike.Select(a => new PatchProperty([.. a.Value], a.Key.PropertyId, new() { Recording = a.Key.After }, []))],
            Words.Length > 0 ? Words
                : count == 1 ? "Record a property otherwise"
                : $"Record {count} properties otherwise"
        ).On(model);
    }
}
