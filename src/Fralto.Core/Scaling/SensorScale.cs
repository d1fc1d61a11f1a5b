using System.Globalization;
using Fralto.Core.Basics;

namespace Fralto.Core.Scaling;

/// <summary>A temperature sensor whose characteristic is published: resistance or thermoelectric voltage in, °C out.</summary>
/// <param name="Signal">The raw range it accepts.</param>
/// <param name="Input">What the ends of the signal stand for: Ω of a resistance thermometer, mV of a thermocouple.</param>
/// <param name="Sensor">Which sensor.</param>
/// <param name="Reference">Temperature of a thermocouple's reference junction, °C; its voltage is added before the temperature is
/// taken.</param>
public sealed record SensorScale(Signal Signal, Span Input, SensorKind Sensor, double Reference = 0) : Scale(Signal)
{
    /// <summary>True for a thermocouple.</summary>
    public bool IsThermocouple => Sensor is SensorKind.TypeK or SensorKind.TypeJ;

    /// <inheritdoc/>
    public override string? YieldedUnit => Unit ?? "CEL";

    /// <summary>What the sensor gives: Ω or mV.</summary>
    public string InputUnit => IsThermocouple ? "mV" : "Ω";

    /// <inheritdoc/>
    public override string RawWords => NameOf(Sensor);

    /// <inheritdoc/>
    public override string Words =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"{NameOf(Sensor)}, "
                + $"{(Input == Raw ? $"{Text(Raw)} {InputUnit}" : $"{Signal.Words} for {Text(Input)} {InputUnit}")}"
                + $"{(IsThermocouple && Reference != 0 ? $", reference {Reference} °C" : "")}"
        );

    /// <summary>The sensor's name in the trade.</summary>
    public static string NameOf(SensorKind sensor) =>
        sensor switch
        {
            SensorKind.TypeK => "thermocouple K",
            SensorKind.TypeJ => "thermocouple J",
            _ => sensor.ToString(),
        };

    /// <summary>The temperatures its characteristic holds for, °C.</summary>
    public static Span TemperaturesOf(SensorKind sensor) =>
        sensor switch
        {
            SensorKind.TypeK => Thermocouple.TypeK.Temperatures,
            SensorKind.TypeJ => Thermocouple.TypeJ.Temperatures,
            _ => ResistanceThermometer.Temperatures,
        };

    /// <inheritdoc/>
    public override double ToEngineering(double raw)
    {
        var input = Input.At(Raw.FractionOf(raw));
        return Sensor switch
        {
            SensorKind.Pt100 => ResistanceThermometer.Temperature(input, 100),
            SensorKind.Pt1000 => ResistanceThermometer.Temperature(input, 1000),
            _ => Couple.Temperature(input + Couple.Voltage(Reference)),
        };
    }

    /// <inheritdoc/>
    public override double ToRaw(double value)
    {
        var input = Sensor switch
        {
            SensorKind.Pt100 => ResistanceThermometer.Resistance(value, 100),
            SensorKind.Pt1000 => ResistanceThermometer.Resistance(value, 1000),
            _ => Couple.Voltage(value) - Couple.Voltage(Reference),
        };
        return Raw.At(Input.FractionOf(input));
    }

    /// <inheritdoc/>
    public override IEnumerable<Problem> Problems()
    {
        foreach (var problem in base.Problems())
            yield return problem;
        if (!Input.IsUsable)
            yield return new("InputHigh", "What the signal stands for is the same at both ends; they must differ.");
        if (Unit is not null and not "CEL")
            yield return new(
                "ScaleUnit",
                "A temperature sensor's characteristic is in °C; leave its unit empty and the property converts."
            );
        if (!(Reference is >= -50 and <= 100))
            yield return new("Reference", "The reference junction lies between -50 and 100 °C.");
    }

    private Thermocouple Couple => Sensor == SensorKind.TypeJ ? Thermocouple.TypeJ : Thermocouple.TypeK;
}
