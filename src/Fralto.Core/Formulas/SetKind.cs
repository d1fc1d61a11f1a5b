namespace Fralto.Core.Formulas;

/// <summary>What is worked out of all instances below a place.</summary>
public enum SetKind
{
    /// <summary>The least.</summary>
    Minimum,

    /// <summary>The greatest.</summary>
    Maximum,

    /// <summary>The mean.</summary>
    Mean,

    /// <summary>The sum.</summary>
    Sum,

    /// <summary>For how many it is true.</summary>
    Count,
}
