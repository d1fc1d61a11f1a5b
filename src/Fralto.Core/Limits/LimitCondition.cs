namespace Fralto.Core.Limits;

/// <summary>The condition of a level limit, from the top of the scale down.</summary>
public enum LimitCondition
{
    /// <summary>Above the upper of two high limits.</summary>
    HighHigh,

    /// <summary>Above the high limit.</summary>
    High,

    /// <summary>Below the low limit.</summary>
    Low,

    /// <summary>Below the lower of two low limits.</summary>
    LowLow,
}
