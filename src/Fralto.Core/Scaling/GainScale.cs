using System.Globalization;
using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>Gain and offset: value = gain × raw + offset.</summary>
/// <param name="Signal">The raw range it accepts.</param>
/// <param name="Gain">Engineering values for one raw unit; not 0.</param>
/// <param name="Offset">The value at raw 0.</param>
public sealed record GainScale(Signal Signal, double Gain, double Offset = 0) : Scale(Signal)
{
    /// <inheritdoc/>
    public override string Words =>
        string.Create(CultureInfo.InvariantCulture, $"{Gain} × raw {(Offset < 0 ? "-" : "+")} {Math.Abs(Offset)}");

    /// <inheritdoc/>
    public override double ToEngineering(double raw) => Gain * raw + Offset;

    /// <inheritdoc/>
    public override double ToRaw(double value) => (value - Offset) / Gain;

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems()
    {
        foreach (var problem in base.Problems())
            yield return problem;
        if (Gain == 0 || !double.IsFinite(Gain))
            yield return new("Gain", "The gain is a number other than 0; with 0 every raw value would yield the offset.");
        if (!double.IsFinite(Offset))
            yield return new("Offset", "The offset is a number.");
    }
}
