using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Gives several tags something, as one edit: an update class, a unit, a type, an order of words, a description, new
/// names.</summary>
/// <param name="Ids">The tags.</param>
/// <param name="Patch">What they get.</param>
public sealed record ChangeTags(ImmutableArray<long> Ids, TagPatch Patch) : Edit
{
    private const int MostProblems = 10;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Patch.Rename?.Problem is { } wrong)
            return EditOutcome.Refused("From", wrong);
        var tags = Ids.Distinct().Select(id => model.Tags.GetValueOrDefault(id)).ToArray();
        if (tags.Length == 0)
            return EditOutcome.Refused("", "Choose the tags first.");
        if (tags.Any(t => t is null))
            return Gone("One of the tags");
        if (tags.FirstOrDefault(t => TagRules.Generated(model, t!) is not null) is { } generated)
            return EditOutcome.Refused(
                "",
                $"{generated.Name} belongs to the device {TagRules.Generated(model, generated)!.Name}; change its layout, and the tags of "
                    + $"all its devices follow."
            );
        var changes = tags.Select(t => new ModelChange(t, Patch.On(t!))).Where(c => !c.Before!.Equals(c.After)).ToArray();
        if (changes.Length == 0)
            return EditOutcome.Refused(
                "",
                Patch.Rename is { } rename ? $"None of these names has {rename.From}."
                    : tags.Length == 1 ? "The tag is so already."
                    : "All of these tags are so already."
            );
        var problems = Problems(model, [.. changes.Select(c => (Tag)c.After!)]).Take(MostProblems).ToArray();
        return problems.Length > 0
            ? EditOutcome.Refused(problems)
            : EditOutcome.Changed($"{Words(model)} of {Count(changes.Length, "tag")}", changes);
    }

    /// <summary>What is changed, in words, as a journal says it.</summary>
    private string Words(PlantModel model) =>
        Patch switch
        {
            { Rename: { } rename } => $"Rename {rename.From} to {rename.To}: names",
            { Type: { } type } => $"Type {type.Word()}",
            { WordOrder: { } order } => $"Order of words {order.Letters()}",
            { Unit: { } unit } => unit.Length == 0 ? "No unit" : $"Unit {model.Units.SymbolOf(unit)}",
            { UpdateClass: { } its } => its.Length == 0 ? "No update class" : $"Update class {its}",
            _ => Patch.Description is { Length: > 0 } ? "Description" : "No description",
        };

    private static IEnumerable<Problem> Problems(PlantModel model, ImmutableArray<Tag> after)
    {
        var changed = after.ToDictionary(t => t.Id);
        foreach (var group in after.GroupBy(t => t.ControllerId))
        {
            var controller = model.Controllers[group.Key];
            foreach (var tag in group)
            foreach (var problem in EntityRules.Problems(model, controller, tag))
                yield return new("", $"{tag.Name}: {problem.Message}");
            var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
            var places = new Dictionary<(string, RawType, int), Tag>();
            foreach (var tag in model.Index.TagsOf(group.Key).Select(t => changed.GetValueOrDefault(t.Id, t)))
            {
                if (!names.Add(tag.Name))
                    yield return new("", $"{controller.Name} would have two tags named {tag.Name}.");
                if (TagRules.PlaceOf(controller, tag) is { } place && !places.TryAdd(place, tag))
                    yield return new("", $"{tag.Name} would be the same as {places[place].Name}: {tag.TypeText} at {tag.Address}.");
            }
        }
        foreach (var tag in after)
        foreach (var misfit in TagRules.Misfits(model, tag))
            yield return new("", misfit);
    }
}
