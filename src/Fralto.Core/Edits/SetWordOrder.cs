using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Gives several tags another order of words and bytes, as one edit.</summary>
public sealed record SetWordOrder(ImmutableArray<long> TagIds, WordOrder Order) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var tags = TagIds.Select(id => model.Tags.GetValueOrDefault(id)).ToArray();
        if (tags.Length == 0 || tags.Any(t => t is null))
            return Gone("A tag");
        if (tags.FirstOrDefault(t => TagRules.Generated(model, t!) is not null) is { } generated)
            return EditOutcome.Refused(
                "",
                $"{generated.Name} belongs to the device {TagRules.Generated(model, generated)!.Name}; change the order in its "
                    + $"layout, and the tags of all its devices follow."
            );
        var changes = tags.Where(t => t!.WordOrder != Order).Select(t => new ModelChange(t, t! with { WordOrder = Order })).ToArray();
        return changes.Length == 0
            ? EditOutcome.Refused("", $"These tags are already read as {Order.Letters()}.")
            : EditOutcome.Changed($"Read {Count(changes.Length, "tag")} as {Order.Letters()}", changes);
    }
}
