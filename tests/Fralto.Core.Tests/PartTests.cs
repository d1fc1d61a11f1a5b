using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Rules;

namespace Fralto.Core.Tests;

/// <summary>A kiln has a main fan and two load cells; a fan has a motor.</summary>
public sealed class PartTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(new SaveTemplate(null, "Motor", "Motor", null, ""), "Motor")
        .Do(new SaveTemplate(null, "Fan", "Fan", null, ""), "Fan")
        .Do(new SaveTemplate(null, "LoadCell", "Load cell", null, ""), "LoadCell")
        .Do(b => new SavePart(b["Fan"], null, "Motor", "Motor", b["Motor"], EquipmentLevel.ControlModule, 1), "FanMotor")
        .Do(b => new SavePart(b["Kiln"], null, "MainFan", "Main fan", b["Fan"], EquipmentLevel.EquipmentModule, 1), "MainFan")
        .Do(b => new SavePart(b["Kiln"], null, "LC{n}", "Load cell {n}", b["LoadCell"], EquipmentLevel.ControlModule, 2), "Cells");

    [Fact]
    public void One_action_makes_an_instance_with_its_parts_and_theirs()
    {
        var outcome = new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, _plant["Quay"], _plant["Kiln"]).On(_plant.Model);
        var model = _plant.Model.Apply(outcome.Changes);
        outcome.Summary.ShouldBe("Add Kiln 2 with 4 parts");
        model
            .Index.Below(model.Index.Find("Corvane/Quay/KLN2")!.Id)
            .Select(e => model.Index.PathOf(e.Id))
            .ShouldBe([
                "Corvane/Quay/KLN2",
                "Corvane/Quay/KLN2/MainFan",
                "Corvane/Quay/KLN2/MainFan/Motor",
                "Corvane/Quay/KLN2/LC1",
                "Corvane/Quay/KLN2/LC2",
            ]);
        model
            .Index.Find("Corvane/Quay/KLN2/LC2")!
            .ShouldSatisfyAllConditions(e => e.Name.ShouldBe("Load cell 2"), e => e.PartId.ShouldBe(_plant["Cells"]));
        model.Apply(outcome.Inverse.ToArray()).Equipment.ShouldBe(_plant.Model.Equipment);
    }

    [Fact]
    public void A_series_makes_the_parts_of_every_member()
    {
        _plant.Do(b => new AddSeries(b["Quay"], EquipmentLevel.Unit, b["Kiln"], new("Kiln {n}", "K{n}", 2, 1, 3, 1)));
        _plant.Model.Index.InstanceCountOf(_plant["Fan"]).ShouldBe(3);
        _plant.Model.Index.InstanceCountOf(_plant["LoadCell"]).ShouldBe(6);
    }

    [Fact]
    public void A_part_added_later_is_missed_at_existing_instances_and_offered_to_them()
    {
        Planner
            .Compile(_plant.Model)
            .Findings.Of(_plant["KLN1"])
            .Select(f => f.Message)
            .ShouldContain("Main fan is a part of its template and missing");
        var offer = new AddParts([_plant["KLN1"]]).On(_plant.Model);
        offer.Summary.ShouldBe("add 4 nodes to 1 instance that lacked parts");
        var model = _plant.Model.Apply(offer.Changes);
        Planner.Compile(model).Findings.Of(_plant["KLN1"]).ShouldNotContain(f => f.Code == Planner.MissingPart);
        new AddParts([_plant["KLN1"]]).On(model).Changes.ShouldBeEmpty();
    }

    [Fact]
    public void A_new_part_can_be_given_to_all_instances_in_the_same_edit()
    {
        _plant.Do(b => new SavePart(b["Kiln"], null, "Door", "Door", b["LoadCell"], EquipmentLevel.ControlModule, 1, WithInstances: true));
        _plant.Model.Index.Find("Corvane/Quay/KLN1/Door").ShouldNotBeNull();
    }

    [Fact]
    public void What_a_hand_has_put_there_under_the_code_of_a_part_is_not_made_twice()
    {
        _plant.Do(b => new SaveEquipment(null, "MainFan", "Old fan", EquipmentLevel.EquipmentModule, b["KLN1"], null));
        _plant.Do(b => new AddParts([b["KLN1"]]));
        _plant.Model.Index.ChildrenOf(_plant["KLN1"]).Select(e => e.Code).ShouldBe(["MainFan", "LC1", "LC2"]);
    }

    [Theory]
    [InlineData("Motor", "Kiln")]
    [InlineData("Motor", "Fan")]
    [InlineData("Fan", "Fan")]
    public void Nothing_can_be_a_part_of_itself(string whole, string part) =>
        _plant
            .Refused(b => new SavePart(b[whole], null, "Inner", "Inner", b[part], EquipmentLevel.ControlModule, 1))
            .ShouldHaveSingleItem()
            .Field.ShouldBe("PartTemplateId");

    [Fact]
    public void A_descendant_inherits_parts_and_so_cannot_be_one_of_them()
    {
        _plant.Do(b => new SaveTemplate(null, "DrumKiln", "Drum kiln", b["Kiln"], ""), "DrumKiln");
        _plant.Model.Index.PartsOf(_plant["DrumKiln"]).Select(p => p.Code).ShouldBe(["MainFan", "LC{n}"]);
        _plant.Refused(b => new SavePart(b["Motor"], null, "X", "X", b["DrumKiln"], EquipmentLevel.ControlModule, 1));
        _plant
            .Refused(b => new SavePart(b["DrumKiln"], null, "MainFan", "Second fan", b["Fan"], EquipmentLevel.EquipmentModule, 1))
            .ShouldHaveSingleItem()
            .Message.ShouldContain("has the code MainFan");
    }

    [Fact]
    public void Several_of_a_part_need_a_number_in_their_code() =>
        _plant
            .Refused(b => new SavePart(b["Kiln"], null, "Probe", "Probe", b["LoadCell"], EquipmentLevel.ControlModule, 3))
            .ShouldHaveSingleItem()
            .Message.ShouldContain("Probe{n}");

    [Fact]
    public void A_part_taken_off_leaves_what_was_made_or_takes_it_along()
    {
        _plant.Do(b => new AddParts([b["KLN1"]]));
        var left = _plant.Model.Apply(new RemovePart(_plant["Kiln"], _plant["MainFan"], WithInstances: false).On(_plant.Model).Changes);
        left.Index.Find("Corvane/Quay/KLN1/MainFan")!.PartId.ShouldBeNull();
        var gone = new RemovePart(_plant["Kiln"], _plant["MainFan"], WithInstances: true).On(_plant.Model);
        gone.Summary.ShouldBe("Take the part Main fan off Kiln with 2 nodes of the plant and 0 bindings");
        _plant.Model.Apply(gone.Changes).Index.Find("Corvane/Quay/KLN1/MainFan").ShouldBeNull();
    }

    [Fact]
    public void Taking_a_template_out_says_what_goes_and_comes_back_whole()
    {
        _plant.Do(b => new AddParts([b["KLN1"]]));
        _plant
            .Refused(b => new RemoveTemplate(b["Fan"]))
            .ShouldHaveSingleItem()
            .Message.ShouldBe("Fan has 1 instance and 0 descendants, and is a part of Kiln; take those out first, or all together.");
        var outcome = new RemoveTemplate(_plant["Kiln"], WithAll: true).On(_plant.Model);
        outcome.Summary.ShouldBe("Take out template Kiln with 0 descendants, 5 nodes of the plant and 1 binding");
        var next = _plant.Model.Apply(outcome.Changes);
        Integrity.Problems(next).ShouldBeEmpty();
        var back = next.Apply(outcome.Inverse.ToArray());
        back.Templates.ShouldBe(_plant.Model.Templates, ignoreOrder: true);
        back.Equipment.ShouldBe(_plant.Model.Equipment, ignoreOrder: true);
        back.Bindings.ShouldBe(_plant.Model.Bindings);

        next = _plant.Model.Apply(new RemoveTemplate(_plant["Fan"], WithAll: true).On(_plant.Model).Changes);
        next.Templates[_plant["Kiln"]].Parts.Select(p => p.Code).ShouldBe(["LC{n}"]);
        Integrity.Problems(next).ShouldBeEmpty();
    }

    [Fact]
    public void A_template_stands_only_at_the_levels_it_names()
    {
        _plant.Do(b => new SaveTemplate(b["Kiln"], "Kiln", "Kiln", null, "", [EquipmentLevel.Unit]));
        _plant
            .Refused(b => new SaveEquipment(null, "K", "K", EquipmentLevel.WorkUnit, b["Quay"], b["Kiln"]))
            .ShouldHaveSingleItem()
            .Message.ShouldBe("Kiln stands at the level unit, not at work unit.");
        _plant
            .Refused(b => new SaveTemplate(b["Kiln"], "Kiln", "Kiln", null, "", [EquipmentLevel.WorkCell]))
            .ShouldHaveSingleItem()
            .Message.ShouldStartWith("Corvane/Quay/KLN1 is a unit");
        _plant
            .Refused(b => new SaveTemplate(b["Fan"], "Fan", "Fan", null, "", [EquipmentLevel.Unit]))
            .ShouldHaveSingleItem()
            .Message.ShouldContain("Kiln has it as the part Main fan");
    }

    [Fact]
    public void A_moved_part_is_no_longer_a_part()
    {
        _plant
            .Do(b => new AddParts([b["KLN1"]]))
            .Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, b["Quay"], null), "KLN2");
        var fan = _plant.Model.Index.Find("Corvane/Quay/KLN1/MainFan")!.Id;
        _plant.Do(b => new MoveEquipment(fan, b["KLN2"]));
        _plant.Model.Equipment[fan].PartId.ShouldBeNull();
        Planner.Compile(_plant.Model).Findings.Of(_plant["KLN1"]).ShouldContain(f => f.Code == Planner.MissingPart);
    }
}
