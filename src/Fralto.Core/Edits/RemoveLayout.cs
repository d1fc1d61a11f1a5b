using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a layout out that no device has any more.</summary>
public sealed record RemoveLayout(long Id) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Layouts.TryGetValue(Id, out var layout))
            return Gone("The layout");
        var devices = References.UsersOf(model, EntityKinds.Layout, Id).ToArray();
        return devices.Length > 0
            ? EditOutcome.Refused(
                "",
                $"{layout.Name} is the layout of {string.Join(", ", devices.Take(5))}{(devices.Length > 5 ? " …" : "")}; take those "
                    + $"out first."
            )
            : EditOutcome.Changed($"Take out layout {layout.Name}", Removed(layout));
    }
}
