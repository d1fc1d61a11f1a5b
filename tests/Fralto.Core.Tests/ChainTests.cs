using CsCheck;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Pictures;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class ChainTests
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private static readonly Signal Loop = Signal.Of(SignalKind.Milliamps);

    [Theory]
    [Trait("source", "NAMUR NE 43; what becomes of values between 3.6 and 3.8 mA is the user's choice")]
    [InlineData(3.6, OutsideRule.Keep, "BadSensorFailure", null)]
    [InlineData(21.0, OutsideRule.Keep, "BadSensorFailure", null)]
    [InlineData(3.7, OutsideRule.Keep, "UncertainSensorNotAccurate", -1.875)]
    [InlineData(3.7, OutsideRule.Clamp, "UncertainSensorNotAccurate", -1.25)]
    [InlineData(3.7, OutsideRule.Bad, "BadOutOfRange", null)]
    [InlineData(20.7, OutsideRule.Clamp, "UncertainSensorNotAccurate", 103.125)]
    [InlineData(20.4, OutsideRule.Bad, "Good", 102.5)]
    [InlineData(12, OutsideRule.Bad, "Good", 50.0)]
    public void A_loop_out_of_its_signal_is_bad_or_uncertain(double current, OutsideRule outside, string status, double? value)
    {
        var result = new Chain(null, new LinearScale(Loop, new(0, 100)) { Outside = outside }, UnitConversion.None, new(-10, 110)).Compute(
            current
        );
        result.Status.Name.ShouldBe(status);
        if (value is { } expected)
            result.Value.ShouldBe(expected, 1e-9);
        else
            double.IsNaN(result.Value).ShouldBeTrue();
    }

    [Fact]
    public void The_reason_says_the_current_and_the_rule()
    {
        var chain = new Chain(null, new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 100)), UnitConversion.None, null);
        chain.Reason(-1638, StatusCode.BadSensorFailure)!.ShouldBe("3.2 mA: 3.6 mA or less is a sensor failure (NAMUR NE 43)");
        chain.Reason(-600, StatusCode.UncertainSensorNotAccurate)!.ShouldContain("3.71 mA is outside 3.8…20.5 mA");
    }

    [Fact]
    public void A_value_of_the_device_converts_into_the_propertys_unit_and_back()
    {
        var model = PlantModel.Empty;
        var chain = model.ChainOf(new() { Unit = "CEL", Range = new(0, 100) }, "FAH", null);
        chain.Compute(212).Value.ShouldBe(100, 1e-9);
        chain.Invert(37).ShouldBe(98.6, 1e-9);
        model
            .ChainOf(
                new()
                {
                    Unit = "CEL",
                    Range = new(0, 100),
                    Scale = new LinearScale(new Span(0, 10), new(32, 212)) { Unit = "FAH" },
                },
                null,
                null
            )
            .Compute(10)
            .Value.ShouldBe(100, 1e-9);
    }

    [Fact]
    public void The_engine_computes_what_the_chain_says_for_every_kind_of_scale() =>
        Gen.Select(Gen.Int[0, 6], Gen.Double[-0.2, 1.2], Gen.Enum<OutsideRule>())
            .Sample(
                (kind, share, outside) =>
                {
                    Scale? scale = kind switch
                    {
                        0 => new LinearScale(Loop, new(-50, 50)),
                        1 => new GainScale(Loop, 3, -4),
                        2 => new SquareRootScale(Loop, new(0, 60), 0.05),
                        3 => new TableScale(Loop, new(0, 18), [new(0, 0), new(3, 48), new(18, 588)]),
                        4 => new SensorScale(Loop, new(60, 300), SensorKind.Pt100),
                        5 => new LinearScale(new Span(20, 4), new(0, 100)),
                        _ => null,
                    };
                    if (scale is not null)
                        scale = scale with { Outside = outside };
                    var raw = Loop.Raw.At(share);
                    var facts = new PropertyPatch
                    {
                        Unit = kind == 4 ? "FAH" : "CEL",
                        Range = new(-60, 300),
                        Scale = scale,
                    };
                    var (engine, plant) = Running(facts, RawType.Float64);
                    engine.Step([new Sample(plant["TT11"], raw, StatusCode.Good, Noon.UtcTicks)]);
                    var expected = plant.Model.ChainOf(facts, null, null).Compute(raw);
                    var value = engine.ValueOf(0);
                    value.Status.ShouldBe(expected.Status);
                    if (!expected.Status.IsBad)
                        value.Value.ShouldBe(expected.Value, 1e-9 * Math.Max(1, Math.Abs(expected.Value)));
                    if (!expected.Status.IsGood)
                        value.Reason.ShouldNotBeNullOrEmpty();
                },
                iter: 300
            );

    [Fact]
    public void A_bad_signal_neither_raises_nor_clears_an_alarm()
    {
        var (engine, plant) = Running(
            new()
            {
                Unit = "CEL",
                Range = new(0, 100),
                Scale = new LinearScale(Loop, new(0, 100)),
                Limits = PlantBuilder.Celsius((LimitCondition.Low, 20, 1, 2)).Limits,
            },
            RawType.Float64
        );
        engine.Step([
            new Sample(plant["TT11"], 12, StatusCode.Good, Noon.UtcTicks),
            new Sample(plant["TT11"], 3.1, StatusCode.Good, Noon.AddSeconds(1).UtcTicks),
        ]);
        engine.Output.Events.ShouldBeEmpty();
        engine.ValueOf(0).Status.ShouldBe(StatusCode.BadSensorFailure);
        engine.ValueOf(0).Value.ShouldBe(50, 1e-9);
    }

    [Fact]
    public void Samples_allocate_nothing_whatever_the_scale()
    {
        foreach (
            var scale in new Scale[]
            {
                new LinearScale(Loop, new(0, 100)),
                new SquareRootScale(Loop, new(0, 100), 0.05),
                new TableScale(Loop, new(0, 1), [new(0, 0), new(0.3, 10), new(1, 100)]),
                new SensorScale(Loop, new(100, 300), SensorKind.Pt100),
            }
        )
        {
            var (engine, plant) = Running(
                new()
                {
                    Unit = "CEL",
                    Range = new(0, 100),
                    Scale = scale,
                },
                RawType.Float64
            );
            var samples = Enumerable
                .Range(0, 1000)
                .Select(i => new Sample(plant["TT11"], 4 + i * 0.016, StatusCode.Good, Noon.UtcTicks + i))
                .ToArray();
            var at = Moment.At(Noon);
            engine.Step(samples, at);
            var before = GC.GetAllocatedBytesForCurrentThread();
            engine.Step(samples, at);
            (GC.GetAllocatedBytesForCurrentThread() - before).ShouldBeLessThan(200, scale.Words);
        }
    }

    [Fact]
    public void An_element_of_an_array_and_bits_of_a_word_feed_properties_of_their_own()
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(
                b => new SaveTag(null, b["plc"], "CONTACTS", RegisterArea.InputRegister, 10, RawType.Bool, WordOrder.HighFirst, "", 64),
                "CONTACTS"
            )
            .Do(b => new SaveTag(null, b["plc"], "ST", RegisterArea.InputRegister, 20, RawType.UInt16, WordOrder.HighFirst, ""), "ST")
            .Do(
                b => new SaveProperty(b["Kiln"], null, "Run", "Run", PropertyKind.Measured, PropertyType.Boolean, PropertyPatch.Empty),
                "Run"
            )
            .Do(
                b => new SaveProperty(b["Kiln"], null, "Phase", "Phase", PropertyKind.Measured, PropertyType.Integer, PropertyPatch.Empty),
                "Phase"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Auto",
                    "Automatic",
                    PropertyKind.Measured,
                    PropertyType.Boolean,
                    PropertyPatch.Empty
                ),
                "Auto"
            )
            .Do(b => new Bind(b["KLN1"], b["Run"], b["CONTACTS"], new Slice(33)))
            .Do(b => new Bind(b["KLN1"], b["Phase"], b["ST"], new Slice(null, 4, 3)))
            .Do(b => new Bind(b["KLN1"], b["Auto"], b["ST"], new Slice(null, 0)));
        var engine = new PlantEngine(Planner.Compile(plant.Model).Plan);
        engine.Step(
            [
                new Sample(plant["CONTACTS"], 0, StatusCode.Good, Noon.UtcTicks, null, 32),
                new Sample(plant["CONTACTS"], 1, StatusCode.Good, Noon.UtcTicks, null, 33),
                new Sample(plant["CONTACTS"], 1, StatusCode.Good, Noon.UtcTicks, null, 64),
                new Sample(plant["ST"], 0b0101_0001, StatusCode.Good, Noon.UtcTicks),
            ],
            Moment.At(Noon)
        );
        double Of(string property) => engine.ValueOf(engine.Plan.PointIndexOf(plant["KLN1"], plant[property])).Value;
        (Of("Run"), Of("Phase"), Of("Auto")).ShouldBe((1d, 5d, 1d));
        plant.Refused(b => new Bind(b["KLN1"], b["Run"], b["CONTACTS"])).Single().Message.ShouldContain("say which, from [0] to [63]");
        plant.Refused(b => new Bind(b["KLN1"], b["Run"], b["CONTACTS"], new Slice(64))).Single().Message.ShouldContain("[0] to [63]");
        plant.Refused(b => new Bind(b["KLN1"], b["Run"], b["ST"], new Slice(null, 16))).Single().Message.ShouldContain(".0 to .15");
        plant.Refused(b => new Bind(b["KLN1"], b["Run"], b["ST"], new Slice(null, 5))).Single().Message.ShouldContain("already feeds");
        plant.Refused(b => new Bind(b["KLN1"], b["Run"], b["TT11"], new Slice(0))).Single().Message.ShouldContain("single int16");
    }

    [Fact]
    public void A_tag_of_text_feeds_a_property_of_text()
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(
                b => new SaveTag(null, b["plc"], "PLATE", RegisterArea.InputRegister, 10, RawType.Text, WordOrder.HighFirst, "", 16),
                "PLATE"
            )
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Plate",
                    "Type plate",
                    PropertyKind.Measured,
                    PropertyType.Text,
                    PropertyPatch.Empty
                ),
                "Plate"
            )
            .Do(b => new Bind(b["KLN1"], b["Plate"], b["PLATE"]));
        var engine = new PlantEngine(Planner.Compile(plant.Model).Plan);
        engine.Step([new Sample(plant["PLATE"], double.NaN, StatusCode.Good, Noon.UtcTicks, null, 0, "K-200")]);
        var value = engine.ValueOf(engine.Plan.PointIndexOf(plant["KLN1"], plant["Plate"]));
        (value.Text, value.Status).ShouldBe(("K-200", StatusCode.Good));
        plant.Refused(b => new Bind(b["KLN1"], b["AirOn"], b["PLATE"])).Single().Message.ShouldContain("is text");
    }

    [Fact]
    public void A_tag_in_a_unit_of_another_dimension_is_refused_and_one_of_the_same_converts()
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Air",
                    "Air",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "CEL", Range = new(0, 100) }
                ),
                "Air"
            )
            .Do(
                b => new SaveTag(null, b["plc"], "DEGF", RegisterArea.InputRegister, 4, RawType.Float32, WordOrder.HighFirst, "", 1, "FAH"),
                "DEGF"
            )
            .Do(
                b => new SaveTag(null, b["plc"], "BAR", RegisterArea.InputRegister, 6, RawType.Float32, WordOrder.HighFirst, "", 1, "BAR"),
                "BAR"
            );
        plant
            .Refused(b => new Bind(b["KLN1"], b["Air"], b["BAR"]))
            .Single()
            .Message.ShouldContain("bar (pressure), Air is in °C (temperature)");
        plant.Do(b => new Bind(b["KLN1"], b["Air"], b["DEGF"]));
        var engine = new PlantEngine(Planner.Compile(plant.Model).Plan);
        engine.Step([new Sample(plant["DEGF"], 98.6, StatusCode.Good, Noon.UtcTicks)]);
        engine.ValueOf(engine.Plan.PointIndexOf(plant["KLN1"], plant["Air"])).Value.ShouldBe(37, 1e-9);
        plant
            .Refused(b => new SaveTag(
                b["DEGF"],
                b["plc"],
                "DEGF",
                RegisterArea.InputRegister,
                4,
                RawType.Float32,
                WordOrder.HighFirst,
                "",
                1,
                "KGM"
            ))
            .Single()
            .Message.ShouldContain("no factor leads");
    }

    [Fact]
    public void The_stages_add_up_to_the_value_and_each_says_its_number()
    {
        var (_, plant) = Running(
            new()
            {
                Unit = "CEL",
                Range = new(0, 120),
                Scale = new LinearScale(Signal.Of(SignalKind.Counts15), new(32, 248)) { Unit = "FAH" },
            },
            RawType.Int16
        );
        var property = plant.Model.Index.PropertiesOf(plant["Kiln"]).Single();
        var (tag, chain) = (plant.Model.Tags[plant["TT11"]], plant.Model.ChainOf(property.Facts, null, null));
        var report = ChainReport.Of(chain, tag, null, [0x4000], property, plant.Model.Units);
        report.Stages.Select(s => s.Name).ShouldBe(["Bytes", "Raw value", "Signal", "Scale", "Unit", "Value"]);
        report.Stages[0].Number.ShouldBe("40 00");
        report.Stages[1].Number.ShouldBe("16384");
        report.Stages[2].Number.ShouldStartWith("50.0");
        report.Stages[2].Number.ShouldContain("12.00 mA");
        report.Result.Value.ShouldBe(chain.Compute(16384).Value);
        var typed = ChainReport.Of(chain, tag, null, 16383.6, property, plant.Model.Units);
        typed.Stages[1].Objection!.ShouldContain("rounded");
        typed.Raw.ShouldBe(16384);
        ChainReport.Of(chain, tag, null, 70000, property, plant.Model.Units).Stages[0].Objection!.ShouldContain("does not fit int16");
    }

    [Fact]
    public void A_signal_its_tag_cannot_reach_is_a_finding()
    {
        var (_, plant) = Running(
            new()
            {
                Unit = "CEL",
                Range = new(0, 120),
                Scale = new LinearScale(Signal.Of(SignalKind.Counts16), new(0, 120)),
            },
            RawType.Int16
        );
        var finding = Planner.Compile(plant.Model).Findings.Single(f => f.Code == Planner.SignalOutOfReach);
        finding.Message.ShouldContain("0…65535");
        finding.Message.ShouldContain("int16");
    }

    private static (PlantEngine Engine, PlantBuilder Plant) Running(PropertyPatch facts, RawType type)
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(b => new SaveTag(b["TT11"], b["plc"], "TT11", RegisterArea.InputRegister, 0, type, WordOrder.HighFirst, ""))
            .Do(b => new SaveProperty(
                b["Kiln"],
                b["AirOn"],
                "AirOn",
                "Air-on temperature",
                PropertyKind.Measured,
                PropertyType.Number,
                facts
            ));
        return (new PlantEngine(Planner.Compile(plant.Model).Plan), plant);
    }
}
