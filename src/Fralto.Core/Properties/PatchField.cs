namespace Fralto.Core.Properties;

/// <summary>The things a layer can say about a property, each of which can go back to the layer above by itself.</summary>
public enum PatchField
{
    Unit,
    Range,
    Scale,
    StateList,
    Value,
    Description,
    HighHigh,
    High,
    Low,
    LowLow,
}
