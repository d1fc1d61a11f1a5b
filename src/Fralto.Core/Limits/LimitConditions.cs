namespace Fralto.Core.Limits;

/// <summary>The short forms the trade uses for limit conditions.</summary>
public static class LimitConditions
{
    /// <summary>All conditions, highest first.</summary>
    public static IReadOnlyList<LimitCondition> All { get; } =
    [LimitCondition.HighHigh, LimitCondition.High, LimitCondition.Low, LimitCondition.LowLow];

    /// <summary>HH, H, L or LL.</summary>
    public static string Letters(this LimitCondition condition) =>
        condition switch
        {
            LimitCondition.HighHigh => "HH",
            LimitCondition.High => "H",
            LimitCondition.Low => "L",
            _ => "LL",
        };

    /// <summary>The level that letters mean, in upper or lower case; null for the code of another limit.</summary>
    public static LimitCondition? Find(string? letters)
    {
        foreach (var condition in All)
            if (condition.Letters().Equals(letters, StringComparison.OrdinalIgnoreCase))
                return condition;
        return null;
    }

    /// <summary>True for the two that guard the upper end.</summary>
    public static bool IsHigh(this LimitCondition condition) => condition is LimitCondition.HighHigh or LimitCondition.High;
}
