using Fralto.Core.Plant;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Adds a template, or changes its name, code, parent and description when an id is given.</summary>
public sealed record SaveTemplate(long? Id, string Code, string Name, long? ParentId, string Description) : Edit
{
    /// <summary>Longest description of a template, in characters.</summary>
    public const int LongestDescription = 500;

    public override EditOutcome On(PlantModel model)
    {
        Template? before = null;
        if (Id is { } id && !model.Templates.TryGetValue(id, out before)) return Gone("The template");
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        Check(problems, nameof(Code), Naming.CodeProblem(Code));
        if (model.Templates.Values.Any(t => t.Id != Id && string.Equals(t.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a template with the code {Code}."));
        if (Description.Length > LongestDescription)
            problems.Add(new(nameof(Description), $"The description has {Description.Length} characters; {LongestDescription} is the most."));
        if (before is not null && before.ParentId != ParentId)
            problems.Add(new(nameof(ParentId), "A template keeps the parent it was made with."));
        if (ParentId is { } parent && !model.Templates.ContainsKey(parent))
            problems.Add(new(nameof(ParentId), "The template to inherit from no longer exists."));
        if (problems.Count > 0) return EditOutcome.Refused(problems);
        var after = before is null
            ? new Template(model.NextId, Code, Name, ParentId, Description)
            : before with { Code = Code, Name = Name, Description = Description };
        return EditOutcome.Changed($"{(before is null ? "Add" : "Change")} template {Name}", new ModelChange(before, after));
    }
}
