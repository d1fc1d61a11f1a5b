namespace Fralto.Core.Formulas;

/// <summary>What kind of temperature a number is.</summary>
internal enum Warmth
{
    /// <summary>It is none.</summary>
    None,

    /// <summary>One with a zero of its own: degrees Celsius.</summary>
    Temperature,

    /// <summary>How far two of them lie apart.</summary>
    Difference,

    /// <summary>Kelvins, which are both.</summary>
    Either,
}
