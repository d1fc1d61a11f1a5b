using System.Collections.Immutable;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Planning;

/// <summary>Compiles a model into a plan and says what is odd about it.</summary>
public static class Planner
{
    /// <summary>A measured property has no tag.</summary>
    public const string Unbound = "FR101";

    /// <summary>A tag feeds nothing.</summary>
    public const string UnusedTag = "FR102";

    /// <summary>A number has no range to be shown on.</summary>
    public const string NoRange = "FR103";

    /// <summary>A part of its template is missing.</summary>
    public const string MissingPart = "FR104";

    /// <summary>The type of the tag cannot reach the ends of the signal.</summary>
    public const string SignalOutOfReach = "FR105";

    /// <summary>A command whose scale cannot be turned round.</summary>
    public const string NoInverse = "FR106";

    /// <summary>A conversion between units that should not be taken for each other.</summary>
    public const string UnitCaution = "FR107";

    /// <summary>A binding whose tag is not heard because it is being simulated.</summary>
    public const string Simulated = "FR108";

    /// <summary>A property that is called, coded or described differently than in other templates.</summary>
    public const string NameApart = "FR109";

    /// <summary>A calculated property has no formula.</summary>
    public const string NoFormula = "FR110";

    /// <summary>A formula that does not hold where it stands.</summary>
    public const string BrokenFormula = "FR111";

    /// <summary>A formula that would be worked out of itself.</summary>
    public const string CircularFormula = "FR112";

    /// <summary>A formula takes something that has no value where it stands.</summary>
    public const string NeverWorkedOut = "FR113";

    /// <summary>A limit does not hold where it stands.</summary>
    public const string BrokenLimit = "FR120";

    /// <summary>A limit takes something that has no value where it stands.</summary>
    public const string NeverWatched = "FR121";

    /// <summary>The place of a value that no tag gives.</summary>
    private static readonly PlanTag OwnPlace = new(PlanTag.NoTag, 0, 0, TimeSpan.MaxValue);

    private static readonly TimeSpan SimulationStale = TimeSpan.FromSeconds(10);

    /// <summary>The plan of a model, and what is to be said of the model.</summary>
    public static PlanResult Compile(PlantModel model)
    {
        var findings = new List<Finding>();
        var tagList = model
            .Tags.Values.OrderBy(t => t.Id)
            .SelectMany(t =>
                Enumerable
                    .Range(0, t.Elements)
                    .Select(e => new PlanTag(t.Id, t.ControllerId, e, model.Controllers[t.ControllerId].StaleAfter(t), t))
            )
            .Concat(model.Index.Simulations.Select(s => new PlanTag(s.Simulation!.TagId, 0, 0, SimulationStale)));
        var tags = ImmutableArray.CreateBuilder<PlanTag>();
        tags.AddRange(tagList);
        var tagIndex = new Dictionary<long, int>(tags.Count);
        for (var i = 0; i < tags.Count; i++)
            tagIndex.TryAdd(tags[i].TagId, i);
        var calculated = new List<(Equipment Instance, ResolvedProperty Property, int Point)>();
        var following = new List<(Equipment Instance, ResolvedProperty Property, int Point, int Place)>();
        var watching = new List<(Equipment Instance, PreparedProperty Property, int Point)>();
        var fixedValues = ImmutableArray.CreateBuilder<(int, double)>();

        var points = ImmutableArray.CreateBuilder<PlanPoint>(model.Bindings.Count);
        var setups = ImmutableArray.CreateBuilder<PointSetup>(model.Bindings.Count);
        var prepared = new PreparedTemplates(model);
        foreach (var instance in model.Index.EquipmentInOrder)
        {
            if (instance.TemplateId is null)
                continue;
            findings.AddRange(InstanceFindings.Of(model, prepared, instance));
            var isBound = model.Index.IsBound(instance.Id);
            foreach (var property in prepared.Of(instance))
            {
                if (!property.Property.TakesTag)
                {
                    var (plain, hot) = property.RunSimulated();
                    var source = property.Property.Declaration.Kind switch
                    {
                        PropertyKind.Calculated => PointSource.Formula,
                        PropertyKind.Entered => PointSource.Entered,
                        _ => PointSource.Fixed,
                    };
                    if (source == PointSource.Fixed)
                    {
                        if (property.FixedValue is not { } value)
                            continue;
                        fixedValues.Add((tags.Count, value));
                    }
                    else if (source == PointSource.Formula)
                    {
                        if (property.Property.Facts.Formula is null)
                            continue;
                        calculated.Add((instance, property.Property, points.Count));
                    }
                    points.Add(
                        property.PointOf(instance.Id, model.Index.PathOf(instance.Id), tags.Count, plain) with
                        {
                            Source = source,
                            ValidSeconds = property.Property.Facts.ValidSeconds,
                        }
                    );
                    setups.Add(hot);
                    tags.Add(OwnPlace);
                    if (!property.Watched.IsEmpty)
                        watching.Add((instance, property, points.Count - 1));
                    continue;
                }
                if (!isBound || !model.Bindings.TryGetValue((instance.Id, property.Property.Id), out var binding))
                    continue;
                var tag = model.Tags[binding.TagId];
                var (chain, setup) = binding.Simulation is null ? property.Run(model, tag.Unit, binding.Slice) : property.RunSimulated();
                points.Add(
                    property.PointOf(
                        instance.Id,
                        model.Index.PathOf(instance.Id),
                        binding.Simulation is { } simulation
                            ? tagIndex[simulation.TagId]
                            : tagIndex[binding.TagId] + (binding.Slice?.Element ?? 0),
                        chain
                    )
                );
                setups.Add(setup);
                if (!property.Watched.IsEmpty)
                    watching.Add((instance, property, points.Count - 1));
                if (property.Property.Declaration.Kind == PropertyKind.Command && property.Property.Facts.Formula is not null)
                {
                    following.Add((instance, property.Property, points.Count - 1, tags.Count));
                    tags.Add(OwnPlace);
                }
            }
        }
        var shown = points.Count;
        var pointOf = new Dictionary<(long, long), int>(calculated.Count + following.Count + watching.Count == 0 ? 0 : points.Count);
        if (calculated.Count + following.Count + watching.Count > 0)
            for (var i = 0; i < points.Count; i++)
                pointOf[(points[i].EquipmentId, points[i].PropertyId)] = i;
        var formulas = new FormulaPlanner(model, p => pointOf.GetValueOrDefault(p, -1));
        foreach (var (instance, property, point) in watching)
            Watch(model, formulas, instance, property, point, points, setups, tags, findings);
        InstanceFindings.OfAdded(formulas, calculated, following, findings);
        findings.AddRange(InstanceFindings.OfOrder(formulas, i => (points[i].EquipmentId, points[i].Path)));
        findings.AddRange(
            model
                .Tags.Values.Where(t => !model.Index.IsUsed(t.Id))
                .OrderBy(t => t.Name, StringComparer.Ordinal)
                .Select(t => Unused(model, t))
        );
        foreach (var (template, property, words) in NamesApart.Of(model))
            findings.Add(new(NameApart, FindingSeverity.Hint, 0, $"{template.Name} {property.Name}", words));
        return new PlanResult(
            new Plan(
                points.ToImmutable(),
                setups.ToImmutable(),
                tags.ToImmutable(),
                formulas.Formulas,
                formulas.Sets,
                fixedValues.ToImmutable(),
                model.Calendar,
                shown,
                (equipment, reference) => Named(model, equipment, reference)
            ),
            new FindingList(InOrder(model, findings, calculated.Count + following.Count + watching.Count > 0))
        );
    }

