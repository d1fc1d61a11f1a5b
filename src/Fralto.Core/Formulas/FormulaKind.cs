namespace Fralto.Core.Formulas;

/// <summary>What a piece of a formula gives.</summary>
public enum FormulaKind
{
    /// <summary>A number with a measure.</summary>
    Number,

    /// <summary>True or false.</summary>
    Truth,

    /// <summary>A state of a list.</summary>
    State,

    /// <summary>A text.</summary>
    Text,
}
