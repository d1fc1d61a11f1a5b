using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Hierarchy;
using Fralto.Core.Limits;
using Fralto.Core.Memory;
using Fralto.Core.Modbus;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

public sealed class ModelTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln((LimitCondition.High, 88, 1.5, 2));

    [Fact]
    public void A_descendant_has_what_its_ancestors_declare_and_what_each_layer_says_last()
    {
        _plant.Do(b => new SaveTemplate(null, "PilotKiln", "Pilot kiln", b["Kiln"], ""), "PilotKiln");
        _plant.Do(
            b => new SaveProperty(
                b["PilotKiln"],
                null,
                "Batch",
                "Batch",
                PropertyKind.Fixed,
                PropertyType.Text,
                new PropertyPatch { Value = "none" }
            ),
            "Batch"
        );
        _plant.Do(b => new SaveEquipment(null, "PK1", "Pilot", EquipmentLevel.Unit, b["Quay"], b["PilotKiln"]), "PK1");
        var before = _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["PK1"]]);
        before
            .Select(p => (p.Code, p.DeclaredBy, p.Facts.Value))
            .ShouldBe([("AirOn", _plant["Kiln"], null), ("Batch", _plant["PilotKiln"], "none")]);

        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["Batch"], new() { Value = "B-17" }));
        var set = _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["PK1"]])[1];
        (set.Facts.Value, set.Own.Value).ShouldBe(("B-17", "B-17"));

        _plant.Do(b => PatchProperty.Exactly(b["PK1"], b["Batch"], PropertyPatch.Empty));
        _plant.Model.Equipment[_plant["PK1"]].Patches.ShouldBeEmpty();
    }

    [Fact]
    public void A_property_added_to_a_template_is_there_in_every_instance_at_once()
    {
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            null,
            "AirOff",
            "Air-off",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { Unit = "CEL" }
        ));
        _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["KLN1"]]).Select(p => p.Code).ShouldBe(["AirOn", "AirOff"]);
    }

    [Fact]
    public void Laying_an_empty_patch_over_another_changes_nothing_and_a_later_field_wins()
    {
        var first = PlantBuilder.Celsius((LimitCondition.High, 88, 1.5, 2));
        first.With(PropertyPatch.Empty).ShouldBe(first);
        var later = new PropertyPatch
        {
            Range = new(10, 90),
            Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new LimitPatch(Setpoint: 80)),
        };
        var folded = first.With(later);
        folded.Range.ShouldBe(new Span(10, 90));
        folded.Unit.ShouldBe("CEL");
        (folded.LimitsInForce.Single() with { Says = null }).ShouldBe(new Limit(LimitCondition.High, 80, 1.5, 2));
        folded
            .With(new() { Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new LimitPatch(Off: true)) })
            .LimitsInForce.ShouldBeEmpty();
    }

    [Fact]
    public void Taking_out_a_place_takes_its_subtree_and_bindings_and_the_inverse_brings_all_back()
    {
        var before = _plant.Model;
        var outcome = new RemoveEquipment(_plant["Corvane"]).On(before);
        outcome.Summary.ShouldBe("Take out Corvane with 2 nodes below it and 1 binding");
        var after = before.Apply(outcome.Changes);
        (after.Equipment.Count, after.Bindings.Count).ShouldBe((0, 0));
        var back = after.Apply(outcome.Inverse);
        back.Equipment.ShouldBe(before.Equipment, ignoreOrder: true);
        back.Bindings.ShouldBe(before.Bindings, ignoreOrder: true);
        back.NextId.ShouldBe(before.NextId);
    }

    [Fact]
    public void An_edit_is_taken_back_unless_something_later_stands_on_it()
    {
        var before = _plant.Model;
        var rename = new SaveEquipment(_plant["KLN1"], "KLN1", "First kiln", EquipmentLevel.Unit, _plant["Quay"], _plant["Kiln"]).On(
            before
        );
        var add = new SaveEquipment(null, "EM1", "Main fan", EquipmentLevel.EquipmentModule, _plant["KLN1"], null).On(
            before.Apply(rename.Changes)
        );
        var model = before.Apply(rename.Changes).Apply(add.Changes);

        var back = new TakeBack("back", rename.Changes).On(model);
        model.Apply(back.Changes).Equipment[_plant["KLN1"]].Name.ShouldBe("Kiln 1");
        model.Apply(back.Changes).Equipment.Count.ShouldBe(4);

        var twice = new SaveEquipment(_plant["KLN1"], "KLN1", "Kiln one", EquipmentLevel.Unit, _plant["Quay"], _plant["Kiln"]).On(model);
        new TakeBack("back", rename.Changes)
            .On(model.Apply(twice.Changes))
            .Problems.Single()
            .Message.ShouldBe("A later edit has changed First kiln; take that back first.");
    }

    [Fact]
    public void An_edit_others_depend_on_is_not_taken_back()
    {
        var added = new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, _plant["Quay"], _plant["Kiln"]).On(_plant.Model);
        var model = _plant.Model.Apply(added.Changes);
        var below = new SaveEquipment(null, "EM1", "Main fan", EquipmentLevel.EquipmentModule, model.NextId - 1, null).On(model);
        new TakeBack("back", added.Changes)
            .On(model.Apply(below.Changes))
            .Problems.ShouldContain(p => p.Message.Contains("Main fan lies below a place that no longer exists"));
        new TakeBack("back", added.Changes).On(model).IsRefused.ShouldBeFalse();
    }

    /// <summary>A controller that was of memory has since got tags of a device: they cannot be of memory.</summary>
    [Fact]
    public void Another_protocol_is_not_taken_back_under_the_tags_that_came_since()
    {
        var b = new PlantBuilder().Do(new SaveController(null, "spare", new MemoryConnection(), 0), "spare");
        var change = new SaveController(b["spare"], "plc", new ModbusConnection("127.0.0.1", 502, 1), 500).On(b.Model);
        var model = b.Model.Apply(change.Changes);
        new TakeBack("back", change.Changes).On(model).IsRefused.ShouldBeFalse();
        var tag = new SaveTag(null, b["spare"], "T1", RegisterArea.HoldingRegister, 4, RawType.Int16, WordOrder.HighFirst, "").On(model);
        new TakeBack("back", change.Changes)
            .On(model.Apply(tag.Changes))
            .Problems.Single()
            .Message.ShouldBe("A later edit depends on it: Tag T1 has an address of Modbus TCP, and spare would speak memory.");
    }

    [Fact]
    public void The_journal_says_that_equipment_is_no_longer_a_part_of_what_made_it()
    {
        var plant = new PlantBuilder()
            .Do(new SaveTemplate(null, "Fan", "Fan", null, ""), "Fan")
            .Do(new SaveTemplate(null, "Kiln", "Kiln", null, ""), "Kiln")
            .Do(b => new SavePart(b["Kiln"], null, "MF", "Main fan", b["Fan"], EquipmentLevel.EquipmentModule, 1))
            .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works")
            .Do(b => new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, b["Works"], null), "Quay")
            .Do(b => new SaveEquipment(null, "K1", "Kiln 1", EquipmentLevel.Unit, b["Quay"], b["Kiln"]));
        var model = plant.Model;
        var kiln = model.Templates[plant["Kiln"]];
        var removed = new RemovePart(kiln.Id, kiln.Parts.Single().Id, WithInstances: false).On(model);
        var change = removed.Changes.Single(c => c.Before is Equipment { PartId: not null });
        ChangeText.Of(change, model).ShouldBe([("Main fan: made as part", "MF of Kiln", "")]);
    }

    [Fact]
    public void Templates_of_one_name_are_told_apart_by_their_codes_where_a_change_is_in_words()
    {
        var b = new PlantBuilder()
            .Do(new SaveTemplate(null, "KilnA", "Kiln", null, ""), "A")
            .Do(new SaveTemplate(null, "KilnB", "Kiln", null, ""), "B")
            .Do(new SaveEquipment(null, "Works", "Works", EquipmentLevel.Enterprise, null, null), "Works")
            .Do(x => new SaveEquipment(null, "Quay", "Quay", EquipmentLevel.Site, x["Works"], null), "Quay")
            .Do(x => new SaveEquipment(null, "K1", "Kiln 1", EquipmentLevel.Unit, x["Quay"], x["A"]), "K1");
        var was = b.Model.Equipment[b["K1"]];
        ChangeText
            .Of(new ModelChange(was, was with { TemplateId = b["B"] }), b.Model)
            .ShouldBe([("Kiln 1: instance of", "Kiln (KilnA)", "Kiln (KilnB)")]);
    }

    [Fact]
    public void Every_model_that_edits_make_is_whole_and_what_is_broken_is_named()
    {
        Integrity.Problems(_plant.Model).ShouldBeEmpty();
        string Broken(PlantModel model) => string.Join("|", Integrity.Problems(model).Select(p => p.Message));
        Broken(_plant.Model with { Tags = _plant.Model.Tags.Clear() }).ShouldContain("bound to a tag that no longer exists");
        Broken(_plant.Model with { Controllers = _plant.Model.Controllers.Clear() })
            .ShouldContain("belongs to a controller that no longer exists");
        Broken(_plant.Model with { Templates = _plant.Model.Templates.Clear() })
            .ShouldContain("instance of a template that no longer exists");
        var quay = _plant.Model.Equipment[_plant["Quay"]];
        Broken(_plant.Model with { Equipment = _plant.Model.Equipment.SetItem(quay.Id, quay with { ParentId = _plant["KLN1"] }) })
            .ShouldContain("would lie below itself");
        Broken(
                _plant.Model with
                {
                    Equipment = _plant.Model.Equipment.SetItem(999, new(999, "kln1", "Twin", EquipmentLevel.Unit, quay.Id, null, 9)),
                }
            )
            .ShouldContain("would stand twice among siblings");
        var kiln = _plant.Model.Templates[_plant["Kiln"]];
        Broken(_plant.Model with { Templates = _plant.Model.Templates.SetItem(kiln.Id, kiln with { ParentId = kiln.Id }) })
            .ShouldContain("would inherit from itself");
    }

    [Fact]
    public void Taking_out_a_property_takes_its_bindings_and_instance_values()
    {
        _plant.Do(b => new RemoveProperty(b["Kiln"], b["AirOn"]));
        _plant.Model.Bindings.ShouldBeEmpty();
        _plant.Model.Index.PropertiesOf(_plant["Kiln"]).ShouldBeEmpty();
    }

    [Fact]
    public void A_new_id_is_never_one_that_was_used()
    {
        var highest = _plant.Model.NextId;
        _plant.Do(b => new SaveTemplate(null, "Fan", "Fan", null, ""), "Fan");
        _plant.Do(b => new RemoveTemplate(b["Fan"]));
        _plant.Model.NextId.ShouldBe(highest + 1);
    }

    [Fact]
    public void The_planner_says_what_is_not_bound()
    {
        _plant.Do(b => new Unbind(b["KLN1"], b["AirOn"]));
        var findings = Planner.Compile(_plant.Model).Findings;
        findings.ShouldContain(f =>
            f.Code == Planner.Unbound && f.EquipmentId == _plant["KLN1"] && f.Message.Contains("Air-on temperature")
        );
        findings.ShouldContain(f => f.Code == Planner.UnusedTag && f.Message == "plc TT11 feeds nothing");
    }

    [Theory]
    [Trait("source", "IEC 62264-1 clause 5.3; IEC 61512-1 physical model")]
    [InlineData(null, EquipmentLevel.Enterprise, true)]
    [InlineData(null, EquipmentLevel.Site, false)]
    [InlineData(EquipmentLevel.Enterprise, EquipmentLevel.Site, true)]
    [InlineData(EquipmentLevel.Site, EquipmentLevel.Unit, true)] // a rung may be left out
    [InlineData(EquipmentLevel.Area, EquipmentLevel.ProcessCell, true)]
    [InlineData(EquipmentLevel.ProcessCell, EquipmentLevel.Unit, true)]
    [InlineData(EquipmentLevel.ProcessCell, EquipmentLevel.WorkCell, false)]
    [InlineData(EquipmentLevel.StorageZone, EquipmentLevel.StorageUnit, true)]
    [InlineData(EquipmentLevel.ProductionLine, EquipmentLevel.WorkCell, true)]
    [InlineData(EquipmentLevel.ProductionUnit, EquipmentLevel.Unit, true)]
    [InlineData(EquipmentLevel.Unit, EquipmentLevel.Unit, false)]
    [InlineData(EquipmentLevel.Unit, EquipmentLevel.Area, false)]
    [InlineData(EquipmentLevel.Unit, EquipmentLevel.EquipmentModule, true)]
    [InlineData(EquipmentLevel.EquipmentModule, EquipmentLevel.EquipmentModule, true)]
    [InlineData(EquipmentLevel.EquipmentModule, EquipmentLevel.ControlModule, true)]
    [InlineData(EquipmentLevel.ControlModule, EquipmentLevel.ControlModule, true)]
    [InlineData(EquipmentLevel.ControlModule, EquipmentLevel.EquipmentModule, false)]
    [InlineData(EquipmentLevel.Other, EquipmentLevel.Site, true)]
    public void Levels_sit_where_the_standards_put_them(EquipmentLevel? parent, EquipmentLevel child, bool fits) =>
        (LevelRules.Misfit(parent, child) is null).ShouldBe(fits);

    [Fact]
    public void Edits_refuse_what_is_wrong_beside_the_field_it_is_wrong_in()
    {
        Field(b => new SaveController(null, "", "plc", 502, 1, 500), "Name", "Give a name");
        Field(b => new SaveController(null, "PLC", "plc", 502, 1, 500), "Name", "already a controller");
        Field(b => new SaveController(null, "x", "a b", 502, 1, 500), "Host", "neither a host name");
        Field(b => new SaveController(null, "x", "plc", 65536, 1, 500), "Port", "1 to 65535");
        Field(b => new SaveController(null, "x", "plc", 502, 256, 500), "UnitId", "0 to 255");
        Field(b => new SaveController(null, "x", "plc", 502, 1, 0), "UpdateIntervalMs", "50 ms to 1 h");
        Field(b => new SaveController(null, new string('x', 101), "plc", 502, 1, 500), "Name", "101 characters");
        Field(b => new SaveTag(null, b["plc"], "<script>", RegisterArea.Coil, 0, RawType.Bool, WordOrder.HighFirst, ""), "Name", "< or >");
        Field(
            b => new SaveTag(null, b["plc"], "tt11", RegisterArea.Coil, 0, RawType.Bool, WordOrder.HighFirst, ""),
            "Name",
            "already has a tag"
        );
        Field(
            b => new SaveTag(null, b["plc"], "x", RegisterArea.Coil, 65536, RawType.Bool, WordOrder.HighFirst, ""),
            "Address",
            "0 to 65535"
        );
        Field(
            b => new SaveTag(null, b["plc"], "x", RegisterArea.HoldingRegister, 65535, RawType.Float32, WordOrder.HighFirst, ""),
            "Address",
            "fills 2 registers"
        );
        Field(b => new SaveTag(null, b["plc"], "x", RegisterArea.Coil, 0, RawType.Int16, WordOrder.HighFirst, ""), "Type", "single bits");
        Field(
            b => new SaveTag(b["TT11"], b["plc"], "TT11", RegisterArea.Coil, 0, RawType.Bool, WordOrder.HighFirst, ""),
            "Type",
            "is bound to this tag"
        );
        Field(b => new SaveStateList(null, "S", "S", [new(0, "Idle"), new(0, "Run")]), "States", "named twice");
        Field(b => new SaveStateList(null, "S", "S", [new(0, "Idle"), new(1, "idle")]), "States", "each state needs its own");
        Field(b => new SaveStateList(null, "S", "S", []), "States", "at least one");
        Field(b => new SaveTemplate(null, "kiln", "Another", null, ""), "Code", "already a template");
        Field(b => new SaveTemplate(null, "1st", "First", null, ""), "Code", "starts with a letter");
        Field(b => new SaveTemplate(null, "a b", "First", null, ""), "Code", "'a-b' would do");
        Field(b => new SaveTemplate(null, "First", "First", 999, ""), "ParentId", "no longer exists");
        Field(b => new SaveEquipment(null, "KLN1", "Again", EquipmentLevel.Unit, b["Quay"], null), "Code", "unique among siblings");
        Field(b => new SaveEquipment(null, "A", "A", EquipmentLevel.Enterprise, b["Quay"], null), "Level", "cannot sit below");
        Field(b => new RemoveTemplate(b["Kiln"]), "", "1 instance");
        Field(b => new Bind(b["KLN1"], b["AirOn"], 999), "", "no longer exists");
    }

    [Fact]
    public void A_property_is_refused_with_a_message_for_each_wrong_field()
    {
        Property(new() { Unit = "XX" }, "Unit", "names no unit");
        Property(new() { Range = new(5, 5) }, "RangeHigh", "empty");
        Property(new() { Range = new(9, 5) }, "RangeHigh", "smaller number first");
        Property(new() { Scale = new LinearScale(new Span(4, 4), new(0, 10)) }, "RawHigh", "must differ");
        Property(new() { Scale = new LinearScale(new Span(4, 20), new(7, 7)) }, "EngineeringHigh", "must differ");
        Property(PlantBuilder.Celsius((LimitCondition.High, 130, 0, 2)), "HighSetpoint", "outside the range");
        Property(PlantBuilder.Celsius((LimitCondition.High, 90, -1, 2)), "HighDeadband", "0 or more");
        Property(PlantBuilder.Celsius((LimitCondition.High, 90, 0, 5)), "HighPriority", "1, 2, 3 or 4");
        Property(
            PlantBuilder.Celsius((LimitCondition.HighHigh, 80, 0, 1), (LimitCondition.High, 90, 0, 2)),
            "HighSetpoint",
            "must lie below HH"
        );
        Property(
            PlantBuilder.Celsius((LimitCondition.High, 60, 10, 1), (LimitCondition.Low, 50, 10, 2)),
            "LowDeadband",
            "no value would be normal"
        );
        Field(
            b => new SaveProperty(b["Kiln"], null, "airon", "x", PropertyKind.Measured, PropertyType.Number, PropertyPatch.Empty),
            "Code",
            "already has a property"
        );
        Field(
            b => new SaveProperty(b["Kiln"], null, "Ph", "Phase", PropertyKind.Measured, PropertyType.State, PropertyPatch.Empty),
            "StateListId",
            "Choose the state list"
        );
        Field(
            b => new SaveProperty(b["Kiln"], null, "T", "T", PropertyKind.Measured, PropertyType.Number, new() { Value = "3" }),
            "Value",
            "Only a fixed property"
        );
        Field(
            b => new SaveProperty(b["Kiln"], null, "T", "T", PropertyKind.Fixed, PropertyType.Text, new() { Value = new string('x', 201) }),
            "Value",
            "at most 200"
        );
    }

    [Fact]
    public void A_tag_feeds_one_property_until_it_is_unbound()
    {
        _plant.Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN2");
        Field(b => new Bind(b["KLN2"], b["AirOn"], b["TT11"]), "TagId", "Corvane/Quay/KLN1");
    }

    [Fact]
    public void A_code_is_made_from_any_name()
    {
        Naming.Suggest("Kiln house 2").ShouldBe("Kiln-house-2");
        Naming.Suggest("Ölkühler").ShouldBe("Olkuhler");
        Naming.Suggest("4th <b>").ShouldBe("X4th-b");
        Naming.CodeProblem(Naming.Suggest("!!! ")).ShouldBeNull();
    }

    [Theory]
    [InlineData(PropertyType.Number, "0.92", "0,92")]
    [InlineData(PropertyType.Number, "-1e3", "NaN")]
    [InlineData(PropertyType.Integer, "12", "12.5")]
    [InlineData(PropertyType.Boolean, "true", "yes")]
    [InlineData(PropertyType.State, "Idle", "Sleeping")]
    [InlineData(PropertyType.State, "1", "7")]
    [InlineData(PropertyType.Time, "2026-06-01", "June")]
    [InlineData(PropertyType.Text, "anything at all", null)]
    public void A_fixed_value_is_a_value_of_its_type(PropertyType type, string good, string? bad)
    {
        _plant.Do(new SaveStateList(null, "Run", "Run", [new(0, "Idle"), new(1, "Running")]), "Run");
        SaveProperty Fixed(string value) =>
            new(
                _plant["Kiln"],
                null,
                "F",
                "F",
                PropertyKind.Fixed,
                type,
                new() { Value = value, StateListId = type == PropertyType.State ? _plant["Run"] : null }
            );
        if (bad is not null)
            Field(_ => Fixed(bad), "Value", $"'{bad}'");
        _plant.Do(Fixed(good));
    }

    [Theory]
    [InlineData(PropertyKind.Measured, PropertyType.Integer, RawType.Float32, false)]
    [InlineData(PropertyKind.Measured, PropertyType.Integer, RawType.UInt16, true)]
    [InlineData(PropertyKind.Measured, PropertyType.Boolean, RawType.Bool, true)]
    [InlineData(PropertyKind.Measured, PropertyType.Boolean, RawType.Float32, false)]
    [InlineData(PropertyKind.Command, PropertyType.Number, RawType.Int16, true)]
    [InlineData(PropertyKind.Measured, PropertyType.Text, RawType.UInt16, false)]
    [InlineData(PropertyKind.Entered, PropertyType.Number, RawType.Int16, false)]
    [InlineData(PropertyKind.Calculated, PropertyType.Number, RawType.Int16, false)]
    public void A_tag_fits_a_property_by_kind_and_type(PropertyKind kind, PropertyType type, RawType raw, bool fits)
    {
        var property = new ResolvedProperty(new(1, "P", "P", kind, type), 1, PropertyPatch.Empty, PropertyPatch.Empty);
        (
            Rules.BindingRules.Misfit(
                PlantModel.Empty,
                property,
                new Tag(2, 3, "T", new ModbusAddress(RegisterArea.HoldingRegister, 0), raw, WordOrder.HighFirst, "")
            )
            is null
        ).ShouldBe(fits);
    }

    [Fact]
    public void An_optional_property_without_a_tag_is_a_hint_not_a_warning()
    {
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            null,
            "Opt",
            "Optional",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { Range = new(0, 1) },
            IsRequired: false
        ));
        Planner
            .Compile(_plant.Model)
            .Findings.Single(f => f.Message.StartsWith("Optional", StringComparison.Ordinal))
            .Severity.ShouldBe(FindingSeverity.Hint);
    }

    [Theory]
    [Trait("source", "UNECE Recommendation 20, revision 20")]
    [InlineData("CEL", "°C")]
    [InlineData("MQH", "m³/h")]
    [InlineData("P1", "%")]
    [InlineData("A97", "hPa")]
    [InlineData("PS", "psi (lbf/in²)")]
    public void Units_go_by_their_common_code(string code, string symbol) => UnitCatalogue.Standard.SymbolOf(code).ShouldBe(symbol);

    private void Property(PropertyPatch facts, string field, string words) =>
        Field(
            b => new SaveProperty(b["Kiln"], b["AirOn"], "AirOn", "Air-on temperature", PropertyKind.Measured, PropertyType.Number, facts),
            field,
            words
        );

    private void Field(Func<PlantBuilder, Edit> edit, string field, string words) =>
        _plant.Refused(edit).ShouldContain(p => p.Field == field && p.Message.Contains(words));
}
