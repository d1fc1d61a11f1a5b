using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a device out with its tags and their bindings.</summary>
public sealed record RemoveDevice(long Id) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Devices.TryGetValue(Id, out var device))
            return Gone("The device");
        var tags = new DeviceTags(model, model.NextId, [Id]);
        tags.Drop(device);
        return EditOutcome.Changed($"Take out device {device.Name} with {Count(tags.Removed, "tag")}", [.. tags.Changes, Removed(device)]);
    }
}
