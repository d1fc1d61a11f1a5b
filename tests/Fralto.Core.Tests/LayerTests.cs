using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Inheritance, refinement and override are one fold of patches.</summary>
public sealed class LayerTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln((LimitCondition.High, 88, 1.5, 2), (LimitCondition.Low, 48, 1, 3))
        .Do(b => new SaveTemplate(null, "PilotKiln", "Pilot kiln", b["Kiln"], ""), "Pilot")
        .Do(b => new SaveEquipment(null, "PK1", "Pilot 1", EquipmentLevel.Unit, b["Quay"], b["Pilot"]), "PK1")
        .Do(b => new SaveEquipment(null, "PK2", "Pilot 2", EquipmentLevel.Unit, b["Quay"], b["Pilot"]), "PK2");

    private ResolvedProperty At(string instance) => _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant[instance]]).Single();

    [Fact]
    public void A_descendant_refines_what_it_inherits_and_its_instances_follow()
    {
        _plant.Do(b => PatchProperty.Exactly(b["Pilot"], b["AirOn"], new() { Range = new(0, 100), Limits = High(new(Setpoint: 70)) }));
        At("PK1").Facts.Range.ShouldBe(new Span(0, 100));
        At("PK1")
            .Limits.Select(l => (l.Condition, l.Setpoint, l.Deadband))
            .ShouldBe([(LimitCondition.High, 70, 1.5), (LimitCondition.Low, 48, 1)]);
        At("PK1").DeclaredBy.ShouldBe(_plant["Kiln"]);
        At("KLN1").Limits[0].Setpoint.ShouldBe(88);
    }

    [Fact]
    public void An_instance_overrides_one_field_and_goes_back_by_itself()
    {
        _plant.Do(b => new PatchProperty(
            [b["PK1"]],
            b["AirOn"],
            new() { Limits = High(new(Setpoint: 66)), Description = "the old sensor" },
            []
        ));
        At("PK1").Limits[0].Setpoint.ShouldBe(66);
        At("PK2").Limits[0].Setpoint.ShouldBe(88);
        At("PK1").Own.Limits.Keys.ShouldBe([LimitCondition.High]);
        _plant.Do(b => new PatchProperty([b["PK1"]], b["AirOn"], PropertyPatch.Empty, [PatchField.High]));
        At("PK1").Limits[0].Setpoint.ShouldBe(88);
        At("PK1").Facts.Description.ShouldBe("the old sensor");
    }

    [Fact]
    public void A_limit_is_taken_away_below_a_layer_and_brought_back_below_that()
    {
        _plant.Do(b => PatchProperty.Exactly(b["Pilot"], b["AirOn"], new() { Limits = High(new(Off: true)) }));
        At("PK1").Limits.Select(l => l.Condition).ShouldBe([LimitCondition.Low]);
        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Limits = High(new(Setpoint: 60)) }));
        (At("PK1").Limits[0] with { Says = null }).ShouldBe(new Limit(LimitCondition.High, 60, 1.5, 2));
    }

    [Fact]
    public void Several_instances_are_changed_as_one_edit_and_keep_what_else_they_say()
    {
        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Description = "mine" }));
        _plant.Do(b => new PatchProperty([b["PK1"], b["PK2"]], b["AirOn"], new() { Limits = High(new(Setpoint: 77)) }, []));
        (At("PK1").Limits[0].Setpoint, At("PK2").Limits[0].Setpoint, At("PK1").Facts.Description).ShouldBe((77, 77, "mine"));
    }

    [Fact]
    public void What_a_layer_says_is_judged_together_with_the_layers_before_it()
    {
        Refused(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Range = new(0, 80) }))
            .ShouldContain(p => p.Field == "HighSetpoint" && p.Message.Contains("outside the range"));
        Refused(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Limits = High(new(Setpoint: 30)) }))
            .ShouldContain(p => p.Message.Contains("L 48 must lie below H 30"));
    }

    [Fact]
    public void A_template_change_that_spoils_an_instances_own_value_is_refused_and_names_it()
    {
        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Limits = High(new(Setpoint: 110)) }));
        var narrow = PlantBuilder.Celsius((LimitCondition.High, 88, 1.5, 2)) with { Range = new(0, 100) };
        Refused(b => new SaveProperty(
                b["Kiln"],
                b["AirOn"],
                "AirOn",
                "Air-on temperature",
                PropertyKind.Measured,
                PropertyType.Number,
                narrow
            ))
            .ShouldContain(p =>
                p.Message.StartsWith("Corvane/Quay/PK1 says something of its own: H 110 lies outside", StringComparison.Ordinal)
            );
    }

    [Fact]
    public void A_property_is_not_refined_where_it_is_declared() =>
        Refused(b => PatchProperty.Exactly(b["Kiln"], b["AirOn"], new() { Unit = "FAH" }))
            .ShouldContain(p => p.Message.Contains("declared here"));

    [Fact]
    public void The_effect_of_a_template_change_is_known_before_it_is_made()
    {
        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["AirOn"], new() { Limits = High(new(Setpoint: 70)) }));
        var higher = new SaveProperty(
            _plant["Kiln"],
            _plant["AirOn"],
            "AirOn",
            "Air-on temperature",
            PropertyKind.Measured,
            PropertyType.Number,
            PlantBuilder.Celsius((LimitCondition.High, 90, 1.5, 2), (LimitCondition.Low, 48, 1, 3))
        );
        var effect = EditEffect.Of(_plant.Model, higher.On(_plant.Model), _plant["Kiln"], _plant["AirOn"]);
        (effect.Instances, effect.Changed).ShouldBe((3, 2));
        effect.Keeping.Select(e => e.Name).ShouldBe(["Pilot 1"]);
        effect.Words.ShouldBe("changes 2 of 3 instances · 1 keeps what it says itself: Pilot 1");
        At("PK2").Limits[0].Setpoint.ShouldBe(88);
    }

    [Fact]
    public void A_property_pulled_up_and_pushed_down_keeps_its_id_overrides_and_bindings()
    {
        _plant.Do(b => new SaveTemplate(null, "Dryer", "Dryer", b["Pilot"], ""), "Dryer");
        _plant.Do(
            b => new SaveProperty(b["Pilot"], null, "Batch", "Batch", PropertyKind.Fixed, PropertyType.Text, new() { Value = "none" }),
            "Batch"
        );
        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["Batch"], new() { Value = "B-1" }));
        var facts = _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["PK1"]]).Single(p => p.Code == "Batch").Facts;

        _plant.Do(b => new MoveProperty(b["Pilot"], b["Batch"], b["Kiln"]));
        var pulled = _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["PK1"]]).Single(p => p.Code == "Batch");
        (pulled.Id, pulled.DeclaredBy).ShouldBe((_plant["Batch"], _plant["Kiln"]));
        pulled.Facts.ShouldBe(facts);
        _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["KLN1"]]).Select(p => p.Code).ShouldBe(["AirOn", "Batch"]);

        _plant.Do(b => new MoveProperty(b["Kiln"], b["Batch"], b["Pilot"]));
        _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["PK1"]]).Single(p => p.Code == "Batch").Facts.ShouldBe(facts);
        _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["KLN1"]]).Select(p => p.Code).ShouldBe(["AirOn"]);
        Integrity.Problems(_plant.Model).ShouldBeEmpty();
        Refused(b => new MoveProperty(b["Pilot"], b["Batch"], b["Dryer"])).ShouldContain(p => p.Message.Contains("Pilot 1 would lose"));
    }

    [Fact]
    public void What_is_refined_on_the_way_goes_down_with_the_property()
    {
        _plant.Do(b => new Unbind(b["KLN1"], b["AirOn"]));
        _plant.Do(b => PatchProperty.Exactly(b["Pilot"], b["AirOn"], new() { Limits = High(new(Setpoint: 70)) }));
        var before = At("PK1").Facts;
        _plant.Do(b => new MoveProperty(b["Kiln"], b["AirOn"], b["Pilot"]));
        At("PK1").Facts.ShouldBe(before);
        At("PK1").DeclaredBy.ShouldBe(_plant["Pilot"]);
    }

    [Fact]
    public void A_bound_property_is_not_pushed_away_from_its_binding_nor_pulled_into_a_clash()
    {
        Refused(b => new MoveProperty(b["Kiln"], b["AirOn"], b["Pilot"])).ShouldContain(p => p.Message.Contains("Kiln 1 would lose"));
        _plant.Do(b => new SaveTemplate(null, "Other", "Other", b["Kiln"], ""), "Other");
        _plant.Do(b => new SaveProperty(b["Pilot"], null, "X", "X", PropertyKind.Fixed, PropertyType.Text, PropertyPatch.Empty), "X");
        _plant.Do(b => new SaveProperty(b["Other"], null, "x", "Other x", PropertyKind.Fixed, PropertyType.Text, PropertyPatch.Empty));
        Refused(b => new MoveProperty(b["Pilot"], b["X"], b["Kiln"]))
            .ShouldContain(p => p.Message == "Other already has a property with the code X.");
        Refused(b => new MoveProperty(b["Pilot"], b["X"], b["Other"]))
            .ShouldContain(p => p.Message.Contains("neither an ancestor nor a descendant"));
    }

    private static System.Collections.Immutable.ImmutableSortedDictionary<LimitCondition, LimitPatch> High(LimitPatch patch) =>
        PropertyPatch.Empty.Limits.Add(LimitCondition.High, patch);

    private System.Collections.Immutable.ImmutableArray<Problem> Refused(Func<PlantBuilder, Edit> edit) => _plant.Refused(edit);
}
