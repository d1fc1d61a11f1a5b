using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Tests;

public sealed class PlantEditTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(b => new SaveEquipment(null, "Ash", "Ashholt", EquipmentLevel.Site, b["Corvane"], null), "Ash")
        .Do(b => new SaveEquipment(null, "EM1", "Main fan", EquipmentLevel.EquipmentModule, b["KLN1"], null), "EM1");

    [Fact]
    public void A_series_is_named_by_its_pattern()
    {
        new SeriesPattern("Silo {n}", "S{n}", 5, 5, 3, 3).Members.ShouldBe([
            ("Silo 005", "S005"),
            ("Silo 010", "S010"),
            ("Silo 015", "S015"),
        ]);
        new SeriesPattern("Down {n}", "D{n}", 3, -1, 3, 1).Members.Select(m => m.Code).ShouldBe(["D3", "D2", "D1"]);
    }

    [Fact]
    public void Hundreds_are_added_as_one_edit()
    {
        var outcome = new AddSeries(_plant["Quay"], EquipmentLevel.Unit, _plant["Kiln"], new("Kiln {n}", "K{n}", 1, 1, 300, 3)).On(
            _plant.Model
        );
        outcome.Summary.ShouldBe("Add 300 members Kiln 001 … Kiln 300 below Tarn Quay");
        var model = _plant.Model.Apply(outcome.Changes);
        model.Index.InstancesOf(_plant["Kiln"]).Count().ShouldBe(301);
        Integrity.Problems(model).ShouldBeEmpty();
        model.Apply(outcome.Inverse).Equipment.Count.ShouldBe(_plant.Model.Equipment.Count);
    }

    [Theory]
    [InlineData("Kiln {n}", "K", 1, 1, 3, 1, "Code", "Put {n} where the number goes")]
    [InlineData("Kiln {n}", "KLN{n}", 1, 1, 3, 1, "Code", "already has KLN1.")]
    [InlineData("Kiln {n}", "{n}", 1, 1, 3, 1, "Code", "starts with a letter")]
    [InlineData("Kiln {n}", "K{n}", 1, 0, 3, 1, "Step", "not 0")]
    [InlineData("Kiln {n}", "K{n}", 1, 1, 1001, 1, "Count", "1 to 1000")]
    [InlineData("Kiln {n}", "K{n}", 1, -1, 3, 1, "Start", "below 0")]
    [InlineData("<{n}>", "K{n}", 1, 1, 3, 1, "Name", "< or >")]
    public void A_series_that_cannot_be_is_refused_whole(
        string name,
        string code,
        int start,
        int step,
        int count,
        int digits,
        string field,
        string words
    ) =>
        _plant
            .Refused(b => new AddSeries(b["Quay"], EquipmentLevel.Unit, b["Kiln"], new(name, code, start, step, count, digits)))
            .ShouldContain(p => p.Field == field && p.Message.Contains(words));

    [Fact]
    public void A_copy_has_everything_below_it_and_what_is_set_there_with_ids_of_its_own()
    {
        _plant.Do(b => PatchProperty.Exactly(b["KLN1"], b["AirOn"], new() { Description = "old sensor" }));
        var outcome = new CopyEquipment(_plant["Quay"], _plant["Corvane"], "Quay2", "Second quay", false).On(_plant.Model);
        outcome.Summary.ShouldBe("Copy Tarn Quay to Second quay with 2 nodes below it and 0 bindings");
        var model = _plant.Model.Apply(outcome.Changes);
        Integrity.Problems(model).ShouldBeEmpty();
        var kiln = model.Index.EquipmentInOrder.Single(e => model.Index.PathOf(e.Id) == "Corvane/Quay2/KLN1");
        kiln.Id.ShouldNotBe(_plant["KLN1"]);
        kiln.Patches[_plant["AirOn"]].Description.ShouldBe("old sensor");
        model.Index.ChildrenOf(kiln.Id).Single().Name.ShouldBe("Main fan");
        model.Bindings.Count.ShouldBe(1);
    }

    [Fact]
    public void A_copy_with_bindings_reads_the_same_tags()
    {
        var model = _plant.Model.Apply(
            new CopyEquipment(_plant["KLN1"], _plant["Ash"], "KLN1", "Kiln copy", true).On(_plant.Model).Changes
        );
        model.Index.BindingsOf(_plant["TT11"]).Count().ShouldBe(2);
    }

    [Fact]
    public void A_moved_subtree_keeps_ids_and_bindings()
    {
        _plant.Do(b => new MoveEquipment(b["KLN1"], b["Ash"]));
        _plant.Model.Index.PathOf(_plant["EM1"]).ShouldBe("Corvane/Ash/KLN1/EM1");
        _plant.Model.Bindings.Keys.ShouldContain((_plant["KLN1"], _plant["AirOn"]));
        Refused(b => new MoveEquipment(b["Ash"], b["KLN1"]), "cannot move into itself");
        Refused(b => new MoveEquipment(b["Quay"], b["Ash"]), "cannot sit below");
        Refused(b => new MoveEquipment(b["KLN1"], b["Ash"]), "is there already");
        _plant.Do(b => new SaveEquipment(null, "KLN1", "Another", EquipmentLevel.Unit, b["Quay"], null));
        Refused(b => new MoveEquipment(b["KLN1"], b["Quay"]), "already has a KLN1");
    }

    [Fact]
    public void Siblings_stand_in_the_order_they_are_put()
    {
        IEnumerable<string> Order() => _plant.Model.Index.ChildrenOf(_plant["Corvane"]).Select(e => e.Code);
        _plant.Do(b => new SaveEquipment(null, "Third", "Third", EquipmentLevel.Site, b["Corvane"], null), "Third");
        Order().ShouldBe(["Quay", "Ash", "Third"]);
        _plant.Do(b => new MoveEquipment(b["Third"], b["Corvane"], b["Quay"]));
        Order().ShouldBe(["Third", "Quay", "Ash"]);
        _plant.Do(b => new MoveEquipment(b["Quay"], b["Corvane"]));
        Order().ShouldBe(["Third", "Ash", "Quay"]);
        _plant.Do(b => MoveEquipment.ByOne(b.Model, b["Third"], up: false)!);
        Order().ShouldBe(["Ash", "Third", "Quay"]);
        _plant.Do(b => MoveEquipment.ByOne(b.Model, b["Third"], up: false)!);
        Order().ShouldBe(["Ash", "Quay", "Third"]);
        MoveEquipment.ByOne(_plant.Model, _plant["Third"], up: false).ShouldBeNull("there is no further to go");
        MoveEquipment.ByOne(_plant.Model, _plant["Ash"], up: true).ShouldBeNull();
        _plant.Do(b => MoveEquipment.ByOne(b.Model, b["Third"], up: true)!);
        Order().ShouldBe(["Ash", "Third", "Quay"]);
        _plant.Do(b => MoveEquipment.Onto(b.Model, b["Quay"], b["Ash"])!);
        Order().ShouldBe(["Quay", "Ash", "Third"], "a node dropped on a sibling goes before it");
        MoveEquipment.Onto(_plant.Model, _plant["KLN1"], _plant["Ash"]).ShouldBe(new MoveEquipment(_plant["KLN1"], _plant["Ash"]));
        MoveEquipment.Onto(_plant.Model, 999_999, _plant["Ash"]).ShouldBeNull();
    }

    private void Refused(Func<PlantBuilder, Edit> edit, string words) => _plant.Refused(edit).ShouldContain(p => p.Message.Contains(words));

    [Theory]
    [InlineData("مطحنة 🌾", "Mill", null)]
    [InlineData("Mill", "مطحنة", "A code starts with a letter")]
    [InlineData("Mill", "M🌾", "A code has letters")]
    public void Any_script_may_stand_in_a_name_and_only_plain_letters_in_a_code(string name, string code, string? problem)
    {
        var outcome = new SaveEquipment(null, code, name, EquipmentLevel.Enterprise, null, null).On(PlantModel.Empty);
        if (problem is null)
            outcome.IsRefused.ShouldBeFalse();
        else
            outcome.Problems.ShouldHaveSingleItem().Message.ShouldContain(problem);
    }

    [Fact]
    public void A_name_of_ten_thousand_characters_is_refused() =>
        new SaveEquipment(null, "X", new string('x', 10_000), EquipmentLevel.Enterprise, null, null)
            .On(PlantModel.Empty)
            .Problems.ShouldHaveSingleItem()
            .Message.ShouldBe("The name has 10000 characters; 100 is the most.");

    [Fact]
    public void A_state_that_a_fixed_value_names_is_not_lost()
    {
        var plant = PlantBuilder
            .Kiln()
            .Do(new SaveStateList(null, "Grain", "Grain", [new(0, "Barley"), new(1, "Malt")]), "Grain")
            .Do(
                b => new SaveProperty(
                    b["Kiln"],
                    null,
                    "Holds",
                    "Holds",
                    PropertyKind.Fixed,
                    PropertyType.State,
                    new() { StateListId = b["Grain"] }
                ),
                "Holds"
            )
            .Do(b => PatchProperty.Exactly(b["KLN1"], b["Holds"], new() { Value = "Malt" }));
        plant
            .Refused(b => new SaveStateList(b["Grain"], "Grain", "Grain", [new(0, "Barley"), new(1, "Green malt")]))
            .ShouldHaveSingleItem()
            .Message.ShouldBe("Corvane/Quay/KLN1 has Holds = Malt; keep that state, or change the value first.");
        plant.Do(b => new SaveStateList(b["Grain"], "Grain", "Grain", [new(0, "Rye"), new(1, "Malt")]));
    }
}
