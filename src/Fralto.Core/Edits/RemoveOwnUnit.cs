using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a customer's own unit out; refused while something uses it.</summary>
public sealed record RemoveOwnUnit(long Id) : Edit
{
    private const int MostUsers = 5;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.OwnUnits.TryGetValue(Id, out var unit))
            return Gone("The unit");
        var users = References.UsersOf(model, EntityKinds.Unit, unit.Code).Take(MostUsers).ToArray();
        return users.Length > 0
            ? EditOutcome.Refused("", $"{unit.Symbol} is the unit of {string.Join(", ", users)}; give those another unit first.")
            : EditOutcome.Changed($"Take out unit {unit.Symbol}", Removed(unit));
    }
}
