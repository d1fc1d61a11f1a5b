using Fralto.Core.Basics;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Gives a device another name or place; its tags follow and keep their bindings.</summary>
public sealed record SaveDevice(long Id, string Name, int Base, int BitBase, int? UnitId) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Devices.TryGetValue(Id, out var before))
            return Gone("The device");
        var after = before with { Name = Name, Base = Base, BitBase = BitBase, UnitId = UnitId };
        if (Naming.NameProblem(Name) is { } wrong)
            return EditOutcome.Refused(nameof(Name), wrong);
        if (
            model.Devices.Values.Any(d =>
                d.Id != Id && d.ControllerId == before.ControllerId && string.Equals(d.Name, Name, StringComparison.OrdinalIgnoreCase)
            )
        )
            return EditOutcome.Refused(nameof(Name), $"{model.Controllers[before.ControllerId].Name} already has a device named {Name}.");
        if (after == before)
            return EditOutcome.Refused("", $"{Name} is like this already.");
        var tags = new DeviceTags(model, model.NextId, [Id]);
        tags.Follow(after, model.Layouts[after.LayoutId]);
        return tags.Problems.Count > 0
            ? EditOutcome.Refused(tags.Problems)
            : EditOutcome.Changed($"Change device {Name}: {Count(tags.Changed, "tag")}", [new(before, after), .. tags.Changes]);
    }
}
