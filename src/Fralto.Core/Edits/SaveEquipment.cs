using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Adds a node to the plant with the parts of its template, or changes its name, code, level and labels when an id is
/// given.</summary>
/// <param name="Id">The node to change; null adds one.</param>
/// <param name="Code">Code, unique among siblings.</param>
/// <param name="Name">Name.</param>
/// <param name="Level">Level; one its template may stand at.</param>
/// <param name="ParentId">The place above it.</param>
/// <param name="TemplateId">The template it is an instance of; null for a place.</param>
/// <param name="Labels">Its own labels; null leaves them as they are.</param>
public sealed record SaveEquipment(
    long? Id,
    string Code,
    string Name,
    EquipmentLevel Level,
    long? ParentId,
    long? TemplateId,
    ImmutableSortedDictionary<string, string>? Labels = null
) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Equipment? before = null;
        Equipment? parent = null;
        if (Id is { } id && !model.Equipment.TryGetValue(id, out before))
            return Gone("The equipment");
        if (ParentId is { } parentId && !model.Equipment.TryGetValue(parentId, out parent))
            return Gone("The place above it");
        var node = (
            before ?? new Equipment(model.NextId, Code, Name, Level, ParentId, TemplateId, model.Index.NextOrderBelow(ParentId))
        ) with
        {
            Code = Code,
            Name = Name,
            Level = Level,
            Labels = Labels ?? before?.Labels ?? Basics.Labels.None,
        };
        var problems = EntityRules.Problems(node).ToList();
        if (model.Index.ChildrenOf(ParentId).Any(e => e.Id != Id && string.Equals(e.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(
                new(nameof(Code), $"{(parent is null ? "The plant" : parent.Name)} already has a {Code}; codes are unique among siblings.")
            );
        Check(problems, nameof(Level), Instantiation.Misfit(model, parent?.Level, Level, TemplateId));
        foreach (var child in Id is null ? [] : model.Index.ChildrenOf(Id))
            if (LevelRules.Misfit(Level, child.Level) is { } misfit)
                problems.Add(new(nameof(Level), $"{child.Name} sits below it. {misfit}"));
        if (TemplateId is { } template && !model.Templates.ContainsKey(template))
            problems.Add(new(nameof(TemplateId), "The template no longer exists."));
        if (before is not null && before.ParentId != ParentId)
            problems.Add(new(nameof(ParentId), "The equipment has been moved meanwhile; reload the page."));
        if (before is not null && before.TemplateId != TemplateId)
            problems.Add(new(nameof(TemplateId), "An instance keeps its template."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        if (before is not null)
            return EditOutcome.Changed($"Change {Name}", new ModelChange(before, node));
        var made = Instantiation.Of(model, node);
        if (Instantiation.PartMisfit(model, made) is { } partMisfit)
            return EditOutcome.Refused(nameof(Level), partMisfit);
        return EditOutcome.Changed($"Add {Name}{(made.Count > 1 ? $" with {Count(made.Count - 1, "part")}" : "")}", made.Select(Added));
    }
}
