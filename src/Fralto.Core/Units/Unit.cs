namespace Fralto.Core.Units;

/// <summary>An engineering unit.</summary>
/// <param name="Code">UNECE Rec 20 common code, two or three characters; a customer's own unit has a code of its own.</param>
/// <param name="Symbol">What stands beside a number, for example m³/h.</param>
/// <param name="Name">The unit's name as Rec 20 gives it.</param>
/// <param name="Quantity">The kind of quantity it measures, for example volume flow.</param>
/// <param name="Dimension">What it measures, in base quantities.</param>
/// <param name="Factor">SI value = (value + <paramref name="Offset"/>) × factor; above 0.</param>
/// <param name="Offset">Where its zero lies, in the unit itself: 273.15 for °C, 459.67 for °F, 0 for nearly all.</param>
public sealed record Unit(string Code, string Symbol, string Name, string Quantity, Dimension Dimension, double Factor, double Offset = 0)
{
    /// <summary>Other spellings: of the trade, in plain letters, abbreviations.</summary>
    public IReadOnlyList<string> Aliases { get; init; } = [];

    /// <summary>The time of a rate in seconds, 3600 for m³/h; null when the unit does not say "per".</summary>
    public double? PerSeconds { get; init; }

    /// <summary>True for a customer's own.</summary>
    public bool IsOwn { get; init; }

    /// <summary>The number OPC UA identifies the unit by: the bytes of the code, most significant first; -1 for a unit without a Rec 20
    /// code.</summary>
    /// <remarks>OPC UA Part 8, clause 5.6.4.3.</remarks>
    public int OpcUaId => IsOwn || Code.Any(char.IsAsciiLetterLower) ? UnitNumber.None : UnitNumber.Of(Code);
}
