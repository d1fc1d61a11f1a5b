using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Planning;

/// <summary>What is to be said of instances: of each by itself, and of its formulas, which look at others.</summary>
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

    /// <summary>What is to be said of the formulas of all instances, and the nodes they look at.</summary>
    /// <param name="model">The model.</param>
    /// <param name="prepared">Its templates, prepared.</param>
    /// <param name="seen">Takes the nodes that are looked at, and those below which everything is.</param>
    public static List<Finding> OfFormulas(PlantModel model, PreparedTemplates prepared, FormulaSight seen)
    {
        var findings = new List<Finding>();
        var (numbers, points) = (new Dictionary<(long, long), int>(), new List<(long EquipmentId, string Path)>());
        var formulas = new FormulaPlanner(model, PointOf, seen);
        var calculated = new List<(Equipment Instance, ResolvedProperty Property, int Point)>();
        var following = new List<(Equipment Instance, ResolvedProperty Property, int Point, int Place)>();
        foreach (var instance in model.Index.EquipmentInOrder)
        {
            if (!prepared.HasFormulas(instance))
                continue;
            foreach (var property in prepared.Of(instance))
            {
                if (PointOf((instance.Id, property.Property.Id)) is not (>= 0 and var point))
                    continue;
                foreach (var watched in property.Watched)
                    if (OfWatched(formulas, instance, property, watched, findings) is { } program)
                        AddWatched(formulas, instance, property, watched, program, NewPoint(instance, watched.Code), findings);
                if (property.Property.Declaration.Kind == PropertyKind.Calculated)
                    calculated.Add((instance, property.Property, point));
                else if (property.Property.Declaration.Kind == PropertyKind.Command && property.Property.Facts.Formula is not null)
                    following.Add((instance, property.Property, point, 0));
            }
        }
        OfPlanned(formulas, calculated, following, i => points[i], findings);
        return findings;

        int NewPoint(Equipment instance, string code)
        {
            points.Add((instance.Id, $"{model.Index.PathOf(instance.Id)}/{code}"));
            return points.Count - 1;
        }

        int PointOf((long EquipmentId, long PropertyId) of)
        {
            if (numbers.TryGetValue(of, out var known))
                return known;
            return numbers[of] =
                model.Equipment.GetValueOrDefault(of.EquipmentId) is { } node && prepared.HasPoint(node, of.PropertyId)
                    ? NewPoint(node, model.Index.PropertiesOf(node.TemplateId!.Value).First(p => p.Id == of.PropertyId).Code)
                    : -1;
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

    /// <summary>Plans all formulas, with what does not hold among the findings.</summary>
    public static void OfPlanned(
        FormulaPlanner planner,
        IReadOnlyList<(Equipment Instance, ResolvedProperty Property, int Point)> calculated,
        IReadOnlyList<(Equipment Instance, ResolvedProperty Property, int Point, int Place)> following,
        Func<int, (long EquipmentId, string Path)> pointAt,
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
        foreach (var (point, way) in planner.Order(i => pointAt(i).Path))
        {
            var (equipment, path) = pointAt(point);
            findings.Add(new(Planner.CircularFormula, FindingSeverity.Error, equipment, path[(path.LastIndexOf('/') + 1)..], way));
        }
    }
}
