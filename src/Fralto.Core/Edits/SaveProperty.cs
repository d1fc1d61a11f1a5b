using Fralto.Core.Basics;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Declares a property on a template, or changes one the template declares itself.</summary>
/// <param name="TemplateId">The declaring template.</param>
/// <param name="Id">The property to change; null declares a new one.</param>
/// <param name="Code">Code, unique over the family.</param>
/// <param name="Name">Name.</param>
/// <param name="Kind">Kind.</param>
/// <param name="Type">Type.</param>
/// <param name="Facts">What the template says about it; replaces what it said before.</param>
/// <param name="IsRequired">Whether every instance needs a tag for it.</param>
public sealed record SaveProperty(
    long TemplateId,
    long? Id,
    string Code,
    string Name,
    PropertyKind Kind,
    PropertyType Type,
    PropertyPatch Facts,
    bool IsRequired = true
) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        var known = template.Properties.FirstOrDefault(p => p.Id == Id);
        if (Id is not null && known is null)
            return Gone("The property");
        var property = new PropertyDeclaration(Id ?? model.NextId, Code, Name, Kind, Type, IsRequired);
        var problems = new List<Problem>();
        Check(problems, nameof(Name), Naming.NameProblem(Name));
        Check(problems, nameof(Code), Naming.CodeProblem(Code) ?? Clash(model));
        problems.AddRange(FactRules.Problems(model, property, Facts));
        if (known is not null)
            problems.AddRange(BindingProblems(model, property));
        if (problems.Count > 0)
            return EditOutcome.Refused(problems);

        var after = template with
        {
            Properties = known is null ? template.Properties.Add(property) : template.Properties.Replace(known, property),
            Patches = Facts.IsEmpty ? template.Patches.Remove(property.Id) : template.Patches.SetItem(property.Id, Facts),
        };
        var change = new ModelChange(template, after);
        return FactRules.BelowProblems(model.Apply([change]), TemplateId, property.Id).ToArray() is { Length: > 0 } below
            ? EditOutcome.Refused(below)
            : EditOutcome.Changed($"{(known is null ? "Declare" : "Change")} {Name} on {template.Name}", change);
    }

    private string? Clash(PlantModel model)
    {
        var index = model.Index;
        var taken = index
            .AncestryOf(TemplateId)
            .Concat(index.FamilyOf(TemplateId))
            .FirstOrDefault(t => t.Properties.Any(p => p.Id != Id && string.Equals(p.Code, Code, StringComparison.OrdinalIgnoreCase)));
        return taken is null ? null : $"{taken.Name} already has a property with the code {Code}.";
    }

    private IEnumerable<Problem> BindingProblems(PlantModel model, PropertyDeclaration property)
    {
        var resolved = new ResolvedProperty(property, TemplateId, Facts, Facts);
        return model
            .Bindings.Values.Where(b => b.PropertyId == property.Id)
            .Select(b => BindingRules.Misfit(model, resolved, model.Tags[b.TagId], b.Slice))
            .OfType<string>()
            .Take(3)
            .Select(misfit => new Problem(nameof(Type), $"{misfit} Unbind it first."))
            .Concat(
                property.Kind != PropertyKind.Command
                    ? []
                    : model
                        .Bindings.Values.Where(b => b.PropertyId == property.Id)
                        .Where(b =>
                            model
                                .Index.BindingsOf(b.TagId)
                                .Any(o =>
                                    (o.EquipmentId, o.PropertyId) != (b.EquipmentId, b.PropertyId)
                                    && Scaling.Slice.Overlap(o.Slice, b.Slice)
                                )
                        )
                        .Take(3)
                        .Select(b => new Problem(
                            nameof(Kind),
                            $"{model.Tags[b.TagId].Name}{b.Slice} feeds other properties too; a tag that takes commands feeds one "
                                + $"only. Unbind it first."
                        ))
            );
    }
}
