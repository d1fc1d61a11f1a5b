namespace Fralto.Core.Scaling;

/// <summary>Two-point linear scale: maps a raw signal onto an engineering range.</summary>
/// <remarks>
/// y = y0 + (x - x0)(y1 - y0)/(x1 - x0), exact at both ends. An inverted span is allowed on either side, an empty raw span is not.
/// </remarks>
public sealed record LinearScale(Span Raw, Span Engineering)
{
    /// <summary>The engineering value of a raw value; raw values outside the raw span continue the line.</summary>
    public double ToEngineering(double raw) => Engineering.At(Raw.FractionOf(raw));

    /// <summary>The raw value of an engineering value, not yet rounded to the raw type.</summary>
    public double ToRaw(double value) => Raw.At(Engineering.FractionOf(value));
}
