using System.Collections.Immutable;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Takes tags out, with their bindings.</summary>
/// <param name="Ids">The tags.</param>
public sealed record RemoveTags(ImmutableArray<long> Ids) : Edit
{
    /// <summary>Takes one tag out.</summary>
    /// <param name="id">The tag.</param>
    public RemoveTags(long id)
        : this([id]) { }

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var tags = Ids.Distinct().Select(id => model.Tags.GetValueOrDefault(id)).ToArray();
        if (tags.Length == 0)
            return EditOutcome.Refused("", "Choose the tags first.");
        if (tags.Any(t => t is null))
            return Gone(tags.Length == 1 ? "The tag" : "One of the tags");
        foreach (var tag in tags)
            if (TagRules.Generated(model, tag!) is { } device)
                return EditOutcome.Refused(
                    "",
                    $"{tag!.Name} belongs to the device {device.Name}; take the point out of its layout, or the device."
                );
        var bindings = tags.SelectMany(t => model.Index.BindingsOf(t!.Id)).ToArray();
        return EditOutcome.Changed(
            $"Take out {(tags is [{ } one] ? $"tag {one.Name}" : Count(tags.Length, "tag"))} with {Count(bindings.Length, "binding")}",
            [.. bindings.Select(Removed), .. tags.Select(t => Removed(t!))]
        );
    }
}
