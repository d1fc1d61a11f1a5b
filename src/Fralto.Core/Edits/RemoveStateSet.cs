using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a state set out; refused while a property uses it.</summary>
public sealed record RemoveStateSet(long Id) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        if (!model.StateSets.TryGetValue(Id, out var set)) return Gone("The state set");
        var users = model.Templates.Values.Where(t => t.Patches.Values.Any(p => p.StateSetId == Id)).Select(t => t.Name).Order().ToArray();
        return users.Length > 0
            ? EditOutcome.Refused("", $"{set.Name} names the states of properties of {string.Join(", ", users)}; give those another set first.")
            : EditOutcome.Changed($"Take out state set {set.Name}", Removed(set));
    }
}
