using Fralto.Core.Properties;
using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>What a piece of a formula gives, and what it measures.</summary>
/// <param name="Kind">Number, truth, state or text.</param>
/// <param name="Measure">What a number measures.</param>
/// <param name="States">The list of a state; of a truth where its two values have names.</param>
public sealed record FormulaType(FormulaKind Kind, Measure Measure, StateList? States = null)
{
    /// <summary>True or false.</summary>
    public static FormulaType Truth { get; } = new(FormulaKind.Truth, Measure.One);

    /// <summary>A text.</summary>
    public static FormulaType Text { get; } = new(FormulaKind.Text, Measure.One);

    /// <summary>True for a number written without a unit: it takes none by itself.</summary>
    internal bool IsBare { get; init; }

    /// <summary>A number of a measure.</summary>
    public static FormulaType Number(Measure measure) => new(FormulaKind.Number, measure);

    /// <summary>What a property gives.</summary>
    /// <param name="type">Its type.</param>
    /// <param name="unit">Its unit; null for none.</param>
    /// <param name="states">Its states; null for none.</param>
    public static FormulaType Of(PropertyType type, Unit? unit, StateList? states) =>
        type switch
        {
            PropertyType.Boolean => new(FormulaKind.Truth, Measure.One, states),
            PropertyType.State => new(FormulaKind.State, Measure.One, states),
            PropertyType.Text or PropertyType.Time => Text,
            _ => Number(unit is null ? Measure.One : Measure.Of(unit)),
        };

    /// <summary>In words: kW, true or false, a state of Kiln phase.</summary>
    /// <param name="units">The catalogue.</param>
    public string Words(UnitSet units) =>
        Kind switch
        {
            FormulaKind.Truth => "true or false",
            FormulaKind.State => States is null ? "a state" : $"a state of {States.Name}",
            FormulaKind.Text => "text",
            _ => Measure.Symbol(units) is { Length: > 0 } symbol
                ? Measure.Warmth is Warmth.Difference
                    ? $"{symbol}, a difference"
                    : symbol
                : "a number without unit",
        };
}
