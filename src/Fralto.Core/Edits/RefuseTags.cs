using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Remembers that tags are not the right ones for properties, so that they are not proposed again; or forgets it.</summary>
/// <param name="Lines">Which tag for which property; their slices do not matter.</param>
/// <param name="Forget">True takes refusals back.</param>
public sealed record RefuseTags(ImmutableArray<BindingLine> Lines, bool Forget = false) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Lines.Any(l => !model.Equipment.ContainsKey(l.EquipmentId)))
            return Gone("The equipment");
        if (!Forget && Lines.Any(l => model.Index.PropertiesOf(model.Equipment[l.EquipmentId]).All(p => p.Id != l.PropertyId)))
            return Gone("The property");
        if (!Forget && Lines.Any(l => !model.Tags.ContainsKey(l.TagId)))
            return Gone("The tag");
        var changes = new List<ModelChange>();
        foreach (var lines in Lines.GroupBy(l => l.EquipmentId))
        {
            var node = model.Equipment[lines.Key];
            var tags = lines.Where(l => model.Tags.ContainsKey(l.TagId)).Select(l => new RefusedTag(l.PropertyId, l.TagId));
            var after = Forget ? node.Refused.Except(tags) : node.Refused.Union(tags);
            if (!after.SetEquals(node.Refused))
                changes.Add(new(node, node with { Refused = after }));
        }
        if (changes.Count == 0)
            return EditOutcome.Refused("", Forget ? "Nothing of this was refused." : "This was refused already.");
        var what =
            Lines.Length == 1
                ? $"{model.Tags.GetValueOrDefault(Lines[0].TagId)?.Name} for {model.Equipment[Lines[0].EquipmentId].Name}"
                : Count(Lines.Length, "proposal");
        return EditOutcome.Changed($"{(Forget ? "Forget that was refused:" : "Refuse")} {what}", changes);
    }
}
