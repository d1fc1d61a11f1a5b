using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Adds a node to the plant, or changes its name, code and level when an id is given.</summary>
public sealed record SaveEquipment(long? Id, string Code, string Name, EquipmentLevel Level, long? ParentId, long? TemplateId) : Edit
{
    public override EditOutcome On(PlantModel model)
    {
        Equipment? before = null;
        Equipment? parent = null;
        if (Id is { } id && !model.Equipment.TryGetValue(id, out before)) return Gone("The equipment");
        if (ParentId is { } parentId && !model.Equipment.TryGetValue(parentId, out parent)) return Gone("The place above it");
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        Check(problems, nameof(Code), Naming.CodeProblem(Code));
        if (model.Index.ChildrenOf(ParentId).Any(e => e.Id != Id && string.Equals(e.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"{(parent is null ? "The plant" : parent.Name)} already has a {Code}; codes are unique among siblings."));
        Check(problems, nameof(Level), LevelRules.Misfit(parent?.Level, Level));
        foreach (var child in Id is null ? [] : model.Index.ChildrenOf(Id))
            if (LevelRules.Misfit(Level, child.Level) is { } misfit) problems.Add(new(nameof(Level), $"{child.Name} sits below it. {misfit}"));
        if (TemplateId is { } template && !model.Templates.ContainsKey(template))
            problems.Add(new(nameof(TemplateId), "The template no longer exists."));
        if (before is not null && before.ParentId != ParentId) problems.Add(new(nameof(ParentId), "The equipment has been moved meanwhile; reload the page."));
        if (before is not null && before.TemplateId != TemplateId) problems.Add(new(nameof(TemplateId), "An instance keeps its template."));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        var after = before is null
            ? new Equipment(model.NextId, Code, Name, Level, ParentId, TemplateId, model.Index.ChildrenOf(ParentId).Select(e => e.Order).DefaultIfEmpty(0).Max() + 1)
            : before with { Code = Code, Name = Name, Level = Level };
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} {Name}", new ModelChange(before, after));
    }
}
