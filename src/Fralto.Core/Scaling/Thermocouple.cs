namespace Fralto.Core.Scaling;

/// <summary>The reference function of a thermocouple: voltage in mV over temperature in °C, reference junction at 0 °C.</summary>
/// <remarks>
/// ITS-90 polynomials of NIST Monograph 175. The way back solves the reference function itself, so it is as exact as that and returns
/// what went in; the published inverse polynomials are approximations of it, good to some hundredths of a kelvin.
/// </remarks>
public sealed class Thermocouple
{
    private const double Close = 1e-10;
    private const int MostSteps = 100;

    private readonly double _turn;
    private readonly double[] _below;
    private readonly double[] _above;
    private readonly (double Height, double Narrowness, double Centre) _bump;

    private Thermocouple(Span temperatures, double turn, double[] below, double[] above, (double, double, double) bump)
    {
        (Temperatures, _turn, _below, _above, _bump) = (temperatures, turn, below, above, bump);
        Voltages = new(Voltage(temperatures.Low), Voltage(temperatures.High));
    }

    /// <summary>Nickel-chromium against nickel-aluminium, -270 to 1372 °C.</summary>
    public static Thermocouple TypeK { get; } =
        new(
            new(-270, 1372),
            0,
            [
                0,
                0.394501280250e-1,
                0.236223735980e-4,
                -0.328589067840e-6,
                -0.499048287770e-8,
                -0.675090591730e-10,
                -0.574103274280e-12,
                -0.310888728940e-14,
                -0.104516093650e-16,
                -0.198892668780e-19,
                -0.163226974860e-22,
            ],
            [
                -0.176004136860e-1,
                0.389212049750e-1,
                0.185587700320e-4,
                -0.994575928740e-7,
                0.318409457190e-9,
                -0.560728448890e-12,
                0.560750590590e-15,
                -0.320207200030e-18,
                0.971511471520e-22,
                -0.121047212750e-25,
            ],
            (0.1185976, -0.1183432e-3, 126.9686)
        );

    /// <summary>Iron against copper-nickel, -210 to 1200 °C.</summary>
    public static Thermocouple TypeJ { get; } =
        new(
            new(-210, 1200),
            760,
            [
                0,
                0.503811878150e-1,
                0.304758369300e-4,
                -0.856810657200e-7,
                0.132281952950e-9,
                -0.170529583370e-12,
                0.209480906970e-15,
                -0.125383953360e-18,
                0.156317256970e-22,
            ],
            [0.296456256810e3, -0.149761277860e1, 0.317871039240e-2, -0.318476867010e-5, 0.157208190040e-8, -0.306913690560e-12],
            (0, 0, 0)
        );

    /// <summary>Where it holds, °C.</summary>
    public Span Temperatures { get; }

    /// <summary>The voltages there, mV.</summary>
    public Span Voltages { get; }

    /// <summary>Voltage in mV at a temperature in °C; not-a-number where the function does not hold.</summary>
    public double Voltage(double temperature)
    {
        if (!Temperatures.Contains(temperature))
            return double.NaN;
        var isAbove = temperature >= _turn;
        var coefficients = isAbove ? _above : _below;
        var voltage = 0d;
        for (var i = coefficients.Length - 1; i >= 0; i--)
            voltage = voltage * temperature + coefficients[i];
        var away = temperature - _bump.Centre;
        return isAbove && _bump.Height != 0 ? voltage + _bump.Height * Math.Exp(_bump.Narrowness * away * away) : voltage;
    }

    /// <summary>Temperature in °C at a voltage in mV; not-a-number where the function does not hold.</summary>
    public double Temperature(double voltage)
    {
        if (!(voltage >= Voltages.Low - Close && voltage <= Voltages.High + Close))
            return double.NaN;
        // The function rises all the way: halve the bracket, and let the chord shorten the work.
        var (low, high) = (Temperatures.Low, Temperatures.High);
        var (below, above) = (Voltages.Low - voltage, Voltages.High - voltage);
        for (var i = 0; i < MostSteps && high - low > Close; i++)
        {
            var chord = low - below * (high - low) / (above - below);
            var t = i % 3 == 2 || !(chord > low && chord < high) ? (low + high) / 2 : chord;
            var off = Voltage(t) - voltage;
            if (off == 0)
                return t;
            if (off < 0)
                (low, below) = (t, off);
            else
                (high, above) = (t, off);
        }
        return (low + high) / 2;
    }
}
