namespace Fralto.Core.Scaling;

/// <summary>How many decimals a value deserves: about a thousandth of its range, which is what people can act on.</summary>
public static class Resolution
{
    /// <summary>Decimals for values of a range, 0 to 6; 2 when there is no range.</summary>
    public static int DecimalsOf(Span? range) =>
        range is { IsUsable: true } span ? Math.Clamp((int)Math.Round(-Math.Log10(Math.Abs(span.Width) / 1000)), 0, 6) : 2;
}
