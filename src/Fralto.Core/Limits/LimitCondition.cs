namespace Fralto.Core.Limits;

/// <summary>The condition of a level limit, from the top of the scale down.</summary>
public enum LimitCondition
{
    HighHigh,
    High,
    Low,
    LowLow,
}
