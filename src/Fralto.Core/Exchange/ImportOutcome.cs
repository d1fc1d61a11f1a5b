namespace Fralto.Core.Exchange;

/// <summary>What becomes of a row or cell on import.</summary>
public enum ImportOutcome
{
    /// <summary>The row makes something new.</summary>
    Added,

    /// <summary>The row changes what is there.</summary>
    Changed,

    /// <summary>Something is taken out.</summary>
    TakenOut,

    /// <summary>The row cannot be taken in.</summary>
    Refused,
}
