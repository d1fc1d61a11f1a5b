using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Adds a template, or changes its name, code, description, levels and labels when an id is given.</summary>
/// <param name="Id">The template to change; null adds one.</param>
/// <param name="Code">Code, unique among templates.</param>
/// <param name="Name">Name.</param>
/// <param name="ParentId">The template it inherits from; null begins a family.</param>
/// <param name="Description">One or two lines.</param>
/// <param name="Levels">Levels its instances may stand at, empty for those it inherits; null leaves them as they are.</param>
/// <param name="Labels">Labels of every instance; null leaves them as they are.</param>
public sealed record SaveTemplate(
    long? Id,
    string Code,
    string Name,
    long? ParentId,
    string Description,
    ImmutableArray<EquipmentLevel>? Levels = null,
    ImmutableSortedDictionary<string, string>? Labels = null
) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        Template? before = null;
        if (Id is { } id && !model.Templates.TryGetValue(id, out before))
            return Gone("The template");
        var after = (before ?? new Template(model.NextId, Code, Name, ParentId, Description)) with
        {
            Code = Code,
            Name = Name,
            Description = Description,
            Levels = Levels ?? before?.Levels ?? [],
            Labels = Labels ?? before?.Labels ?? Basics.Labels.None,
        };
        var problems = EntityRules.Problems(after).ToList();
        if (model.Templates.Values.Any(t => t.Id != Id && string.Equals(t.Code, Code, StringComparison.OrdinalIgnoreCase)))
            problems.Add(new(nameof(Code), $"There is already a template with the code {Code}."));
        if (before is not null && before.ParentId != ParentId)
            problems.Add(new(nameof(ParentId), "A template keeps the parent it was made with."));
        if (ParentId is { } parent && !model.Templates.ContainsKey(parent))
            problems.Add(new(nameof(ParentId), "The template to inherit from no longer exists."));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);
        var change = new ModelChange(before, after);
        return Misplaced(model.Apply([change]), after) is { } misplaced
            ? EditOutcome.Refused(nameof(Levels), misplaced)
            : EditOutcome.Changed($"{(before is null ? "Add" : "Change")} template {Name}", change);
    }

    /// <summary>The instances and parts that stand where the template would not allow it; null when there are none.</summary>
    private static string? Misplaced(PlantModel next, Template after)
    {
        foreach (var template in next.Index.FamilyOf(after.Id))
        {
            if (next.Index.LevelsOf(template.Id) is not { IsEmpty: false } levels)
                continue;
            var wrong = next.Index.InstancesOf(template.Id).Where(e => !levels.Contains(e.Level)).ToArray();
            if (wrong.Length > 0)
                return $"{next.Index.PathOf(wrong[0].Id)} is a "
                    + $"{LevelRules.NameOf(wrong[0].Level)}"
                    + $"{(wrong.Length > 1 ? $", and {wrong.Length - 1} more stand at other levels" : "")}; "
                    + $"allow its level, or change it first.";
            if (
                next
                    .Templates.Values.SelectMany(t => t.Parts.Select(p => (Whole: t, Part: p)))
                    .FirstOrDefault(p => p.Part.TemplateId == template.Id && !levels.Contains(p.Part.Level)) is
                { Part: { } part } use
            )
                return $"{use.Whole.Name} has it as the part {part.Name} at the level {LevelRules.NameOf(part.Level)}; allow that "
                    + $"level too.";
        }
        return null;
    }
}
