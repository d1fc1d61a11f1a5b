using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>No edit, however it came about, leaves a model that refers to what is not there or says one thing twice.</summary>
public sealed class SoundnessTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln();

    [Fact]
    public void A_state_list_that_only_an_instance_uses_stays()
    {
        _plant
            .Do(new SaveStateList(null, "Phase", "Phase", [new(0, "Idle"), new(1, "Dry")]), "Phase")
            .Do(new SaveStateList(null, "Own", "Own", [new(0, "Off"), new(1, "On")]), "Own")
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Step",
                    "Step",
                    PropertyKind.Measured,
                    PropertyType.State,
                    new() { StateListId = b["Phase"] }
                ),
                "Step"
            )
            .Do(b => new PatchProperty([b["KLN1"]], b["Step"], new() { StateListId = b["Own"] }, []));
        _plant.Refused(b => new RemoveStateList(b["Own"])).Single().Message.ShouldContain("Corvane/Quay/KLN1");
        ModelFormat.Write(_plant.Model).ShouldNotBeEmpty();
    }

    [Fact]
    public void Adding_a_unit_is_not_taken_back_while_anything_uses_it()
    {
        var added = Change(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
        (string Who, Edit Edit)[] users =
        [
            (
                "Tag TT12",
                new SaveTag(null, _plant["plc"], "TT12", RegisterArea.InputRegister, 9, RawType.Int16, WordOrder.HighFirst, "", 1, "BAG25")
            ),
            ("The scale Bags", new SaveScale(null, "Bags", "Bags", "", new LinearScale(new Span(0, 100), new(0, 10)) { Unit = "BAG25" })),
            (
                "A property of Kiln",
                new SaveProperty(
                    _plant["Kiln"],
                    null,
                    "Load",
                    "Load",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new() { Unit = "BAG25", Range = new(0, 10) }
                )
            ),
            (
                "The point Load of Drive",
                new SaveLayout(
                    null,
                    "Drive",
                    "Drive",
                    "_",
                    [new(0, "Load", RegisterArea.InputRegister, 0, null, RawType.Int16, WordOrder.HighFirst, 1, "BAG25")]
                )
            ),
        ];
        foreach (var (who, edit) in users)
        {
            var used = edit.On(_plant.Model);
            used.Problems.ShouldBeEmpty();
            var model = _plant.Model.Apply(used.Changes);
            var back = new TakeBack("back", added.Changes).On(model);
            back.IsRefused.ShouldBeTrue(who);
            back.Problems[0].Message.ShouldContain($"{who} uses the unit BAG25, which no longer exists");
            new RemoveOwnUnit(model.OwnUnits.Keys.Single()).On(model).IsRefused.ShouldBeTrue(who);
        }
        new TakeBack("back", added.Changes).On(_plant.Model).IsRefused.ShouldBeFalse();
    }

    [Fact]
    public void A_unit_taken_out_and_added_again_is_not_there_twice_when_the_removal_is_taken_back()
    {
        Change(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
        var removed = Change(new RemoveOwnUnit(_plant.Model.OwnUnits.Keys.Single()));
        Change(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
        var back = new TakeBack("back", removed.Changes).On(_plant.Model);
        back.Problems.ShouldContain(p => p.Message.Contains("The unit code BAG25 would stand twice", StringComparison.Ordinal));
    }

    [Fact]
    public void What_was_wrong_before_is_no_reason_to_refuse_an_edit_that_makes_it_no_worse()
    {
        var model = _plant.Model with
        {
            Tags = _plant.Model.Tags.SetItem(_plant["TT11"], _plant.Model.Tags[_plant["TT11"]] with { Unit = "GONE1" }),
        };
        var rename = new SaveTag(
            _plant["TT11"],
            _plant["plc"],
            "TT99",
            RegisterArea.InputRegister,
            0,
            RawType.Int16,
            WordOrder.HighFirst,
            "",
            1,
            null
        ).On(model);
        Integrity.NewProblems(model, model.Apply(rename.Changes), rename.Changes).ShouldBeEmpty();
        ModelChange[] worse = [new(model.Templates[_plant["Kiln"]], null)];
        Integrity.NewProblems(model, model.Apply(worse), worse).ShouldNotBeEmpty();
    }

    private EditOutcome Change(Edit edit)
    {
        var outcome = edit.On(_plant.Model);
        _plant.Do(edit);
        return outcome;
    }
}
