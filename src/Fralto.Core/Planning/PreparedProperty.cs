using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Planning;

/// <summary>What every point of one property has, worked out once.</summary>
internal sealed class PreparedProperty(PlantModel model, ResolvedProperty property)
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

    public PreparedProperty With(PlantModel model, PropertyPatch own) =>
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
                Planner.SignalOutOfReach,
                $"has the signal {_scale.Signal.Words}, but its tag {tag.Name} is {tag.Type.Word()} and holds "
                    + $"{tag.Type.RangeOf().Low:0} … {tag.Type.RangeOf().High:0}"
            );
        if (property.Declaration.Kind == PropertyKind.Command && _scale?.WhyNoInverse is { } why)
            yield return (Planner.NoInverse, $"is a command, but its scale cannot be turned round: {why}");
        if (
            _unit is { } unit
            && model.Units.Find(_scale is null ? tag.Unit : _scale.YieldedUnit) is { } from
            && UnitConversion.Caution(from, unit) is { } caution
        )
            yield return (Planner.UnitCaution, $"is converted from {from.Symbol} to {unit.Symbol}: {caution}");
    }
}
