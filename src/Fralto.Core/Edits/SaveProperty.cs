using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

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
        ModelChange[] changes =
            known is not null && known.Code != Code ? Renaming(model, known, template, after) : [new ModelChange(template, after)];
        // What is as it was is not refused for what others have taken from under it: a formula that names what is gone is a finding.
        if (known is not null && after.Equals(template))
            return EditOutcome.Changed($"Change {Name} on {template.Name}", changes);
        var next = model.Apply(changes);
        if (FactRules.BelowProblems(next, TemplateId, property.Id).ToArray() is { Length: > 0 } below)
            return EditOutcome.Refused(below);
        var resolved = next.Index.PropertiesOf(TemplateId).First(p => p.Id == property.Id);
        if (LimitFormulaRules.Problems(next, TemplateId, resolved).ToArray() is { Length: > 0 } limits)
            return EditOutcome.Refused(limits);
        return FormulaRules.Problem(next, TemplateId, resolved) is { } wrong
            ? EditOutcome.Refused(nameof(PropertyPatch.Formula), wrong.Words)
            : EditOutcome.Changed(
                $"{(known is null ? "Declare" : "Change")} {Name} on {template.Name}"
                    + (changes.Length > 1 ? $", and {changes.Length - 1} more with formulas that name it" : ""),
                changes
            );
    }

    /// <summary>Formulas follow a property that gets another code.</summary>
    private ModelChange[] Renaming(PlantModel model, PropertyDeclaration known, Template template, Template after)
    {
        var changed = new Dictionary<long, ModelChange> { [template.Id] = new(template, after) };
        foreach (var ((layer, property), text) in FormulaUses.Renamed(model, known.Id, Code))
        {
            // What this very edit says of a formula is what is meant.
            if (layer == template.Id && property == known.Id)
                continue;
            var before = changed.TryGetValue(layer, out var change)
                ? change.After!
                : (object?)model.Templates.GetValueOrDefault(layer) ?? model.Equipment[layer];
            changed[layer] = new(
                change?.Before ?? before,
                before is Template t
                    ? t with
                    {
                        Patches = t.Patches.SetItem(property, t.Patches[property] with { Formula = text }),
                    }
                    : (Equipment)before with
                    {
                        Patches = ((Equipment)before).Patches.SetItem(
                            property,
                            ((Equipment)before).Patches[property] with
                            {
                                Formula = text,
                            }
                        ),
                    }
            );
        }
        foreach (var ((layer, property), patch) in FormulaUses.RenamedLimits(model, known.Id, Code))
        {
            if (layer == template.Id && property == known.Id)
                continue;
            var before = changed.TryGetValue(layer, out var change)
                ? change.After!
                : (object?)model.Templates.GetValueOrDefault(layer) ?? model.Equipment[layer];
            // A formula of the same property has been carried along already.
            object With(object it) =>
                it is Template t
                    ? t with
                    {
                        Patches = t.Patches.SetItem(property, patch with { Formula = t.Patches[property].Formula }),
                    }
                    : (Equipment)it with
                    {
                        Patches = ((Equipment)it).Patches.SetItem(
                            property,
                            patch with
                            {
                                Formula = ((Equipment)it).Patches[property].Formula,
                            }
                        ),
                    };
            changed[layer] = new(change?.Before ?? before, With(before));
        }
        return [.. changed.Values];
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
