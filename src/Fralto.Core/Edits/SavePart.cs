using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Core.Edits;

/// <summary>Gives a template a part, or changes one it declares itself.</summary>
/// <param name="TemplateId">The template whose instances have the part.</param>
/// <param name="Id">The part to change; null adds one.</param>
/// <param name="Code">Code of the child, with {n} for the number when there are several.</param>
/// <param name="Name">Name of the child, likewise.</param>
/// <param name="PartTemplateId">What the part is an instance of.</param>
/// <param name="Level">The level it stands at.</param>
/// <param name="HowMany">How many, from 1.</param>
/// <param name="WithInstances">True gives the part to every instance there is already; otherwise it is offered to them.</param>
public sealed record SavePart(
    long TemplateId,
    long? Id,
    string Code,
    string Name,
    long? PartTemplateId,
    EquipmentLevel Level,
    int HowMany,
    bool WithInstances = false
) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        var known = template.Parts.FirstOrDefault(p => p.Id == Id);
        if (Id is not null && known is null)
            return Gone("The part");
        var part = new TemplatePart(Id ?? model.NextId, Code, Name, PartTemplateId ?? 0, Level, HowMany);
        var problems = EntityRules.Problems(part).ToList();
        Check(problems, nameof(Code), Clash(model));
        if (PartTemplateId is not { } of || !model.Templates.TryGetValue(of, out var partTemplate))
            problems.Add(new(nameof(PartTemplateId), "Choose the template the part is an instance of."));
        else
        {
            Check(problems, nameof(PartTemplateId), Cycle(model, template, partTemplate));
            Check(problems, nameof(Level), Instantiation.Misfit(model, EquipmentLevel.Other, Level, of));
            foreach (var above in model.Index.LevelsOf(TemplateId))
                if (LevelRules.Misfit(above, Level) is { } misfit)
                    problems.Add(new(nameof(Level), $"{template.Name} stands at {LevelRules.NameOf(above)}. {misfit}"));
        }
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);

        var change = new ModelChange(
            template,
            template with
            {
                Parts = known is null ? template.Parts.Add(part) : template.Parts.Replace(known, part),
            }
        );
        var summary =
            $"{(known is null ? "Give" : "Change")} {template.Name} {(known is null ? "the part" : "its part")} "
            + $"{Name}{(HowMany > 1 ? $" ({HowMany})" : "")}";
        if (!WithInstances)
            return EditOutcome.Changed(summary, change);
        var next = model.Apply([change]);
        var added = AddParts.To(next, [.. next.Index.FamilyOf(TemplateId).SelectMany(t => next.Index.InstancesOf(t.Id))]);
        return added.IsRefused ? added : EditOutcome.Changed($"{summary}; {added.Summary}", [change, .. added.Changes]);
    }

    /// <summary>How a part would end up inside itself; null when it would not.</summary>
    private static string? Cycle(PlantModel model, Template whole, Template part)
    {
        var wholes = model.Index.FamilyOf(whole.Id).Select(t => t.Id).ToHashSet();
        var (waiting, seen) = (new Stack<long>([part.Id]), new HashSet<long>());
        while (waiting.TryPop(out var id))
        {
            if (wholes.Contains(id))
                return id == part.Id && id == whole.Id
                    ? $"A {whole.Name} cannot be a part of itself."
                    : $"A {part.Name} is or holds a {model.Templates[id].Name}, so it cannot be a part of a {whole.Name}.";
            if (!seen.Add(id))
                continue;
            foreach (var inner in model.Index.PartsOf(id))
                waiting.Push(inner.TemplateId);
        }
        return null;
    }

    private string? Clash(PlantModel model)
    {
        var own = new TemplatePart(0, Code, Name, 0, Level, Math.Clamp(HowMany, 1, TemplatePart.Most))
            .Members.Select(m => m.Code)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        return
            model
                .Index.AncestryOf(TemplateId)
                .Concat(model.Index.FamilyOf(TemplateId))
                .SelectMany(t => t.Parts)
                .Where(p => p.Id != Id)
                .SelectMany(p => p.Members)
                .FirstOrDefault(m => own.Contains(m.Code))
                is { Code: { } taken }
            ? $"Another part has the code {taken}."
            : null;
    }
}