    /// <summary>What is said of a tag that feeds nothing.</summary>
    internal static Finding Unused(PlantModel model, Controllers.Tag tag) =>
        new(UnusedTag, FindingSeverity.Hint, 0, $"{model.Controllers[tag.ControllerId].Name} {tag.Name}", "feeds nothing");

    // What is said of formulas is known last; the findings of one instance follow one another.
    private static IEnumerable<Finding> InOrder(PlantModel model, List<Finding> findings, bool isMixed)
    {
        if (!isMixed)
            return findings;
        int PlaceOf(long id) => model.Index.RangeOf(id)?.From ?? int.MaxValue;
        return findings.OrderBy(f => PlaceOf(f.EquipmentId));
    }

    /// <summary>Adds the points that watch for the limits of a property which are worked out by formulas.</summary>
    private static void Watch(
        PlantModel model,
        FormulaPlanner planner,
        Equipment instance,
        PreparedProperty property,
        int subject,
        ImmutableArray<PlanPoint>.Builder points,
        ImmutableArray<PointSetup>.Builder setups,
        ImmutableArray<PlanTag>.Builder tags,
        List<Finding> findings
    )
    {
        foreach (var watched in property.Watched)
        {
            if (InstanceFindings.OfWatched(planner, instance, property, watched, findings) is not { } program)
                continue;
            var chain = new Chain(null, null, UnitConversion.None, null);
            var limit = LimitFormulaRules.InUnitOf(watched, program, property.Unit);
            points.Add(
                new(
                    instance.Id,
                    watched.Id,
                    points[subject].Path,
                    tags.Count,
                    null,
                    null,
                    2,
                    null,
                    [limit],
                    PropertyType.Number,
                    chain,
                    PointSource.Formula
                )
                {
                    Watch = new(subject, property.Property.Id, watched),
                }
            );
            setups.Add(new PointSetup(chain, [limit]));
            tags.Add(OwnPlace);
            InstanceFindings.AddWatched(planner, instance, property, watched, program, points.Count - 1, findings);
        }
    }

    /// <summary>The property a reference of a formula means at an instance; null for none.</summary>
    private static (long EquipmentId, long PropertyId)? Named(PlantModel model, long equipment, string reference) =>
        model.Equipment.TryGetValue(equipment, out var instance)
        && Formula.Read(reference, model.Units, FormulaNames.Codes(model)).References.FirstOrDefault() is { Reference: { } named }
        && FormulaNames.Of(model, instance).Find(named) is { At: { } at } found
            ? (at.Id, found.Property.Id)
            : null;
}
