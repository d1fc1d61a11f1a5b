using Fralto.Core.Bindings;
using Fralto.Core.Commands;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Commands turned round into raw values, and bindings that are simulated.</summary>
public sealed class CommandTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(b => new SaveTag(null, b["plc"], "SP", RegisterArea.HoldingRegister, 0, RawType.Int16, WordOrder.HighFirst, ""), "SP")
        .Do(b => new SaveTag(null, b["plc"], "RO", RegisterArea.InputRegister, 9, RawType.Int16, WordOrder.HighFirst, ""), "RO")
        .Do(b => new SaveTag(null, b["plc"], "STW", RegisterArea.HoldingRegister, 1, RawType.UInt16, WordOrder.HighFirst, ""), "STW")
        .Do(new SaveStateList(null, "Mode", "Mode", [new(0, "Off"), new(1, "Hand"), new(2, "Auto")]), "Mode")
        .Do(
            b => new SaveProperty(
                b["Kiln"],
                null,
                "Set",
                "Setpoint",
                PropertyKind.Command,
                PropertyType.Number,
                new()
                {
                    Unit = "CEL",
                    Range = new(0, 120),
                    Scale = new LinearScale(new Span(0, 32767), new(0, 120)),
                }
            ),
            "Set"
        )
        .Do(
            b => new SaveProperty(
                b["Kiln"],
                null,
                "Mode",
                "Mode",
                PropertyKind.Command,
                PropertyType.State,
                new() { StateListId = b["Mode"] }
            ),
            "ModeOf"
        )
        .Do(b => new Bind(b["KLN1"], b["Set"], b["SP"]))
        .Do(b => new Bind(b["KLN1"], b["ModeOf"], b["STW"], Slice.Parse(".4-5")));

    private PlantModel Model => _plant.Model;

    /// <summary>standards.md 3.2, linear: 60 of 0…120 on 0…32767 is 16383.5, rounded half away from zero.</summary>
    [Fact]
    public void A_value_goes_through_the_inverse_scale_and_is_rounded_to_the_raw_type()
    {
        var order = Read("Set", "60", out _)!;
        order.Write.Raw.ShouldBe(16384);
        order.Effective.ShouldBe(16384 * 120.0 / 32767, 1e-9);
        (order.Path, order.Text).ShouldBe(("Corvane/Quay/KLN1/Set", "60 °C"));
    }

    [Theory]
    [InlineData("Auto", 2)]
    [InlineData("hand", 1)]
    [InlineData("0", 0)]
    public void A_state_is_said_by_name_or_number_and_goes_into_its_bits_alone(string text, int value)
    {
        var write = Read("ModeOf", text, out _)!.Write;
        write.Raw.ShouldBe(value);
        // Bits 4 and 5 of 0xFFCF are clear, the others set: they stay so.
        write.Into(0xFFCF).ShouldBe(0xFFCF | (value << 4));
        write.Into(0).ShouldBe(value << 4);
    }

    [Theory]
    [InlineData("Set", "", "Give the value")]
    [InlineData("Set", "warm", "no number")]
    [InlineData("Set", "121", "outside the range, 0 to 120")]
    [InlineData("Set", "NaN", "no number")]
    [InlineData("ModeOf", "Autp", "did you mean Auto")]
    [InlineData("AirOn", "5", "only a command")]
    public void What_cannot_be_given_says_why(string property, string text, string says)
    {
        Read(property, text, out var problem).ShouldBeNull();
        problem!.ShouldContain(says);
    }

    [Fact]
    public void A_tag_that_devices_only_let_read_takes_no_command_and_neither_does_a_simulated_one()
    {
        _plant.Do(b => new Simulate([(b["KLN1"], b["Set"])], SimulationShape.Wave));
        Read("Set", "60", out var simulated).ShouldBeNull();
        simulated!.ShouldContain("being simulated");
        _plant.Do(b => new Simulate([(b["KLN1"], b["Set"])], null)).Do(b => new Bind(b["KLN1"], b["Set"], b["RO"]));
        Read("Set", "60", out var problem).ShouldBeNull();
        problem!.ShouldContain("only let read");
    }

    [Theory]
    [InlineData(RawType.UInt8, "256", "does not fit uint8")]
    [InlineData(RawType.Bool, "2", "neither 0 nor 1")]
    [InlineData(RawType.Int16, "x", "is no number")]
    public void A_raw_value_that_does_not_fit_is_refused(RawType type, string text, string says)
    {
        TagWrite.Read(new Tag(1, 2, "T", new MemoryAddress(), type, WordOrder.HighFirst, ""), text, out var problem).ShouldBeNull();
        problem!.ShouldContain(says);
    }

    [Theory]
    [InlineData(SimulationShape.Held, 0, 10)]
    [InlineData(SimulationShape.Wave, 0, 10)]
    [InlineData(SimulationShape.Wave, 30, 20)]
    [InlineData(SimulationShape.Wave, 60, 10)]
    [InlineData(SimulationShape.Ramp, 15, 15)]
    [InlineData(SimulationShape.Ramp, 45, 15)]
    [InlineData(SimulationShape.Steps, 0, 10)]
    [InlineData(SimulationShape.Steps, 59.9, 20)]
    public void A_simulated_value_moves_between_its_ends(SimulationShape shape, double seconds, double value) =>
        new Simulation(1, shape, 10, 20, TimeSpan.FromMinutes(1)).At(TimeSpan.FromSeconds(seconds)).ShouldBe(value, 0.2);

    [Fact]
    public void A_simulated_binding_runs_without_its_tag_is_marked_and_goes_back()
    {
        _plant.Do(b => new Simulate([(b["KLN1"], b["AirOn"])], SimulationShape.Wave));
        var (plan, findings) = Planner.Compile(Model);
        findings.ShouldContain(f => f.Code == Planner.Simulated && f.Message.Contains("TT11 is not heard"));
        var engine = new PlantEngine(plan);
        var now = DateTimeOffset.UnixEpoch.AddYears(50);
        var simulation = Model.Index.Simulations.Single().Simulation!;
        engine.Step([new(Model.Bindings[(_plant["KLN1"], _plant["AirOn"])].TagId, 32767, StatusCode.Good, now.UtcTicks)]);
        var point = plan.PointIndexOf(_plant["KLN1"], _plant["AirOn"]);
        engine.ValueOf(point).Status.ShouldBe(StatusCode.BadWaitingForInitialData, "the tag itself is not heard");
        engine.Step([new(simulation.TagId, 66, StatusCode.UncertainSimulatedValue, now.UtcTicks, "simulated")]);
        (engine.ValueOf(point).Value, engine.ValueOf(point).Status).ShouldBe((66, StatusCode.UncertainSimulatedValue));
        engine.Step([new(simulation.TagId, 130, StatusCode.GoodLocalOverride, now.UtcTicks, "held")]);
        engine
            .ValueOf(point)
            .Status.ShouldBe(StatusCode.UncertainEngineeringUnitsExceeded, "outside its range is said even of a held value");
        _plant.Do(b => new Simulate([(b["KLN1"], b["AirOn"])], null));
        Model.Index.Simulations.ShouldBeEmpty();
        Planner.Compile(Model).Findings.ShouldNotContain(f => f.Code == Planner.Simulated);
    }

    [Fact]
    public void Ends_come_from_the_range_or_the_states_and_wrong_ones_are_refused()
    {
        _plant.Do(b => new Simulate([(b["KLN1"], b["AirOn"]), (b["KLN1"], b["ModeOf"])], SimulationShape.Wave, PeriodSeconds: 10));
        var all = Model.Index.Simulations.Select(b => b.Simulation!).ToArray();
        all.ShouldContain(s => s.Shape == SimulationShape.Wave && s.Low == 0 && s.High == 120);
        all.ShouldContain(s => s.Shape == SimulationShape.Steps && s.Low == 0 && s.High == 2);
        all.Select(s => s.TagId).ShouldBeUnique();
        _plant
            .Refused(b => new Simulate([(b["KLN1"], b["Set"])], SimulationShape.Ramp, 9, 3))
            .Single()
            .Message.ShouldContain("low not above high");
        _plant
            .Refused(b => new Simulate([(b["KLN1"], b["Set"])], SimulationShape.Ramp, PeriodSeconds: 0.1))
            .Single()
            .Field.ShouldBe("PeriodSeconds");
        _plant.Refused(b => new Simulate([(b["KLN1"], 99999)], SimulationShape.Ramp)).Single().Message.ShouldContain("bind it first");
    }

    private CommandOrder? Read(string property, string text, out string? problem) =>
        CommandOrder.Read(Model, _plant["KLN1"], _plant[property], text, out problem);
}
