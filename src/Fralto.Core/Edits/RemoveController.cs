using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a controller out, with its tags and their bindings.</summary>
public sealed record RemoveController(long Id) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(Id, out var controller))
            return Gone("The controller");
        var tags = model.Index.TagsOf(Id).ToArray();
        var bindings = tags.SelectMany(t => model.Index.BindingsOf(t.Id)).ToArray();
        return EditOutcome.Changed(
            $"Take out controller {controller.Name} with {Count(tags.Length, "tag")} and {Count(bindings.Length, "binding")}",
            [
                .. bindings.Select(Removed),
                .. tags.Select(Removed),
                .. model.Devices.Values.Where(d => d.ControllerId == Id).Select(Removed),
                Removed(controller),
            ]
        );
    }
}
