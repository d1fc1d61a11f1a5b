using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a state list out; refused while a property uses it.</summary>
public sealed record RemoveStateList(long Id) : Edit
{
    private const int MostUsers = 5;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.StateLists.TryGetValue(Id, out var set))
            return Gone("The state list");
        var users = References.UsersOf(model, EntityKinds.StateList, Id).ToArray();
        return users.Length > 0
            ? EditOutcome.Refused(
                "",
                $"{set.Name} names the states of properties of "
                    + $"{string.Join(", ", users.Take(MostUsers))}{(users.Length > MostUsers ? " …" : "")}; give those another list first."
            )
            : EditOutcome.Changed($"Take out state list {set.Name}", Removed(set));
    }
}
