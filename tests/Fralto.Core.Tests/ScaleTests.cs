using CsCheck;
using Fralto.Core.Exchange;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class ScaleTests
{
    private static readonly Signal Loop = Signal.Of(SignalKind.Milliamps);

    [Theory]
    [Trait("source", "NAMUR NE 43: measuring information 3.8...20.5 mA, failure at or below 3.6 and at or above 21.0 mA")]
    [InlineData(SignalKind.Milliamps, 3.6, 3.8, 20.5, 21)]
    [InlineData(SignalKind.Microamps, 3600, 3800, 20500, 21000)]
    [InlineData(SignalKind.Counts27648, -691.2, -345.6, 28512, 29376)]
    [InlineData(SignalKind.DeadZeroCounts16, 11796.3, 12451.65, 67173.375, 68811.75)]
    public void Every_form_of_4_to_20_mA_ends_where_the_recommendation_says(
        SignalKind kind,
        double failsLow,
        double acceptedLow,
        double acceptedHigh,
        double failsHigh
    )
    {
        var signal = Signal.Of(kind);
        signal.FailsAtOrBelow.ShouldBe(failsLow, 1e-6 * Math.Abs(failsLow));
        signal.Accepted.Low.ShouldBe(acceptedLow, 1e-6 * Math.Abs(acceptedLow));
        signal.Accepted.High.ShouldBe(acceptedHigh, 1e-6 * acceptedHigh);
        signal.FailsAtOrAbove.ShouldBe(failsHigh, 1e-6 * failsHigh);
        signal.MilliampsOf(signal.Raw.Low).ShouldBe(4);
        signal.MilliampsOf(signal.Raw.High).ShouldBe(20);
    }

    [Theory]
    [Trait("source", "arithmetic: 4 mA of 20 mA is 20 % of full count")]
    [InlineData(SignalKind.DeadZeroCounts15, 6553.4)]
    [InlineData(SignalKind.DeadZeroCounts16, 13107)]
    public void On_a_card_of_0_to_20_mA_the_signal_begins_at_a_fifth(SignalKind kind, double low) =>
        Signal.Of(kind).Raw.Low.ShouldBe(low, 1e-9);

    [Theory]
    [Trait("source", "law of the orifice: flow is the root of differential pressure; 25 % of it is 50 % of the flow")]
    [InlineData(4, 0)]
    [InlineData(8, 60)]
    [InlineData(12, 84.852814)]
    [InlineData(16, 103.923048)]
    [InlineData(20, 120)]
    public void A_root_makes_flow_of_differential_pressure(double current, double flow)
    {
        var scale = new SquareRootScale(Loop, new(0, 120));
        scale.ToEngineering(current).ShouldBe(flow, 1e-6);
        scale.ToRaw(flow).ShouldBe(current, 1e-6);
    }

    [Fact]
    public void Gain_and_offset_need_no_raw_range_and_take_any_raw_number()
    {
        var scale = new ScaleEntry
        {
            Kind = ScaleKind.Gain,
            Gain = 1 / 60d,
            Offset = -40,
        }.Read(out var problems);
        problems.ShouldBeEmpty();
        scale!.ToEngineering(60).ShouldBe(-39, 1e-12);
        ScaleEntry.Of(scale).Read(out _).ShouldBe(scale);
        scale.Problems().ShouldBeEmpty();
        // No range comes of it, nothing lies outside, and the engine takes it as the straight line it is.
        var chain = new Chain(null, scale, UnitConversion.None, null);
        foreach (var raw in new[] { -1e9, 0, 0.5, 1, 4e9 })
        {
            chain.Compute(raw).ShouldBe(new(raw / 60 - 40, StatusCode.Good));
            var setup = new PointSetup(chain, []);
            setup.IsPlain(raw).ShouldBeTrue();
            setup.ToEngineering(raw).ShouldBe(raw / 60 - 40, 1e-14 * (Math.Abs(raw) + 40));
        }
        PlantModel.Empty.RangeOf(new() { Scale = scale }).ShouldBeNull();
        new LinearScale(Signal.Open, new(0, 1)).Problems().ShouldContain(p => p.Field == "RawLow");
        new ScaleEntry { Kind = ScaleKind.Linear, Engineering = [0, 1] }
            .Read(out problems)
            .ShouldBeNull();
        problems.ShouldContain(p => p.Field == "Raw");
    }

    [Fact]
    public void A_root_has_a_low_cut_off_and_knows_no_negative_number()
    {
        var scale = new SquareRootScale(Loop, new(0, 120), 0.1);
        scale.ToEngineering(4.15).ShouldBe(0);
        scale.ToEngineering(4.17).ShouldBeGreaterThan(12);
        scale.ToEngineering(3.9).ShouldBe(0);
        double.IsNaN(scale.ToRaw(-1)).ShouldBeTrue();
    }

    [Theory]
    [Trait("source", "arithmetic: straight lines between the points")]
    [InlineData(0.25, 60)]
    [InlineData(0.75, 210)]
    [InlineData(1.5, 525)]
    [InlineData(2.4, 950)]
    [InlineData(3, 1250)]
    public void A_strapping_table_reads_both_ways(double level, double volume)
    {
        var table = new TableScale(Signal.Free(new(0, 3)), new(0, 3), [new(0, 0), new(0.5, 120), new(1, 300), new(2, 750), new(3, 1250)]);
        table.ToEngineering(level).ShouldBe(volume, 1e-9);
        table.ToRaw(volume).ShouldBe(level, 1e-9);
        table.ToEngineering(7).ShouldBe(1250);
        double.IsNaN(table.ToRaw(2000)).ShouldBeTrue();
    }

    [Fact]
    public void A_table_that_rises_and_falls_reads_forward_and_says_why_not_back()
    {
        var table = new TableScale(Loop, new(0, 1), [new(0, 0), new(0.5, 10), new(1, 4)]);
        table.ToEngineering(12).ShouldBe(10);
        table.WhyNoInverse!.ShouldContain("rise and fall");
        double.IsNaN(table.ToRaw(5)).ShouldBeTrue();
    }

    [Fact]
    public void A_table_of_ten_thousand_points_is_read_as_fast_as_a_short_one_and_one_more_is_refused()
    {
        TableScale Of(int points) =>
            new(Signal.Free(new(0, points)), new(0, points), [.. Enumerable.Range(0, points).Select(i => new TablePoint(i, i * 2))]);
        Of(TableScale.MostPoints).Problems().ShouldBeEmpty();
        Of(TableScale.MostPoints).ToEngineering(1234.5).ShouldBe(2469);
        Of(TableScale.MostPoints + 1).Problems().ShouldContain(p => p.Message.Contains("at most"));
    }

    [Fact]
    public void What_is_wrong_with_a_scale_is_said_by_field()
    {
        void Wrong(Scale scale, string field, string words) =>
            scale.Problems().ShouldContain(p => p.Field == field && p.Message.Contains(words), scale.Words);
        Wrong(new LinearScale(new Span(4, 4), new(0, 1)), "RawHigh", "both 4");
        Wrong(new GainScale(Loop, 0), "Gain", "other than 0");
        Wrong(new SquareRootScale(Loop, new(0, 1), 1.5), "CutOff", "below 100 %");
        Wrong(new TableScale(Loop, new(0, 1), [new(0, 0)]), "Points", "at least two");
        Wrong(new TableScale(Loop, new(0, 1), [new(0, 0), new(0, 1)]), "Points", "both have the input 0");
        Wrong(new TableScale(Loop, new(0, 1), [new(1, 0), new(0, 1)]), "Points", "smallest first");
        Wrong(new TableScale(Loop, new(0, 1), [new(0, double.NaN), new(1, 1)]), "Points", "not two numbers");
        Wrong(new SensorScale(Loop, new(5, 5), SensorKind.Pt100), "InputHigh", "must differ");
        Wrong(new SensorScale(Loop, new(0, 50), SensorKind.TypeK, 300), "Reference", "between -50 and 100");
    }

    [Theory]
    [Trait("source", "IEC 60751:2008, table of the Pt100; values computed from the coefficients of clause 4.2")]
    [InlineData(-200, 18.5201)]
    [InlineData(-150, 39.7232)]
    [InlineData(-100, 60.2558)]
    [InlineData(-50, 80.3063)]
    [InlineData(-20, 92.1599)]
    [InlineData(0, 100)]
    [InlineData(25, 109.7347)]
    [InlineData(100, 138.5055)]
    [InlineData(200, 175.8560)]
    [InlineData(400, 247.0920)]
    [InlineData(650, 329.6401)]
    [InlineData(850, 390.4811)]
    public void A_platinum_thermometer_follows_its_standard(double temperature, double resistance)
    {
        ResistanceThermometer.Resistance(temperature, 100).ShouldBe(resistance, 5.1e-5);
        ResistanceThermometer.Temperature(resistance, 100).ShouldBe(temperature, 2e-4);
        ResistanceThermometer.Resistance(temperature, 1000).ShouldBe(resistance * 10, 5.1e-4);
        new SensorScale(Signal.Free(new(0, 400)), new(0, 400), SensorKind.Pt100).ToEngineering(resistance).ShouldBe(temperature, 2e-4);
    }

    [Theory]
    [Trait("source", "ITS-90 reference tables, NIST Monograph 175: mV to three decimals; type J from memory")]
    [InlineData(SensorKind.TypeK, -270, -6.458)]
    [InlineData(SensorKind.TypeK, -200, -5.891)]
    [InlineData(SensorKind.TypeK, -100, -3.554)]
    [InlineData(SensorKind.TypeK, -50, -1.889)]
    [InlineData(SensorKind.TypeK, 0, 0)]
    [InlineData(SensorKind.TypeK, 25, 1.000)]
    [InlineData(SensorKind.TypeK, 100, 4.096)]
    [InlineData(SensorKind.TypeK, 300, 12.209)]
    [InlineData(SensorKind.TypeK, 500, 20.644)]
    [InlineData(SensorKind.TypeK, 1000, 41.276)]
    [InlineData(SensorKind.TypeK, 1372, 54.886)]
    [InlineData(SensorKind.TypeJ, -210, -8.095)]
    [InlineData(SensorKind.TypeJ, -100, -4.633)]
    [InlineData(SensorKind.TypeJ, 0, 0)]
    [InlineData(SensorKind.TypeJ, 100, 5.269)]
    [InlineData(SensorKind.TypeJ, 200, 10.779)]
    [InlineData(SensorKind.TypeJ, 500, 27.393)]
    [InlineData(SensorKind.TypeJ, 760, 42.919)]
    [InlineData(SensorKind.TypeJ, 1000, 57.953)]
    [InlineData(SensorKind.TypeJ, 1200, 69.553)]
    public void A_thermocouple_follows_its_reference_table(SensorKind kind, double temperature, double voltage)
    {
        var couple = kind == SensorKind.TypeK ? Thermocouple.TypeK : Thermocouple.TypeJ;
        couple.Voltage(temperature).ShouldBe(voltage, 5.1e-4);
        // Half a microvolt is a hundredth of a kelvin, but far below zero the curve is nearly flat.
        if (temperature > -250)
            couple.Temperature(voltage).ShouldBe(temperature, 0.06);
    }

    [Fact]
    public void A_thermocouple_adds_the_voltage_of_its_reference_junction()
    {
        var scale = new SensorScale(Signal.Free(new(-10, 60)), new(-10, 60), SensorKind.TypeK, 25);
        scale.ToEngineering(Thermocouple.TypeK.Voltage(300) - Thermocouple.TypeK.Voltage(25)).ShouldBe(300, 1e-6);
        scale.ToEngineering(0).ShouldBe(25, 1e-6);
    }

    [Fact]
    public void Outside_its_standard_a_sensor_has_no_value()
    {
        double.IsNaN(ResistanceThermometer.Temperature(10, 100)).ShouldBeTrue();
        double.IsNaN(ResistanceThermometer.Resistance(900, 100)).ShouldBeTrue();
        double.IsNaN(Thermocouple.TypeJ.Temperature(80)).ShouldBeTrue();
        double.IsNaN(Thermocouple.TypeK.Voltage(double.NaN)).ShouldBeTrue();
    }

    [Fact]
    public void Back_through_a_monotonic_scale_is_where_one_began()
    {
        var table = new TableScale(Loop, new(0, 18), [new(0, 0), new(1, 6), new(2, 21), new(3, 48), new(18, 588)]);
        var falling = new TableScale(Loop, new(0, 2), [new(0, 10), new(1, 4), new(2, -3)]);
        Scale[] scales =
        [
            new LinearScale(Loop, new(-50, 50)),
            new LinearScale(new Span(20, 4), new(0, 100)),
            new GainScale(Loop, -2.5, 7),
            new SquareRootScale(Loop, new(0, 800)),
            table,
            falling,
            new SensorScale(Loop, new(60, 300), SensorKind.Pt100),
            new SensorScale(Loop, new(600, 3000), SensorKind.Pt1000),
            new SensorScale(Loop, new(-3, 50), SensorKind.TypeK),
            new SensorScale(Loop, new(-4, 60), SensorKind.TypeJ, 20),
        ];
        Gen.Select(Gen.Int[0, scales.Length - 1], Gen.Double[0, 1])
            .Sample(
                (i, share) =>
                {
                    var raw = scales[i].Raw.At(share);
                    return Math.Abs(scales[i].ToRaw(scales[i].ToEngineering(raw)) - raw) <= 1e-7;
                }
            );
    }
}
