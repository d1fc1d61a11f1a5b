using System.Collections.Immutable;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Keeps a naming rule with a template, in place of any it had for the property and text; an empty rule takes that one
/// out.</summary>
/// <param name="TemplateId">The template.</param>
/// <param name="PropertyId">A property it has.</param>
/// <param name="Face">The text of the tags it is about.</param>
/// <param name="Rule">The rule as people write it, see <see cref="NamePattern"/>.</param>
public sealed record KeepRule(long TemplateId, long PropertyId, TagFace Face, string Rule) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        if (model.Index.PropertiesOf(TemplateId).FirstOrDefault(p => p.Id == PropertyId) is not { TakesTag: true } property)
            return Gone("The property");
        var others = template.Rules.RemoveAll(r => r.PropertyId == PropertyId && r.Face == Face);
        if (Rule.Trim().Length == 0)
            return others.Length == template.Rules.Length
                ? EditOutcome.Refused("", $"No rule is kept for {property.Name}.")
                : EditOutcome.Changed(
                    $"Take out the rule of {template.Name} {property.Name}",
                    new ModelChange(template, template with { Rules = others })
                );
        if (NamePattern.Parse(Rule.Trim(), out var problem) is not { } pattern)
            return EditOutcome.Refused(nameof(Rule), problem!);
        if (!pattern.Follows)
            return EditOutcome.Refused(
                nameof(Rule),
                "The rule names the same tag for every instance; put a part that follows it, such as {number} or {code}."
            );
        var rules = others.Add(new NamingRule(PropertyId, Face, pattern)).OrderBy(r => r.PropertyId).ThenBy(r => r.Face).ToImmutableArray();
        return rules.SequenceEqual(template.Rules)
            ? EditOutcome.Refused(nameof(Rule), "This rule is kept already.")
            : EditOutcome.Changed(
                $"Keep the rule {pattern} for {template.Name} {property.Name}",
                new ModelChange(template, template with { Rules = rules })
            );
    }
}
