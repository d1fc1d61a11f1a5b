namespace Fralto.Core.Properties;

/// <summary>The things a layer can say about a property, each of which can go back to the layer above by itself.</summary>
public enum PatchField
{
    /// <summary>The unit.</summary>
    Unit,

    /// <summary>The range.</summary>
    Range,

    /// <summary>The scale.</summary>
    Scale,

    /// <summary>The state list.</summary>
    StateList,

    /// <summary>The fixed value.</summary>
    Value,

    /// <summary>The formula.</summary>
    Formula,

    /// <summary>How long an entered value holds.</summary>
    ValidFor,

    /// <summary>What a command is given at a start.</summary>
    AtStart,

    /// <summary>How a command follows its formula.</summary>
    Following,

    /// <summary>How it is recorded.</summary>
    Recording,

    /// <summary>Whether its place shows it.</summary>
    KeyFigure,

    /// <summary>The description.</summary>
    Description,

    /// <summary>The limits that are none of the four levels.</summary>
    Others,

    /// <summary>The upper of two high limits.</summary>
    HighHigh,

    /// <summary>The high limit.</summary>
    High,

    /// <summary>The low limit.</summary>
    Low,

    /// <summary>The lower of two low limits.</summary>
    LowLow,
}
