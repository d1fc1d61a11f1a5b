namespace Fralto.Core.Scaling;

/// <summary>What is fixed for each order of words and bytes.</summary>
public static class WordOrders
{
    /// <summary>True when the least significant word comes first.</summary>
    public static bool IsLowFirst(this WordOrder order) => order is WordOrder.LowFirst or WordOrder.LowFirstSwapped;

    /// <summary>True when the bytes of each word are swapped.</summary>
    public static bool IsSwapped(this WordOrder order) => order is WordOrder.HighFirstSwapped or WordOrder.LowFirstSwapped;

    /// <summary>The letters of the bytes of a 32-bit value as they arrive.</summary>
    public static string Letters(this WordOrder order) =>
        order switch
        {
            WordOrder.LowFirst => "CDAB",
            WordOrder.HighFirstSwapped => "BADC",
            WordOrder.LowFirstSwapped => "DCBA",
            _ => "ABCD",
        };
}
