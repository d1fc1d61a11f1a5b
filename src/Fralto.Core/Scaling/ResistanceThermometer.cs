namespace Fralto.Core.Scaling;

/// <summary>The characteristic of industrial platinum resistance thermometers.</summary>
/// <remarks>
/// IEC 60751:2008, clause 4.2 (Callendar and Van Dusen): R = R0(1 + At + Bt²) from 0 to 850 °C, and with C(t - 100)t³ besides from -200 to
/// 0 °C.
/// </remarks>
public static class ResistanceThermometer
{
    private const double A = 3.9083e-3;
    private const double B = -5.775e-7;
    private const double C = -4.183e-12;
    private const double Close = 1e-12;
    private const int MostSteps = 20;

    /// <summary>Where it holds, °C.</summary>
    public static Span Temperatures { get; } = new(-200, 850);

    /// <summary>Resistance in Ω at a temperature in °C; not-a-number where the characteristic does not hold.</summary>
    /// <param name="temperature">-200 to 850 °C.</param>
    /// <param name="atZero">Resistance at 0 °C: 100 or 1000 Ω.</param>
    public static double Resistance(double temperature, double atZero) =>
        Temperatures.Contains(temperature) ? atZero * Ratio(temperature) : double.NaN;

    /// <summary>Temperature in °C at a resistance in Ω; not-a-number where the characteristic does not hold.</summary>
    public static double Temperature(double resistance, double atZero)
    {
        var ratio = resistance / atZero;
        if (!(ratio >= Ratio(Temperatures.Low) - Close && ratio <= Ratio(Temperatures.High) + Close))
            return double.NaN;
        var t = (-A + Math.Sqrt(A * A - 4 * B * (1 - ratio))) / (2 * B);
        if (ratio >= 1)
            return t;
        // Below 0 °C the quartic has no short inverse: Newton's steps from the quadratic's root, which lies within 2.5 K.
        for (var i = 0; i < MostSteps; i++)
        {
            var step = (Ratio(t) - ratio) / (A + 2 * B * t + C * (4 * t - 300) * t * t);
            t -= step;
            if (Math.Abs(step) < Close)
                break;
        }
        return t;
    }

    private static double Ratio(double t) => 1 + A * t + B * t * t + (t < 0 ? C * (t - 100) * t * t * t : 0);
}
