namespace Fralto.Core.Formulas;

/// <summary>What a function does with what has been.</summary>
public enum OverTimeKind
{
    /// <summary>Mean weighted by time: OPC UA Part 13 TimeAverage2, stepped.</summary>
    Mean,

    /// <summary>The least.</summary>
    Minimum,

    /// <summary>The greatest.</summary>
    Maximum,

    /// <summary>The greatest less the least.</summary>
    Range,

    /// <summary>Standard deviation of the population, weighted by time.</summary>
    Deviation,

    /// <summary>The value at the beginning.</summary>
    First,

    /// <summary>Change over time.</summary>
    Rate,

    /// <summary>The integral.</summary>
    Total,

    /// <summary>Number of turns from false to true.</summary>
    Starts,

    /// <summary>How long it was true.</summary>
    Time,

    /// <summary>How long it has been as it is.</summary>
    Held,

    /// <summary>The value when something else turned true.</summary>
    Value,

    /// <summary>First-order filter.</summary>
    Filter,
}
