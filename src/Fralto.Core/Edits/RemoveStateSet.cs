using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a state set out; refused while a property uses it.</summary>
public sealed record RemoveStateSet(long Id) : Edit
{
    private const int MostUsers = 5;

    public override EditOutcome On(PlantModel model)
    {
        if (!model.StateSets.TryGetValue(Id, out var set)) return Gone("The state set");
        var users = model.Templates.Values.Where(t => t.Patches.Values.Any(p => p.StateSetId == Id)).Select(t => t.Name).Order()
            .Concat(model.Equipment.Values.Where(e => e.Patches.Values.Any(p => p.StateSetId == Id)).Select(e => model.Index.PathOf(e.Id)).Order(StringComparer.Ordinal)).ToArray();
        return users.Length > 0
            ? EditOutcome.Refused("", $"{set.Name} names the states of properties of {string.Join(", ", users.Take(MostUsers))}{(users.Length > MostUsers ? " …" : "")}; give those another set first.")
            : EditOutcome.Changed($"Take out state set {set.Name}", Removed(set));
    }
}
