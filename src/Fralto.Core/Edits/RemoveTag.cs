using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Takes a tag out, with its bindings.</summary>
public sealed record RemoveTag(long Id) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Tags.TryGetValue(Id, out var tag))
            return Gone("The tag");
        if (TagRules.Generated(model, tag) is { } device)
            return EditOutcome.Refused(
                "",
                $"{tag.Name} belongs to the device {device.Name}; take the point out of its layout, or the device."
            );
        var bindings = model.Index.BindingsOf(Id).ToArray();
        return EditOutcome.Changed(
            $"Take out tag {tag.Name} with {Count(bindings.Length, "binding")}",
            [.. bindings.Select(Removed), Removed(tag)]
        );
    }
}
