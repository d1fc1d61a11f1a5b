using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Plant;

/// <summary>The whole model at one moment. Immutable: an edit yields changes, and changes yield the next model.</summary>
public sealed record PlantModel
{
    /// <summary>A model of nothing.</summary>
    public static readonly PlantModel Empty = new();

    private ModelIndex? _index;
    private UnitSet? _units;

    /// <summary>A model of nothing, to be filled.</summary>
    public PlantModel() { }

    // A changed copy must not keep the look-ups of the model it was copied from.
    private PlantModel(PlantModel other)
    {
        NextId = other.NextId;
        StateLists = other.StateLists;
        OwnUnits = other.OwnUnits;
        Scales = other.Scales;
        Templates = other.Templates;
        Equipment = other.Equipment;
        Controllers = other.Controllers;
        Tags = other.Tags;
        Layouts = other.Layouts;
        Devices = other.Devices;
        Bindings = other.Bindings;
        Calendars = other.Calendars;
        AlarmSetups = other.AlarmSetups;
        NamingConventions = other.NamingConventions;
    }

    /// <summary>The id the next new entity gets. Never goes back, so an id names one thing for ever.</summary>
    public long NextId { get; init; } = 1;

    /// <summary>How codes are written in this plant, by level and template.</summary>
    public ImmutableDictionary<long, NamingConvention> NamingConventions { get; init; } = ImmutableDictionary<long, NamingConvention>.Empty;

    /// <summary>What alarms share; one at most.</summary>
    public ImmutableDictionary<long, AlarmSetup> AlarmSetups { get; init; } = ImmutableDictionary<long, AlarmSetup>.Empty;

    /// <summary>What alarms share: what was said, or what a plant has that has said nothing.</summary>
    public AlarmSetup AlarmSetup => AlarmSetups.Values.FirstOrDefault() ?? NoAlarmSetup;

    private static readonly AlarmSetup NoAlarmSetup = new(0, ShelvingRule.Standard);

    /// <summary>The rules by which alarms are shelved; the first one is that of limits which name none.</summary>
    public ImmutableArray<ShelvingRule> ShelvingRules => AlarmSetup.Rules;

    /// <summary>What alarms set off.</summary>
    public ImmutableArray<AlarmResponse> Responses => AlarmSetup.Responses;

    /// <summary>The rule a limit is shelved by.</summary>
    /// <param name="says">What is said of the limit; null for nothing.</param>
    public ShelvingRule ShelvingRuleOf(LimitPatch? says) =>
        says?.Shelving is { } name && ShelvingRules.FirstOrDefault(r => r.Name.Equals(name, StringComparison.OrdinalIgnoreCase)) is { } rule
            ? rule
            : ShelvingRules[0];

    /// <summary>Names for the values of integers.</summary>
    public ImmutableDictionary<long, StateList> StateLists { get; init; } = ImmutableDictionary<long, StateList>.Empty;

    /// <summary>The customer's own units.</summary>
    public ImmutableDictionary<long, OwnUnit> OwnUnits { get; init; } = ImmutableDictionary<long, OwnUnit>.Empty;

    /// <summary>The library of named scales.</summary>
    public ImmutableDictionary<long, LibraryScale> Scales { get; init; } = ImmutableDictionary<long, LibraryScale>.Empty;

    /// <summary>What kinds of equipment have.</summary>
    public ImmutableDictionary<long, Template> Templates { get; init; } = ImmutableDictionary<long, Template>.Empty;

    /// <summary>The nodes of the plant.</summary>
    public ImmutableDictionary<long, Equipment> Equipment { get; init; } = ImmutableDictionary<long, Equipment>.Empty;

    /// <summary>Devices and brokers.</summary>
    public ImmutableDictionary<long, Controller> Controllers { get; init; } = ImmutableDictionary<long, Controller>.Empty;

    /// <summary>Values in controllers.</summary>
    public ImmutableDictionary<long, Tag> Tags { get; init; } = ImmutableDictionary<long, Tag>.Empty;

    /// <summary>What kinds of devices expose.</summary>
    public ImmutableDictionary<long, DeviceLayout> Layouts { get; init; } = ImmutableDictionary<long, DeviceLayout>.Empty;

