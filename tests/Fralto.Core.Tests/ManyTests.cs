using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Edits of many things at once.</summary>
public sealed class ManyTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln();

    [Theory]
    [InlineData("KLN*_TT", "K*.TT", "KLN12_TT11", "K12.TT11")]
    [InlineData("TT", "TI", "KLN1_TT11", "KLN1_TI11")]
    [InlineData("*_PV", "*", "TT11_PV", "TT11")]
    [InlineData("KLN*", "oven-*", "KLN7", "oven-7")]
    [InlineData("a*b*c", "*-*", "xa1b2cx", "x1-2x")]
    [InlineData("zz", "y", "KLN1", "KLN1")]
    [InlineData("T", "", "TT11", "T11")]
    public void A_pattern_renames_by_what_stands_in_a_name(string from, string to, string name, string expected) =>
        new RenamePattern(from, to).Of(name).ShouldBe(expected);

    [Theory]
    [InlineData("", "x", "Say what")]
    [InlineData("a**b", "x", "Two *")]
    [InlineData("a*", "**", "more *")]
    public void A_pattern_that_cannot_be_meant_says_why(string from, string to, string says) =>
        new RenamePattern(from, to).Problem!.ShouldContain(says);

    [Fact]
    public void Tags_get_one_thing_at_once_or_none_of_them_does()
    {
        _plant.Do(b => new SaveTag(
            null,
            b.Model.Controllers.Keys.First(),
            "another",
            Modbus.RegisterArea.HoldingRegister,
            900,
            RawType.Float32,
            WordOrder.HighFirst,
            ""
        ));
        var tags = _plant.Model.Tags.Keys.Order().ToArray();
        _plant.Do(_ => new ChangeTags([.. tags], new() { Description = "of the kiln" }));
        _plant.Model.Tags.Values.ShouldAllBe(t => t.Description == "of the kiln");
        _plant.Refused(_ => new ChangeTags([.. tags], new() { Description = "of the kiln" })).Single().Message.ShouldContain("so already");
        _plant.Refused(_ => new ChangeTags([.. tags], new() { Rename = new("*", "same") }))[0].Message.ShouldContain("two tags named same");
        _plant.Refused(_ => new ChangeTags([.. tags], new() { Unit = "no unit" })).ShouldNotBeEmpty();
        _plant.Refused(_ => new ChangeTags([.. tags, 999_999], new() { Unit = "CEL" })).Single().Message.ShouldContain("no longer exists");
        _plant.Refused(_ => new ChangeTags([], new() { Unit = "CEL" })).Single().Message.ShouldContain("first");
        _plant.Do(_ => new ChangeTags([.. tags], new() { Unit = "CEL", WordOrder = WordOrder.LowFirst }));
        _plant.Model.Tags.Values.ShouldAllBe(t => t.Unit == "CEL");
        var bound = _plant.Model.Bindings.Count;
        _plant.Do(_ => new RemoveTags([.. tags, tags[0]]));
        (_plant.Model.Tags.Count, _plant.Model.Bindings.Count, bound > 0).ShouldBe((0, 0, true));
    }

    [Fact]
    public void How_many_properties_are_recorded_is_said_at_once_and_what_each_says_itself_stays()
    {
        _plant.Do(b => new SaveProperty(b["Kiln"], null, "Note", "Note", PropertyKind.Entered, PropertyType.Text, new()), "Note");
        for (var i = 2; i < 40; i++)
            _plant.Do(b => new SaveEquipment(null, $"KLN{i}", $"Kiln {i}", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), $"KLN{i}");
        var instances = _plant.Model.Equipment.Values.Where(e => e.TemplateId == _plant["Kiln"]).Select(e => e.Id).Order().ToArray();
        var (number, text) = (_plant["AirOn"], _plant["Note"]);
        _plant.Do(_ => new PatchProperty(
            [instances[3]],
            number,
            new()
            {
                Recording = new() { Every = 60, KeepDays = 7 },
            },
            []
        ));
        (long, long)[] all = [.. instances.SelectMany(i => new[] { (i, number), (i, text) })];
        _plant.Do(_ => new ChangeRecording([.. all, all[0]], new() { DeadbandPercent = 2, KeepDays = 30 }));
        Core.Recording.RecordingPatch? Of(int at, long property) =>
            _plant.Model.Equipment[instances[at]].Patches.GetValueOrDefault(property)?.Recording;
        Of(0, number).ShouldBe(new() { DeadbandPercent = 2, KeepDays = 30 });
        Of(0, text).ShouldBe(new() { KeepDays = 30 }, "a text does not move by a number");
        Of(3, number)
            .ShouldBe(
                new()
                {
                    DeadbandPercent = 2,
                    KeepDays = 30,
                    Every = 60,
                }
            );
        _plant.Do(_ => new ChangeRecording([.. all[..4]], new() { Deadband = 1 }, "words"));
        Of(1, number).ShouldBe(new() { Deadband = 1, KeepDays = 30 }, "the one measure takes the place of the other");
        Of(2, number).ShouldBe(new() { DeadbandPercent = 2, KeepDays = 30 });
        _plant.Refused(_ => new ChangeRecording([.. all], new() { KeepDays = 30 })).Single().Message.ShouldContain("so already");
        _plant.Refused(_ => new ChangeRecording([.. all], new())).Single().Message.ShouldContain("Say how");
        _plant.Refused(_ => new ChangeRecording([], new() { KeepDays = 3 })).Single().Message.ShouldContain("first");
        _plant
            .Refused(_ => new ChangeRecording([.. all, (999_999, number)], new() { KeepDays = 3 }))
            .Single()
            .Message.ShouldContain("no longer");
        _plant.Refused(_ => new ChangeRecording([.. all], new() { KeepDays = -3 })).ShouldNotBeEmpty();
    }

    [Fact]
    public void Several_edits_are_one_and_each_sees_what_those_before_it_made()
    {
        var before = _plant.Model;
        var outcome = new Several(
            [
                new SaveEquipment(null, "X", "X", EquipmentLevel.Area, _plant["Quay"], null),
                new RemoveEquipment(before.NextId),
                new SaveEquipment(null, "Y", "Y", EquipmentLevel.Area, _plant["Quay"], null),
            ],
            "Two and one back"
        ).On(before);
        outcome.Problems.ShouldBeEmpty();
        outcome.Summary.ShouldBe("Two and one back");
        before
            .Apply(outcome.Changes)
            .Equipment.Values.Select(e => e.Code)
            .ShouldBe(before.Equipment.Values.Select(e => e.Code).Append("Y"), ignoreOrder: true);
        new Several([new RemoveEquipment(_plant["KLN1"]), new RemoveEquipment(_plant["KLN1"])])
            .On(before)
            .IsRefused.ShouldBeTrue("the second finds nothing");
        new Several([]).On(before).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void Another_template_keeps_what_is_called_the_same()
    {
        _plant.Do(b => new SaveTemplate(null, "Oven", "Oven", null, ""), "Oven");
        _plant.Do(
            b => new SaveProperty(b["Oven"], null, "AirOn", "Air-on", PropertyKind.Measured, PropertyType.Number, PlantBuilder.Celsius()),
            "OvenAirOn"
        );
        var (kiln, tag) = (_plant["KLN1"], _plant.Model.Bindings[(_plant["KLN1"], _plant["AirOn"])].TagId);
        var others = _plant.Model.Index.BoundOf(_plant.Model.Equipment[kiln]).Count() - 1;
        var outcome = new ChangeTemplate([kiln], _plant["Oven"]).On(_plant.Model);
        outcome.Problems.ShouldBeEmpty();
        outcome.Summary.ShouldContain($"1 binding stays, {others}");
        var after = _plant.Model.Apply(outcome.Changes);
        after.Bindings[(kiln, _plant["OvenAirOn"])].TagId.ShouldBe(tag);
        after.Bindings.Keys.Count(k => k.EquipmentId == kiln).ShouldBe(1);
        after.Equipment[kiln].TemplateId.ShouldBe(_plant["Oven"]);
        Rules.Integrity.Problems(after).ShouldBeEmpty();
        var back = after.Apply(outcome.Inverse);
        back.Equipment[kiln].ShouldBe(_plant.Model.Equipment[kiln]);
        back.Bindings.Count.ShouldBe(_plant.Model.Bindings.Count);
        new ChangeTemplate([kiln], null).On(_plant.Model).Summary.ShouldContain("places");
        _plant.Refused(b => new ChangeTemplate([kiln], b.Model.Equipment[kiln].TemplateId)).Single().Message.ShouldContain("already");
    }

    [Fact]
    public void Nodes_below_one_another_are_taken_out_once()
    {
        var below = _plant.Model.Index.Below(_plant["KLN1"]).Select(e => e.Id).ToArray();
        var outcome = new RemoveEquipment([.. below.Reverse()]).On(_plant.Model);
        outcome.Problems.ShouldBeEmpty();
        _plant.Model.Apply(outcome.Changes).Equipment.Keys.Intersect(below).ShouldBeEmpty();
    }

    [Fact]
    public void Pieces_are_moved_copied_labelled_and_put_at_a_level_together()
    {
        _plant.Do(b => new SaveEquipment(null, "Ash", "Ashholt", b.Model.Equipment[b["Quay"]].Level, b["Corvane"], null), "Ash");
        _plant.Do(b => new SaveEquipment(null, "EM1", "Fan", EquipmentLevel.EquipmentModule, b["KLN1"], null));
        var model = _plant.Model;
        var (kiln, ash) = (_plant["KLN1"], _plant["Ash"]);
        var part = model.Index.ChildrenOf(kiln).First().Id;

        PlantModel After(Edit edit)
        {
            var outcome = edit.On(model);
            outcome.Problems.ShouldBeEmpty();
            var after = model.Apply(outcome.Changes);
            Rules.Integrity.Problems(after).ShouldBeEmpty();
            return after;
        }

        After(ManyEdits.Move(model, [kiln, part], ash))
            .Index.PathOf(part)
            .ShouldBe($"Corvane/Ash/KLN1/{model.Equipment[part].Code}", "it goes with what it is below");
        ManyEdits.Move(model, [kiln], model.Equipment[kiln].ParentId).On(model).IsRefused.ShouldBeTrue("it is there already");

        var copies = After(ManyEdits.Copy(model, [kiln], null, "{name} twin {n}", "{code}x{n}", 1, 3, false));
        copies
            .Index.ChildrenOf(model.Equipment[kiln].ParentId)
            .Select(e => (e.Name, e.Code))
            .ShouldContain((model.Equipment[kiln].Name + " twin 3", "KLN1x3"));
        copies.Equipment.Count.ShouldBe(model.Equipment.Count + (3 * model.Index.Below(kiln).Count));
        ManyEdits.Copy(model, [kiln], null, "{name}", "{code}", 1, 2, false).On(model).Problems.Single().Field.ShouldBe("Code");
        ManyEdits.Copy(model, [kiln, ash], null, "{name} 2", "x", 1, 1, false).On(model).Problems.Single().Message.ShouldContain("{code}");
        ManyEdits.Copy(model, [kiln], null, "a {n}", "a{n}", 1, 201, false).On(model).IsRefused.ShouldBeTrue();

        var labelled = After(ManyEdits.Label(model, [kiln, ash], "owner=ada, area=7"));
        labelled.Equipment[ash].Labels["owner"].ShouldBe("ada");
        var less = labelled.Apply(ManyEdits.Label(labelled, [kiln, ash], "owner=, area=8").On(labelled).Changes);
        (less.Equipment[kiln].Labels.ContainsKey("owner"), less.Equipment[kiln].Labels["area"]).ShouldBe((false, "8"));
        ManyEdits.Label(model, [kiln], "no label").On(model).Problems.Single().Field.ShouldBe("Labels");

        After(
            ManyEdits.Level(
                model,
                [_plant["Quay"], ash],
                model.Equipment[ash].Level == EquipmentLevel.Site ? EquipmentLevel.Area : EquipmentLevel.Site
            )
        );
        ManyEdits.Level(model, [kiln], model.Equipment[kiln].Level).On(model).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void A_template_is_copied_with_what_it_says_and_properties_by_themselves()
    {
        var model = _plant.Model;
        var outcome = ManyEdits.Template(model, _plant["Kiln"], "Oven", "Oven").On(model);
        outcome.Problems.ShouldBeEmpty();
        var after = model.Apply(outcome.Changes);
        Rules.Integrity.Problems(after).ShouldBeEmpty();
        var copy = after.Templates.Values.Single(t => t.Code == "Oven");
        after
            .Index.PropertiesOf(copy.Id)
            .Select(p => (p.Code, p.Facts))
            .ShouldBe(model.Index.PropertiesOf(_plant["Kiln"]).Select(p => (p.Code, p.Facts)));
        after
            .Index.PropertiesOf(copy.Id)
            .Select(p => p.Id)
            .Intersect(model.Index.PropertiesOf(_plant["Kiln"]).Where(p => p.DeclaredBy == _plant["Kiln"]).Select(p => p.Id))
            .ShouldBeEmpty();
        after
            .Index.PartsOf(copy.Id)
            .Select(p => (p.Code, p.Count))
            .ShouldBe(model.Index.PartsOf(_plant["Kiln"]).Select(p => (p.Code, p.Count)));
        ManyEdits.Template(model, _plant["Kiln"], "Kiln", "Kiln").On(model).IsRefused.ShouldBeTrue("the code is taken");

        _plant.Do(b => new SaveTemplate(null, "Dryer", "Dryer", null, ""), "Dryer");
        var air = _plant["AirOn"];
        var one = ManyEdits.Properties(_plant.Model, _plant["Kiln"], [air], _plant["Dryer"]).On(_plant.Model);
        one.Problems.ShouldBeEmpty();
        var with = _plant.Model.Apply(one.Changes);
        with.Index.PropertiesOf(_plant["Dryer"]).Single().Code.ShouldBe("AirOn");
        ManyEdits.Properties(with, _plant["Kiln"], [air], _plant["Dryer"]).On(with).Problems.Single().Message.ShouldContain("already");
        ManyEdits.Properties(with, _plant["Kiln"], [], _plant["Dryer"]).On(with).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void One_field_of_many_limits_is_set_and_what_else_is_said_of_them_stays()
    {
        _plant
            .Do(b => new SaveTemplate(null, "Drum", "Drum kiln", b["Kiln"], ""), "Drum")
            .Do(b =>
                ManyEdits.Exactly(
                    b["Kiln"],
                    Own(b["Kiln"]),
                    Own(b["Kiln"]).Own with
                    {
                        Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(LimitCondition.High, new(90, Deadband: 3)),
                    }
                )
            );
        ChangeLimits Set(string template, LimitField field, params (LimitCondition, double?)[] values) =>
            new(_plant[template], field, [.. values.Select(v => new ChangeLimits.Value(_plant["AirOn"], v.Item1, v.Item2))]);
        ResolvedProperty Own(long template) => _plant.Model.Index.PropertiesOf(template).Single(p => p.Code == "AirOn");

        _plant.Do(_ => Set("Kiln", LimitField.Setpoint, (LimitCondition.High, 95), (LimitCondition.HighHigh, 105)));
        Own(_plant["Kiln"]).Own.Limits[LimitCondition.High].ShouldBe(new LimitPatch(95, 3));
        _plant.Do(_ => Set("Kiln", LimitField.Priority, (LimitCondition.High, 3), (LimitCondition.HighHigh, 1)));
        Own(_plant["Kiln"]).Own.Limits[LimitCondition.HighHigh].ShouldBe(new LimitPatch(105, Priority: 1));

        // The same on a descendant refines it; an empty field says nothing there again.
        _plant.Do(_ => Set("Drum", LimitField.OnDelay, (LimitCondition.High, 20)));
        Own(_plant["Drum"]).Facts.Limits[LimitCondition.High].ShouldBe(new LimitPatch(95, 3, 3, OnDelay: 20));
        Own(_plant["Kiln"]).Own.Limits[LimitCondition.High].OnDelay.ShouldBeNull();
        _plant.Do(_ => Set("Drum", LimitField.OnDelay, (LimitCondition.High, null)));
        Own(_plant["Drum"]).Own.IsEmpty.ShouldBeTrue();

        // One that is out of order refuses all; what says the same changes nothing.
        var problem = _plant.Refused(_ => Set("Kiln", LimitField.Setpoint, (LimitCondition.High, 200), (LimitCondition.HighHigh, 105)))[0];
        problem.Field.ShouldStartWith($"{_plant["AirOn"]}-");
        problem.Message.ShouldStartWith("Air-on temperature: ");
        _plant.Refused(_ => Set("Kiln", LimitField.Setpoint, (LimitCondition.High, 95)));
        _plant.Refused(_ => new ChangeLimits(999, LimitField.Setpoint, []));
    }
}
