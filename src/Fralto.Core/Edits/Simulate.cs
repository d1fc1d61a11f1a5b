using System.Collections.Immutable;
using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Edits;

/// <summary>Lets a simulated source stand in for the tags of some bindings, in the property's own unit, or hears the tags again.</summary>
/// <param name="Cells">Instance and property of each binding.</param>
/// <param name="Shape">How the values move; null hears the tags again.</param>
/// <param name="Low">Lowest value; null for the low end of the property's range or its lowest state.</param>
/// <param name="High">Highest value; null for the other end.</param>
/// <param name="PeriodSeconds">Time there and back, 1 s to a day.</param>
public sealed record Simulate(
    ImmutableArray<(long EquipmentId, long PropertyId)> Cells,
    SimulationShape? Shape,
    double? Low = null,
    double? High = null,
    double PeriodSeconds = 60
) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (
            Shape is not null
            && !(PeriodSeconds >= Simulation.ShortestPeriod.TotalSeconds && PeriodSeconds <= Simulation.LongestPeriod.TotalSeconds)
        )
            return EditOutcome.Refused(
                nameof(PeriodSeconds),
                $"The period is {Simulation.ShortestPeriod.TotalSeconds} to {Simulation.LongestPeriod.TotalSeconds} s."
            );
        var (changes, next, named) = (new List<ModelChange>(), model.NextId, "");
        foreach (var cell in Cells)
        {
            if (!model.Bindings.TryGetValue(cell, out var before))
                return EditOutcome.Refused("", "Only what is bound can be simulated; bind it first.");
            var instance = model.Equipment[cell.EquipmentId];
            var property = model.Index.PropertiesOf(instance).First(p => p.Id == cell.PropertyId);
            named = $"{instance.Name} {property.Name}";
            if (Shape is not { } shape)
            {
                if (before.Simulation is not null)
                    changes.Add(new(before, before with { Simulation = null }));
                continue;
            }
            if (property.Declaration.Type == PropertyType.Text)
            {
                if (Cells.Length == 1)
                    return EditOutcome.Refused("", $"{property.Name} is text; text is not simulated.");
                continue;
            }
            var (low, high) = Ends(model, property);
            (low, high) = (Low ?? low, shape == SimulationShape.Held ? Low ?? low : High ?? high);
            if (!double.IsFinite(low) || !double.IsFinite(high) || high < low)
                return EditOutcome.Refused(nameof(High), $"Low and high are two numbers, low not above high; {low} and {high} are not.");
            // Whole numbers do not swing; they go through their values one after the other.
            var its =
                shape is SimulationShape.Wave or SimulationShape.Ramp
                && property.Declaration.Type is PropertyType.State or PropertyType.Boolean
                    ? SimulationShape.Steps
                    : shape;
            changes.Add(
                new(
                    before,
                    before with
                    {
                        Simulation = new(before.Simulation?.TagId ?? next++, its, low, high, TimeSpan.FromSeconds(PeriodSeconds)),
                    }
                )
            );
        }
        if (changes.Count == 0)
            return EditOutcome.Refused("", Shape is null ? "Nothing of this is simulated." : "Nothing of this can be simulated.");
        var what = changes.Count == 1 ? named : Count(changes.Count, "binding");
        return EditOutcome.Changed(Shape is null ? $"Hear the tag of {what} again" : $"Simulate {what}", [.. changes]);
    }

    private static (double Low, double High) Ends(PlantModel model, ResolvedProperty property)
    {
        if (
            property.Declaration.Type == PropertyType.State
            && property.Facts.StateListId is { } set
            && model.StateLists[set].States is { IsEmpty: false } states
        )
            return (states.Min(s => s.Value), states.Max(s => s.Value));
        if (property.Declaration.Type == PropertyType.Boolean)
            return (0, 1);
        return model.RangeOf(property.Facts) is { } range ? (range.Minimum, range.Maximum) : (0, 100);
    }
}