    /// <summary>Devices whose tags are generated.</summary>
    public ImmutableDictionary<long, Device> Devices { get; init; } = ImmutableDictionary<long, Device>.Empty;

    /// <summary>Which tag feeds which property of which instance.</summary>
    public ImmutableDictionary<(long EquipmentId, long PropertyId), PropertyBinding> Bindings { get; init; } =
        ImmutableDictionary<(long EquipmentId, long PropertyId), PropertyBinding>.Empty;

    /// <summary>The plant's calendar, under its one id; empty while nobody has said one.</summary>
    public ImmutableDictionary<long, SiteCalendar> Calendars { get; init; } = ImmutableDictionary<long, SiteCalendar>.Empty;

    /// <summary>Hours, days and shifts of the plant; UTC while nobody has said which.</summary>
    public PlantCalendar Calendar => Calendars.Values.FirstOrDefault()?.Calendar ?? PlantCalendar.Utc;

    /// <summary>Look-ups over this model, made when first asked for.</summary>
    public ModelIndex Index => _index ??= new ModelIndex(this);

    /// <summary>The shipped units and the customer's own.</summary>
    public UnitSet Units =>
        OwnUnits.IsEmpty
            ? UnitCatalogue.Standard
            : _units ??= new([
                .. UnitCatalogue.Standard.All,
                .. OwnUnits.Values.OrderBy(u => u.Symbol, StringComparer.Ordinal).Select(u => u.Resolve()).OfType<Unit>(),
            ]);

    /// <summary>The scale a property has: said with it, or taken from the library; null for none.</summary>
    public Scale? ScaleOf(PropertyPatch facts) => facts.Scale ?? (facts.ScaleId is { } id ? Scales.GetValueOrDefault(id)?.Scale : null);

    /// <summary>The range values are shown on: the property's range, or else what its scale yields, in the property's unit.</summary>
    public Span? RangeOf(PropertyPatch facts)
    {
        if (facts.Range is not null || ScaleOf(facts) is not { } scale || scale.Signal.Kind == SignalKind.Open)
            return facts.Range;
        return scale.Engineering is { IsUsable: true } yields && Units.Between(scale.YieldedUnit, facts.Unit) is { } conversion
            ? new(conversion.Of(yields.Low), conversion.Of(yields.High))
            : null;
    }

    /// <summary>The chain from a tag, or part of it, to a property.</summary>
    /// <param name="facts">The property's facts.</param>
    /// <param name="tagUnit">Code of the unit the tag gives; null when it does not say.</param>
    /// <param name="slice">The part of the tag; null for all of it.</param>
    public Chain ChainOf(PropertyPatch facts, string? tagUnit, Slice? slice)
    {
        var scale = ScaleOf(facts);
        return new(
            slice is { FirstBit: not null } bits ? bits with { Element = null } : null,
            scale,
            Units.Between(scale is null ? tagUnit : scale.YieldedUnit, facts.Unit) ?? UnitConversion.None,
            RangeOf(facts)
        );
    }

    /// <summary>What the model holds now in place of an entity or binding; null when it holds nothing.</summary>
    public object? Current(object entity) => EntityKinds.Of(entity) is var kind ? kind.Find(this, kind.KeyOf(entity)) : null;

    /// <summary>The model after a set of changes.</summary>
    /// <param name="changes">Changes to this model: what each says was before is what the model holds.</param>
    public PlantModel Apply(IEnumerable<ModelChange> changes)
    {
        var all = changes as IReadOnlyCollection<ModelChange> ?? [.. changes];
        var (touched, highest) = (new HashSet<EntityKind>(), 0L);
        foreach (var change in all)
        {
            var entity = (change.After ?? change.Before)!;
            var kind = EntityKinds.Of(entity);
            touched.Add(kind);
            highest = Math.Max(highest, kind.HighestIdOf(entity));
        }
        var next = this with { NextId = Math.Max(NextId, highest + 1) };
        foreach (var kind in EntityKinds.All)
            if (touched.Contains(kind))
                next = kind.Apply(next, all);
        next._index = _index?.After(next, all);
        if (ReferenceEquals(next.OwnUnits, OwnUnits))
            next._units = _units;
        return next;
    }
}
