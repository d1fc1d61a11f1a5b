using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.Core.Edits;

/// <summary>Says how codes and names are written in this plant.</summary>
/// <param name="Patterns">All patterns, each of a level or a template; ids are given.</param>
public sealed record SaveNamingConventions(ImmutableArray<(EquipmentLevel? Level, long? TemplateId, bool IsOfNames, string Text)> Patterns)
    : Edit
{
    /// <summary>The most patterns there can be.</summary>
    public const int Most = 200;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (Patterns.Length > Most)
            return EditOutcome.Refused("", $"There are {Patterns.Length} patterns; {Most} is the most.");
        var wanted = Patterns.Distinct().ToArray();
        var problems = wanted
            .SelectMany(p => EntityRules.Problems(new NamingConvention(0, p.Level, p.TemplateId, p.IsOfNames, p.Text)))
            .Concat(
                wanted
                    .Where(p => p.TemplateId is { } id && !model.Templates.ContainsKey(id))
                    .Select(p => new Problem("", $"The template of {p.Text} is not there any more."))
            )
            .ToArray();
        if (problems.Length > 0)
            return EditOutcome.Refused(problems);
        var held = model.NamingConventions.Values.Select(p => (p.Level, p.TemplateId, p.IsOfNames, p.Text)).ToHashSet();
        return EditOutcome.Changed(
            "Say how codes and names are written",
            [
                .. model
                    .NamingConventions.Values.Where(p => !wanted.Contains((p.Level, p.TemplateId, p.IsOfNames, p.Text)))
                    .OrderBy(p => p.Id)
                    .Select(Removed),
                .. wanted
                    .Where(p => !held.Contains(p))
                    .Select(
                        (p, i) => new ModelChange(null, new NamingConvention(model.NextId + i, p.Level, p.TemplateId, p.IsOfNames, p.Text))
                    ),
            ]
        );
    }
}
