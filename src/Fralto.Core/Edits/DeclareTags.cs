using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Edits;

/// <summary>Makes tags of what browsing has listed, as one edit. What is declared already is passed over; names are made of the paths, and
/// unique.</summary>
/// <param name="ControllerId">The controller browsed.</param>
/// <param name="Items">What was chosen.</param>
/// <param name="Unfold">True makes a tag of each element of an array; false takes an array as a whole.</param>
public sealed record DeclareTags(long ControllerId, ImmutableArray<SourceItem> Items, bool Unfold = false) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller))
            return Gone("The controller");
        var names = model.Index.TagsOf(ControllerId).Select(t => t.Name).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var places = model.Index.TagsOf(ControllerId).Select(t => t.Address.Place).ToHashSet(StringComparer.Ordinal);
        var (changes, problems, next) = (new List<ModelChange>(), new List<Problem>(), model.NextId);
        var listed = model.StateLists.Values.Select(s => s.Code).ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var item in Items.SelectMany(i => Unfold ? Elements(i) : [i]))
        {
            if (!places.Add(item.Address.Place))
                continue;
            var name = TagRules.FreeName(NameOf(item), names.Contains);
            names.Add(name);
            var description =
                item.Description.Length <= EntityRules.LongestTagDescription
                    ? item.Description
                    : item.Description[..EntityRules.LongestTagDescription];
            var tag = new Tag(
                next++,
                ControllerId,
                name,
                item.Address,
                item.Type,
                WordOrder.HighFirst,
                description,
                Math.Min(item.Count, Tag.MostElements),
                (model.Units.Find(item.UnitCode) ?? model.Units.Match(item.Unit ?? ""))?.Code
            )
            {
                Range = item.Range is { IsUsable: true } ? item.Range : null,
            };
            problems.AddRange(
                EntityRules.Problems(model, controller, tag).Select(p => p with { Message = $"{item.PathText}: {p.Message}" })
            );
            changes.Add(Added(tag));
            // States that have a name of their own are good for more than this tag.
            if (StatesOf(model, item, next, listed) is { } states)
            {
                next++;
                changes.Add(Added(states));
            }
        }
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        return changes.Count == 0
            ? EditOutcome.Refused("", Items.IsEmpty ? "Choose what to take first." : "All of these are tags already.")
            : EditOutcome.Changed($"Take {Count(changes.Count, "tag")} from {controller.Name}", [.. changes]);
    }

    /// <summary>The state list an item brings along; null where it has none, or one of that code is there.</summary>
    private static StateList? StatesOf(PlantModel model, SourceItem item, long id, HashSet<string> listed)
    {
        var code = Naming.Suggest(item.StatesName);
        if (item.StatesName.Length == 0 || item.States.Count == 0 || listed.Contains(code))
            return null;
        var list = new StateList(
            id,
            code,
            Naming.SuggestName(item.StatesName),
            [
                .. item
                    .States.Where(s => s.Number is >= int.MinValue and <= int.MaxValue)
                    .Select(s => new State((int)s.Number, s.Name))
                    .OrderBy(s => s.Value),
            ]
        );
        // What would be no good list is left: the tag is what was asked for.
        if (new SaveStateList(null, code, list.Name, list.States).On(model).IsRefused)
            return null;
        listed.Add(code);
        return list;
    }

    /// <summary>The elements of an array, each by itself, where its protocol can name them: members of JSON by pointer, those of a metric
    /// by number.</summary>
    private static IEnumerable<SourceItem> Elements(SourceItem item)
    {
        if (item.Count < 2 || item.Address.ElementAt(0) is null)
            return [item];
        return Enumerable
            .Range(0, item.Count)
            .Select(i => item with { Address = item.Address.ElementAt(i)!, Path = [.. item.Path, $"{i}"], Count = 1, Value = "" });
    }

    private static string NameOf(SourceItem item)
    {
        var name = Naming.SuggestName(item.PathText);
        return name.Length > Naming.LongestName - 4 ? name[^(Naming.LongestName - 4)..].Trim() : name;
    }
}
