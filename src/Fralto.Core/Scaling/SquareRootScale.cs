using System.Globalization;
using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>Square root of the signal, as flow follows from differential pressure, with a low cut-off.</summary>
/// <remarks>
/// y = y0 + (y1 - y0)·√((x - x0)/(x1 - x0)): 25 % of the differential pressure is 50 % of the flow. At and below the start of the signal
/// it yields y0; there is no root of a negative number. Apply it once: in the transmitter or here, not in both.
/// </remarks>
/// <param name="Signal">The raw range it accepts, proportional to the differential pressure.</param>
/// <param name="Yields">What it yields at the ends.</param>
/// <param name="CutOff">Below this share of the flow, 0 to below 1, it yields the low end: the root is infinitely steep there.</param>
public sealed record SquareRootScale(Signal Signal, Span Yields, double CutOff = 0) : Scale(Signal)
{
    /// <inheritdoc/>
    public override Span Engineering => Yields;

    /// <inheritdoc/>
    public override string RawWords => $"√ {Signal.Words}";

    /// <inheritdoc/>
    public override string Words =>
        $"√ {Signal.Words} to "
        + $"{Text(Yields)}{(CutOff > 0 ? string.Create(CultureInfo.InvariantCulture, $", 0 below {CutOff * 100:0.##} %") : "")}";

    /// <inheritdoc/>
    public override double ToEngineering(double raw)
    {
        var fraction = Raw.FractionOf(raw);
        if (fraction <= 0)
            return Yields.Low;
        var flow = Math.Sqrt(fraction);
        return flow < CutOff ? Yields.Low : Yields.At(flow);
    }

    /// <inheritdoc/>
    public override double ToRaw(double value)
    {
        var flow = Yields.FractionOf(value);
        return flow < 0 ? double.NaN : Raw.At(flow * flow);
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems()
    {
        foreach (var problem in base.Problems())
            yield return problem;
        if (!Yields.IsUsable)
            yield return new("EngineeringHigh", $"The scale yields {Yields.Low} at both ends; they must differ.");
        if (!(CutOff is >= 0 and < 1))
            yield return new("CutOff", "The low cut-off is 0 to below 100 % of the flow.");
    }
}
