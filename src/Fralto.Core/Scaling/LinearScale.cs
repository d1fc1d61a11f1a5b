using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>Two-point linear scale: maps a raw signal onto an engineering range.</summary>
/// <remarks>
/// y = y0 + (x - x0)(y1 - y0)/(x1 - x0), exact at both ends. An inverted span is allowed on either side, an empty one is not.
/// </remarks>
public sealed record LinearScale(Signal Signal, Span Yields) : Scale(Signal)
{
    /// <summary>A scale from two raw numbers to two engineering values.</summary>
    public LinearScale(Span raw, Span yields)
        : this(Signal.Free(raw), yields) { }

    /// <inheritdoc/>
    public override Span Engineering => Yields;

    /// <inheritdoc/>
    public override string Words => $"{Signal.Words} to {Text(Yields)}";

    /// <inheritdoc/>
    public override double ToEngineering(double raw) => Yields.At(Raw.FractionOf(raw));

    /// <inheritdoc/>
    public override double ToRaw(double value) => Raw.At(Yields.FractionOf(value));

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems() =>
        base.Problems()
            .Concat(Yields.IsUsable ? [] : [new("EngineeringHigh", $"The scale yields {Yields.Low} at both ends; they must differ.")]);
}
