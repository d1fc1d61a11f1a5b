using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Planning;

/// <summary>What is to be said of instances: of each by itself, and of its formulas.</summary>
internal static class InstanceFindings
{
    /// <summary>What is to be said of an instance by itself, in the order of its properties.</summary>
    /// <param name="model">The model.</param>
    /// <param name="prepared">Its templates, prepared.</param>
    /// <param name="instance">An instance of a template.</param>
    public static IEnumerable<Finding> Of(PlantModel model, PreparedTemplates prepared, Equipment instance)
    {
        if (prepared.HasParts(instance.TemplateId!.Value))
            foreach (var (_, name, _) in Instantiation.Missing(model, instance))
                yield return new(Planner.MissingPart, FindingSeverity.Warning, instance.Id, name, "is a part of its template and missing");
        var isBound = model.Index.IsBound(instance.Id);
        foreach (var property in prepared.Of(instance))
        {
            var name = property.Property.Name;
            if (!property.Property.TakesTag)
            {
                if (property.Property.Declaration.Kind == PropertyKind.Calculated && property.Property.Facts.Formula is null)
                    yield return new(Planner.NoFormula, FindingSeverity.Warning, instance.Id, name, "is calculated and has no formula");
                continue;
            }
            if (property.LacksRange)
                yield return new(Planner.NoRange, FindingSeverity.Hint, instance.Id, name, "has no range: it is shown as a bare number");
            if (!isBound || !model.Bindings.TryGetValue((instance.Id, property.Property.Id), out var binding))
            {
                yield return new(
                    Planner.Unbound,
                    property.Property.Declaration.IsRequired ? FindingSeverity.Warning : FindingSeverity.Hint,
                    instance.Id,
                    name,
                    "has no tag"
                );
                continue;
            }
            var tag = model.Tags[binding.TagId];
            if (binding.Simulation is not null)
                yield return new(Planner.Simulated, FindingSeverity.Warning, instance.Id, name, $"is simulated; {tag.Name} is not heard");
            foreach (var (code, words) in property.Objections(model, tag))
                yield return new(code, FindingSeverity.Warning, instance.Id, name, words);
        }
    }

    /// <summary>The program of a limit that is worked out by a formula; null, with the reason among the findings, where it does not
    /// hold.</summary>
    public static FormulaProgram? OfWatched(
        FormulaPlanner planner,
        Equipment instance,
        PreparedProperty property,
        LimitFormula watched,
        List<Finding> findings
    )
    {
        var (program, broken) = planner.Watch(instance, watched.Text);
        broken ??= LimitFormulaRules.Misfit(watched, program!, property.Unit);
        if (broken is null)
            return program;
        findings.Add(
            new(
                Planner.BrokenLimit,
                FindingSeverity.Error,
                instance.Id,
                $"{property.Property.Name} {watched.Code}",
                $"does not hold: {broken}"
            )
        );
        return null;
    }

    /// <summary>Adds the formula of a limit, with what it takes and nothing gives a value to among the findings.</summary>
    public static void AddWatched(
        FormulaPlanner planner,
        Equipment instance,
        PreparedProperty property,
        LimitFormula watched,
        FormulaProgram program,
        int point,
        List<Finding> findings
    )
    {
        foreach (var missing in planner.AddWatch(instance, program, point))
            findings.Add(
                new(
                    Planner.NeverWatched,
                    FindingSeverity.Warning,
                    instance.Id,
                    $"{property.Property.Name} {watched.Code}",
                    $"takes {missing}, which has no value here: it is not bound, or not there"
                )
            );
    }

    /// <summary>Adds formulas of properties, with what does not hold, and what nothing gives a value to, among the findings.</summary>
    public static void OfAdded(
        FormulaPlanner planner,
        IReadOnlyList<(Equipment Instance, ResolvedProperty Property, int Point)> calculated,
        IReadOnlyList<(Equipment Instance, ResolvedProperty Property, int Point, int Place)> following,
        List<Finding> findings
    )
    {
        foreach (var (instance, property, point) in calculated)
            if (planner.Add(instance, property, point) is { } broken)
                findings.Add(
                    new(Planner.BrokenFormula, FindingSeverity.Error, instance.Id, property.Name, $"cannot be worked out: {broken}")
                );
        foreach (var (instance, property, point, place) in following)
            if (planner.Add(instance, property, point, place) is { } broken)
                findings.Add(
                    new(Planner.BrokenFormula, FindingSeverity.Error, instance.Id, property.Name, $"cannot be followed: {broken}")
                );
        foreach (var (instance, property, reference) in planner.Missing)
            findings.Add(
                new(
                    Planner.NeverWorkedOut,
                    FindingSeverity.Hint,
                    instance.Id,
                    property.Name,
                    $"takes {reference}, which has no value here: it is not bound, or not there"
                )
            );
        planner.Missing.Clear();
    }

    /// <summary>Puts all formulas in order.</summary>
    /// <returns>What would be worked out of itself.</returns>
    public static Finding[] OfOrder(FormulaPlanner planner, Func<int, (long EquipmentId, string Path)> pointAt) =>
        [
            .. planner
                .Order(i => pointAt(i).Path)
                .Select(circle =>
                {
                    var (equipment, path) = pointAt(circle.Point);
                    return new Finding(
                        Planner.CircularFormula,
                        FindingSeverity.Error,
                        equipment,
                        path[(path.LastIndexOf('/') + 1)..],
                        circle.Way
                    );
                }),
        ];
}
