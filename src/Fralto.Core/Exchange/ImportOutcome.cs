namespace Fralto.Core.Exchange;

/// <summary>What becomes of a row or cell on import.</summary>
public enum ImportOutcome
{
    Added,
    Changed,
    TakenOut,
    Refused,
}
