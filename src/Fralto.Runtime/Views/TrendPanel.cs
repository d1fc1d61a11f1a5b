using Fralto.Core.Pictures;
using Fralto.Core.Scaling;

namespace Fralto.Runtime.Views;

/// <summary>Curves on one axis.</summary>
/// <param name="Title">The property, or what they share.</param>
/// <param name="Unit">Symbol of their unit; empty for none.</param>
/// <param name="Axis">Values at bottom and top.</param>
/// <param name="Marks">Marks of the axis: value and where it lies.</param>
/// <param name="Decimals">Decimals of the marks.</param>
/// <param name="Curves">The curves.</param>
/// <param name="Limits">The limits, for as long as they were in force.</param>
public sealed record TrendPanel(
    string Title,
    string Unit,
    Span Axis,
    IReadOnlyList<(double Value, double Y)> Marks,
    int Decimals,
    IReadOnlyList<(TrendTrack Track, TrendCurve Curve, double[] Means)> Curves,
    IReadOnlyList<TrendLimit> Limits
)
{
    /// <summary>Height of the drawing, in picture units.</summary>
    public const double Height = 170;

    /// <summary>Room above and below the curves.</summary>
    public const double Margin = 8;
}
