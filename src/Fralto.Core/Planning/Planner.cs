using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
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
        var watching = new List<(Equipment Instance, Prepared Property, int Point)>();
        var fixedValues = ImmutableArray.CreateBuilder<(int, double)>();

        var points = ImmutableArray.CreateBuilder<PlanPoint>(model.Bindings.Count);
        var setups = ImmutableArray.CreateBuilder<PointSetup>(model.Bindings.Count);
        var prepared = model.Templates.Keys.ToDictionary(
            id => id,
            id =>
                (
                    Properties: model.Index.PropertiesOf(id).Where(HasPoint).Select(p => new Prepared(model, p)).ToArray(),
                    HasParts: model.Index.PartsOf(id).Any()
                )
        );
        foreach (var instance in model.Index.EquipmentInOrder)
        {
            if (instance.TemplateId is not { } template)
                continue;
            var (properties, hasParts) = prepared[template];
            if (hasParts)
                foreach (var (_, name, _) in Instantiation.Missing(model, instance))
                    findings.Add(new(MissingPart, FindingSeverity.Warning, instance.Id, name, "is a part of its template and missing"));
            var isBound = model.Index.IsBound(instance.Id);
            foreach (var ofTemplate in properties)
            {
                // The template's properties are prepared once; only what an instance says itself is worked out for it.
                var property = instance.Patches.TryGetValue(ofTemplate.Property.Id, out var own) ? ofTemplate.With(model, own) : ofTemplate;
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
                        {
                            findings.Add(
                                new(
                                    NoFormula,
                                    FindingSeverity.Warning,
                                    instance.Id,
                                    property.Property.Name,
                                    "is calculated and has no formula"
                                )
                            );
                            continue;
                        }
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
                if (property.LacksRange)
                    findings.Add(
                        new(
                            NoRange,
                            FindingSeverity.Hint,
                            instance.Id,
                            property.Property.Name,
                            "has no range: it is shown as a bare number"
                        )
                    );
                if (!isBound || !model.Bindings.TryGetValue((instance.Id, property.Property.Id), out var binding))
                {
                    findings.Add(
                        new(
                            Unbound,
                            property.Property.Declaration.IsRequired ? FindingSeverity.Warning : FindingSeverity.Hint,
                            instance.Id,
                            property.Property.Name,
                            "has no tag"
                        )
                    );
                    continue;
                }
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
                if (binding.Simulation is not null)
                    findings.Add(
                        new(
                            Simulated,
                            FindingSeverity.Warning,
                            instance.Id,
                            property.Property.Name,
                            $"is simulated; {tag.Name} is not heard"
                        )
                    );
                foreach (var (code, words) in property.Objections(model, tag))
                    findings.Add(new(code, FindingSeverity.Warning, instance.Id, property.Property.Name, words));
            }
        }
        var shown = points.Count;
        var pointOf = new Dictionary<(long, long), int>(calculated.Count + following.Count + watching.Count == 0 ? 0 : points.Count);
        if (calculated.Count + following.Count + watching.Count > 0)
            for (var i = 0; i < points.Count; i++)
                pointOf[(points[i].EquipmentId, points[i].PropertyId)] = i;
        var formulas = new FormulaPlanner(model, pointOf);
        foreach (var (instance, property, point) in watching)
            Watch(model, formulas, instance, property, point, points, setups, tags, findings);
        Formulas(formulas, points, calculated, following, findings);
        foreach (var tag in model.Tags.Values.Where(t => !model.Index.IsUsed(t.Id)).OrderBy(t => t.Name, StringComparer.Ordinal))
            findings.Add(
                new(UnusedTag, FindingSeverity.Hint, 0, $"{model.Controllers[tag.ControllerId].Name} {tag.Name}", "feeds nothing")
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

    // What is said of formulas is known last; the findings of one instance follow one another.
    private static IEnumerable<Finding> InOrder(PlantModel model, List<Finding> findings, bool isMixed)
    {
        if (!isMixed)
            return findings;
        int PlaceOf(long id) => model.Index.RangeOf(id)?.From ?? int.MaxValue;
        return findings.OrderBy(f => PlaceOf(f.EquipmentId));
    }

    private static bool HasPoint(ResolvedProperty property) =>
        property.Declaration.Kind != PropertyKind.Fixed || property.Declaration.Type is not (PropertyType.Text or PropertyType.Time);

    /// <summary>Adds the points that watch for the limits of a property which are worked out by formulas.</summary>
    private static void Watch(
        PlantModel model,
        FormulaPlanner planner,
        Equipment instance,
        Prepared property,
        int subject,
        ImmutableArray<PlanPoint>.Builder points,
        ImmutableArray<PointSetup>.Builder setups,
        ImmutableArray<PlanTag>.Builder tags,
        List<Finding> findings
    )
    {
        foreach (var watched in property.Watched)
        {
            var name = $"{property.Property.Name} {watched.Code}";
            var (program, broken) = planner.Watch(instance, watched.Text);
            broken ??= LimitFormulaRules.Misfit(watched, program!, property.Unit);
            if (broken is not null)
            {
                findings.Add(new(BrokenLimit, FindingSeverity.Error, instance.Id, name, $"does not hold: {broken}"));
                continue;
            }
            var chain = new Chain(null, null, UnitConversion.None, null);
            var limit = LimitFormulaRules.InUnitOf(watched, program!, property.Unit);
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
            foreach (var missing in planner.AddWatch(instance, program!, points.Count - 1))
                findings.Add(
                    new(
                        NeverWatched,
                        FindingSeverity.Warning,
                        instance.Id,
                        name,
                        $"takes {missing}, which has no value here: it is not bound, or not there"
                    )
                );
        }
    }

    /// <summary>The property a reference of a formula means at an instance; null for none.</summary>
    private static (long EquipmentId, long PropertyId)? Named(PlantModel model, long equipment, string reference) =>
        model.Equipment.TryGetValue(equipment, out var instance)
        && Formula.Read(reference, model.Units, FormulaNames.Codes(model)).References.FirstOrDefault() is { Reference: { } named }
        && FormulaNames.Of(model, instance).Find(named) is { At: { } at } found
            ? (at.Id, found.Property.Id)
            : null;

    private static void Formulas(
        FormulaPlanner planner,
        ImmutableArray<PlanPoint>.Builder points,
        List<(Equipment Instance, ResolvedProperty Property, int Point)> calculated,
        List<(Equipment Instance, ResolvedProperty Property, int Point, int Place)> following,
        List<Finding> findings
    )
    {
        foreach (var (instance, property, point) in calculated)
            if (planner.Add(instance, property, point) is { } broken)
                findings.Add(new(BrokenFormula, FindingSeverity.Error, instance.Id, property.Name, $"cannot be worked out: {broken}"));
        foreach (var (instance, property, point, place) in following)
            if (planner.Add(instance, property, point, place) is { } broken)
                findings.Add(new(BrokenFormula, FindingSeverity.Error, instance.Id, property.Name, $"cannot be followed: {broken}"));
        foreach (var (instance, property, reference) in planner.Missing)
            findings.Add(
                new(
                    NeverWorkedOut,
                    FindingSeverity.Hint,
                    instance.Id,
                    property.Name,
                    $"takes {reference}, which has no value here: it is not bound, or not there"
                )
            );
        foreach (var (point, way) in planner.Order(i => points[i].Path))
            findings.Add(
                new(
                    CircularFormula,
                    FindingSeverity.Error,
                    points[point].EquipmentId,
                    points[point].Path[(points[point].Path.LastIndexOf('/') + 1)..],
                    way
                )
            );
    }

    /// <summary>What every point of one property has, worked out once.</summary>
    private sealed class Prepared(PlantModel model, ResolvedProperty property)
    {
        private readonly StateList? _states = property.Facts.StateListId is { } set ? model.StateLists.GetValueOrDefault(set) : null;
        private readonly Span? _range = model.RangeOf(property.Facts);
        private readonly Unit? _unit = model.Units.Find(property.Facts.Unit);
        private readonly Scale? _scale = model.ScaleOf(property.Facts);
        private readonly ImmutableArray<Limit> _limits = property.Limits;
        private readonly RecordingRule? _recording =
            property.Declaration.Kind == PropertyKind.Fixed
                ? null
                : RecordingRule.Of(
                    property.Facts.Recording,
                    model.RangeOf(property.Facts),
                    property.Declaration.Type.IsNumeric(),
                    property.Declaration.Type != PropertyType.Number
                );
        private readonly Dictionary<(string? Unit, Slice? Bits), (Chain, PointSetup)> _chains = [];

        public ResolvedProperty Property => property;

        public Unit? Unit => _unit;

        /// <summary>Limits that are worked out by formulas.</summary>
        public ImmutableArray<LimitFormula> Watched { get; } = [.. LimitFormula.Of(property)];

        /// <summary>What the model says the value is; null when it says nothing.</summary>
        public double? FixedValue =>
            property.Facts.Value is not { } text
                ? null
                : property.Declaration.Type switch
                {
                    PropertyType.Boolean => text == "true" ? 1 : 0,
                    PropertyType.State => _states?.StateOf(text)?.Value,
                    _ => FieldText.Number(text, out _),
                };

        public bool LacksRange => property.Declaration.Type.IsNumeric() && _range is null;

        private int Decimals => property.Declaration.Type == PropertyType.Number ? Resolution.DecimalsOf(_range) : 0;

        public Prepared With(PlantModel model, PropertyPatch own) =>
            new(model, property with { Facts = property.Facts.With(own), Own = own });

        /// <summary>The chain from a tag and its hot part; tags of one unit and slice share them.</summary>
        public (Chain Chain, PointSetup Setup) Run(PlantModel model, string? tagUnit, Slice? slice)
        {
            var key = (tagUnit, slice is { FirstBit: not null } bits ? bits with { Element = null } : (Slice?)null);
            if (_chains.TryGetValue(key, out var known))
                return known;
            var chain = model.ChainOf(property.Facts, tagUnit, slice);
            return _chains[key] = (chain, new PointSetup(chain, _limits));
        }

        /// <summary>The chain from a simulation, which speaks the property's own unit.</summary>
        public (Chain Chain, PointSetup Setup) RunSimulated()
        {
            var chain = new Chain(null, null, UnitConversion.None, _range);
            return (chain, new PointSetup(chain, _limits));
        }

        public PlanPoint PointOf(long equipmentId, string path, int tag, Chain chain) =>
            new(
                equipmentId,
                property.Id,
                path + "/" + property.Code,
                tag,
                _unit,
                _range,
                Decimals,
                _states,
                _limits,
                property.Declaration.Type,
                chain
            )
            {
                Recording = _recording,
            };

        /// <summary>What the model says that does not fit together, although it can be run.</summary>
        public IEnumerable<(string Code, string Words)> Objections(PlantModel model, Tag tag)
        {
            if (
                _scale is not null
                && !tag.Type.IsFloat()
                && (!tag.Type.RangeOf().Contains(_scale.Raw.Low) || !tag.Type.RangeOf().Contains(_scale.Raw.High))
            )
                yield return (
                    SignalOutOfReach,
                    $"has the signal {_scale.Signal.Words}, but its tag {tag.Name} is {tag.Type.Word()} and holds "
                        + $"{tag.Type.RangeOf().Low:0} … {tag.Type.RangeOf().High:0}"
                );
            if (property.Declaration.Kind == PropertyKind.Command && _scale?.WhyNoInverse is { } why)
                yield return (NoInverse, $"is a command, but its scale cannot be turned round: {why}");
            if (
                _unit is { } unit
                && model.Units.Find(_scale is null ? tag.Unit : _scale.YieldedUnit) is { } from
                && UnitConversion.Caution(from, unit) is { } caution
            )
                yield return (UnitCaution, $"is converted from {from.Symbol} to {unit.Symbol}: {caution}");
        }
    }
}
