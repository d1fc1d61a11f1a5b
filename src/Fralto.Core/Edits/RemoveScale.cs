using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a scale out of the library; refused while a property uses it.</summary>
public sealed record RemoveScale(long Id) : Edit
{
    private const int MostUsers = 5;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Scales.TryGetValue(Id, out var scale))
            return Gone("The scale");
        var users = References.UsersOf(model, EntityKinds.Scale, Id).Take(MostUsers).ToArray();
        return users.Length > 0
            ? EditOutcome.Refused(
                "",
                $"{scale.Name} is the scale of properties of {string.Join(", ", users)}; give those another scale first."
            )
            : EditOutcome.Changed($"Take out scale {scale.Name}", Removed(scale));
    }
}
