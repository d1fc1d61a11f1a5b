using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Edits;

/// <summary>Changes one field of the limits of several properties of a template, whether it declares them or refines them.</summary>
/// <param name="TemplateId">The template.</param>
/// <param name="Field">The field.</param>
/// <param name="Values">What the template says of it from now on.</param>
public sealed record ChangeLimits(long TemplateId, LimitField Field, ImmutableArray<ChangeLimits.Value> Values) : Edit
{
    /// <summary>What is said of one limit.</summary>
    /// <param name="PropertyId">The property.</param>
    /// <param name="Condition">Which of its limits.</param>
    /// <param name="Number">The number; null says nothing.</param>
    public readonly record struct Value(long PropertyId, LimitCondition Condition, double? Number);

    /// <summary>The field a problem with a limit is about.</summary>
    /// <param name="propertyId">The property.</param>
    /// <param name="condition">Which of its limits.</param>
    public static string FieldOf(long propertyId, LimitCondition condition) => $"{propertyId}-{condition}";

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        var (at, made, problems, changed) = (model, new List<ModelChange>(), new List<Problem>(), 0);
        foreach (var of in Values.GroupBy(v => v.PropertyId))
        {
            if (model.Index.PropertiesOf(TemplateId).FirstOrDefault(p => p.Id == of.Key) is not { } property)
                return Gone("A property");
            var limits = of.Aggregate(property.Own.Limits, With);
            if (limits.SequenceEqual(property.Own.Limits))
                continue;
            var outcome = ManyEdits.Exactly(TemplateId, property, property.Own with { Limits = limits }).On(at);
            problems.AddRange(outcome.Problems.Select(p => Placed(p, property)));
            at = at.Apply(outcome.Changes);
            made.AddRange(outcome.Changes);
            changed++;
        }
        return problems.Count > 0 ? EditOutcome.Refused(problems)
            : changed == 0 ? EditOutcome.Refused("", "All of these are so already.")
            : EditOutcome.Changed($"Change limits of {Count(changed, "property", "properties")} of {template.Name}", Several.Merged(made));
    }

    private ImmutableSortedDictionary<LimitCondition, LimitPatch> With(
        ImmutableSortedDictionary<LimitCondition, LimitPatch> limits,
        Value value
    )
    {
        var before = limits.GetValueOrDefault(value.Condition) ?? new LimitPatch();
        var after = Field switch
        {
            // A limit that gets a setpoint again is no longer taken away.
            LimitField.Setpoint => before with { Setpoint = value.Number, Off = value.Number is null ? before.Off : null },
            LimitField.Deadband => before with { Deadband = value.Number },
            LimitField.Priority => before with { Priority = (int?)value.Number },
            LimitField.OnDelay => before with { OnDelay = value.Number },
            _ => before with { OffDelay = value.Number },
        };
        return after == new LimitPatch() ? limits.Remove(value.Condition) : limits.SetItem(value.Condition, after);
    }

    /// <summary>A problem with the property named, at the limit it is about.</summary>
    private static Problem Placed(Problem problem, ResolvedProperty property)
    {
        // The longer name first: HighHigh begins with High.
        foreach (var condition in LimitConditions.All.OrderByDescending(c => c.ToString().Length))
            if (problem.Field.StartsWith(condition.ToString(), StringComparison.Ordinal))
                return new(FieldOf(property.Id, condition), $"{property.Name}: {problem.Message}");
        return new("", $"{property.Name}: {problem.Message}");
    }
}
