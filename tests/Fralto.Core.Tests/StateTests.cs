using Fralto.Core.Commands;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>States: named, told by texts, and abnormal.</summary>
public sealed class StateTests
{
    private static readonly DateTimeOffset Start = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);

    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(
            new SaveStateList(
                null,
                "Door",
                "Door state",
                [new(0, "Closed", Key: "shut"), new(1, "Open", Key: "OPEN"), new(2, "Stuck", IsAbnormal: true)]
            ),
            "Door"
        )
        .Do(new SaveStateList(null, "Two", "Off and on", [new(0, "Off", IsAbnormal: true), new(1, "On")]), "Two")
        .Do(b => new SaveTag(null, b["plc"], "DOOR", RegisterArea.HoldingRegister, 10, RawType.Text, WordOrder.HighFirst, "", 16), "DOOR")
        .Do(b => new SaveTag(null, b["plc"], "FAN", RegisterArea.InputRegister, 30, RawType.UInt16, WordOrder.HighFirst, ""), "FAN")
        .Do(b => Property(b, "Door", PropertyKind.Command, PropertyType.State, "Door"), "PDoor")
        .Do(b => Property(b, "Fan", PropertyKind.Measured, PropertyType.Boolean, "Two"), "PFan")
        .Do(b => new Bind(b["KLN1"], b["PDoor"], b["DOOR"]))
        .Do(b => new Bind(b["KLN1"], b["PFan"], b["FAN"]));

    private static SaveProperty Property(PlantBuilder b, string name, PropertyKind kind, PropertyType type, string list) =>
        new(b["Kiln"], null, name, name, kind, type, new() { StateListId = b[list] });

    [Theory]
    [InlineData("shut", 0, false)]
    [InlineData("open", 1, false)]
    [InlineData("Stuck", 2, true)]
    [InlineData("2", 2, true)]
    public void A_text_is_the_state_it_says(string text, double value, bool isAbnormal)
    {
        var (engine, plan) = Engine();
        engine.Step(Text(text, 1));
        var now = engine.ValueOf(plan.PointIndexOf(_plant["KLN1"], _plant["PDoor"]));
        now.Value.ShouldBe(value);
        now.Status.ShouldBe(StatusCode.Good);
        now.IsAbnormalOf(plan.Points[plan.PointIndexOf(_plant["KLN1"], _plant["PDoor"])]).ShouldBe(isAbnormal);
    }

    [Fact]
    public void A_text_that_is_no_state_is_bad_and_says_so_and_the_next_good_one_heals_it()
    {
        var (engine, plan) = Engine();
        var point = plan.PointIndexOf(_plant["KLN1"], _plant["PDoor"]);
        engine.Step(Text("shut", 1), Text("ajar", 2));
        engine.ValueOf(point).Status.ShouldBe(StatusCode.BadOutOfRange);
        engine.ValueOf(point).Reason.ShouldBe("'ajar' is no state of Door state");
        engine.ValueOf(point).IsAbnormalOf(plan.Points[point]).ShouldBeFalse("what is Bad says nothing of the process");
        engine.Step(Text("OPEN", 3));
        engine.ValueOf(point).Status.ShouldBe(StatusCode.Good);
        engine.ValueOf(point).Value.ShouldBe(1);
    }

    [Fact]
    public void True_or_false_may_be_named_and_abnormal_too()
    {
        var (engine, plan) = Engine();
        var point = plan.PointIndexOf(_plant["KLN1"], _plant["PFan"]);
        engine.Step(new Sample(_plant["FAN"], 0, StatusCode.Good, Start.AddSeconds(1).UtcTicks));
        engine.ValueOf(point).IsAbnormalOf(plan.Points[point]).ShouldBeTrue();
        engine.Step(new Sample(_plant["FAN"], 1, StatusCode.Good, Start.AddSeconds(2).UtcTicks));
        engine.ValueOf(point).IsAbnormalOf(plan.Points[point]).ShouldBeFalse();
        plan.Points[point].States!.NameOf(1).ShouldBe("On");
    }

    [Fact]
    public void A_text_tag_is_told_a_state_as_it_says_it_itself()
    {
        CommandOrder? Order(string text) => CommandOrder.Read(_plant.Model, _plant["KLN1"], _plant["PDoor"], text, out _);
        Order("Open")!.Write.Text.ShouldBe("OPEN");
        Order("0")!.Write.Text.ShouldBe("shut");
        Order("stuck")!.Write.Text.ShouldBe("Stuck");
        CommandOrder.Read(_plant.Model, _plant["KLN1"], _plant["PDoor"], "ajar", out var problem).ShouldBeNull();
        problem!.ShouldContain("no state");
    }

    [Fact]
    public void What_would_stand_for_two_states_or_for_none_is_refused()
    {
        _plant
            .Refused(b => new SaveStateList(b["Door"], "Door", "Door state", [new(0, "Closed", Key: "x"), new(1, "Open", Key: "X")]))
            .ShouldContain(p => p.Message.Contains("0 and 1"));
        _plant
            .Refused(b => new SaveStateList(b["Door"], "Door", "Door state", [new(0, "Closed"), new(1, "Open", Key: "closed")]))
            .ShouldContain(p => p.Message.Contains("each state needs its own"));
        _plant
            .Refused(b => Property(b, "Lid", PropertyKind.Measured, PropertyType.Boolean, "Door"))
            .ShouldContain(p => p.Field == "StateListId" && p.Message.Contains("0 and 1 alone"));
        // Without states that names it, text is no state.
        BindingRules
            .Misfit(
                _plant.Model,
                _plant.Model.Index.PropertiesOf(_plant["Kiln"]).Single(p => p.Code == "AirOn"),
                _plant.Model.Tags[_plant["DOOR"]]
            )
            .ShouldNotBeNull();
    }

    [Fact]
    public void States_as_lines_of_text_come_back_and_a_line_that_is_none_is_quoted()
    {
        var list = _plant.Model.StateLists[_plant["Door"]];
        StateText.Of(list.States).ShouldBe("0 Closed = shut\n1 Open = OPEN\n2 Stuck !");
        StateText.Read(StateText.Of(list.States), out var problems).ShouldBe(list.States);
        StateText.Read(StateText.Of(list.States, "; "), out problems).ShouldBe(list.States);
        StateText.Read("3\tAway from home = away !", out problems).ShouldBe([new(3, "Away from home", true, "away")]);
        problems.ShouldBeEmpty();
        StateText.Read("0 Off\nOn\n2\n3 = x", out problems).Length.ShouldBe(1);
        problems.Length.ShouldBe(3);
        problems[0].ShouldStartWith("Line 2, 'On'");
    }

    [Fact]
    public void Common_lists_are_allowed_as_they_are()
    {
        foreach (var list in StateCatalogue.All)
        {
            EntityRules.Problems(list).ShouldBeEmpty(list.Name);
            new SaveStateList(null, list.Code, list.Name, list.States).On(_plant.Model).Problems.ShouldBeEmpty(list.Name);
        }
        StateCatalogue.All.Select(l => l.Code).ShouldBeUnique();
    }

    private Sample Text(string text, int second) =>
        new(_plant["DOOR"], double.NaN, StatusCode.Good, Start.AddSeconds(second).UtcTicks, Text: text);

    private (PlantEngine Engine, Plan Plan) Engine()
    {
        var (plan, _) = Planner.Compile(_plant.Model);
        return (new PlantEngine(plan), plan);
    }
}
