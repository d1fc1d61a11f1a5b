using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

public sealed class ScaleLibraryTests
{
    private static readonly Scale Level = new LinearScale(Signal.Of(SignalKind.Counts15), new(0, 3.2));

    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(new SaveScale(null, "Level", "Level", "", Level), "Level")
        .Do(
            b => new SaveProperty(
                b["Kiln"],
                null,
                "L",
                "Level",
                PropertyKind.Measured,
                PropertyType.Number,
                new() { Unit = "MTR", ScaleId = b["Level"] }
            ),
            "L"
        );

    private PropertyPatch Facts => _plant.Model.Index.PropertiesOf(_plant["Kiln"]).Single(p => p.Id == _plant["L"]).Facts;

    [Fact]
    public void One_change_reaches_every_use()
    {
        _plant.Model.ScaleOf(Facts).ShouldBe(Level);
        _plant.Model.RangeOf(Facts).ShouldBe(new Span(0, 3.2));
        SaveScale.ReachOf(_plant.Model, _plant["Level"]).Single().Instance.Name.ShouldBe("Kiln 1");
        _plant.Do(b => new SaveScale(b["Level"], "Level", "Level", "", new LinearScale(Signal.Of(SignalKind.Counts16), new(0, 4))));
        _plant.Model.RangeOf(Facts).ShouldBe(new Span(0, 4));
    }

    [Fact]
    public void A_scale_in_use_stays_and_one_of_another_dimension_is_refused()
    {
        _plant.Refused(b => new RemoveScale(b["Level"])).Single().Message.ShouldContain("properties of Kiln");
        _plant
            .Refused(b => new SaveScale(b["Level"], "Level", "Level", "", Level with { Unit = "BAR" }))
            .Single()
            .Message.ShouldContain("Kiln, Level: The scale yields bar");
        _plant.Refused(b => new SaveScale(null, "level", "Again", "", Level)).Single().Message.ShouldContain("already a scale");
        _plant.Refused(b => new SaveScale(null, "x y", "", "", Level with { Unit = "nope" })).Length.ShouldBe(3);
    }

    [Fact]
    public void A_change_that_would_spoil_a_descendant_or_a_binding_is_refused_with_its_place()
    {
        _plant
            .Do(b => new SaveTemplate(null, "Small", "Small kiln", b["Kiln"], ""), "Small")
            .Do(b => PatchProperty.Exactly(b["Small"], b["L"], new() { Unit = "FOT" }))
            .Do(
                b => new SaveTag(null, b["plc"], "LT", RegisterArea.InputRegister, 8, RawType.Float32, WordOrder.HighFirst, "", 1, "4K"),
                "LT"
            )
            .Do(b => new SaveScale(
                b["Level"],
                "Level",
                "Level",
                "",
                new LinearScale(Signal.Of(SignalKind.Milliamps), new(0, 3.2)) { Unit = "MTR" }
            ))
            .Do(b => new Bind(b["KLN1"], b["L"], b["LT"]));
        _plant
            .Refused(b => new SaveScale(b["Level"], "Level", "Level", "", new LinearScale(Signal.Of(SignalKind.Volts), new(0, 3.2))))
            .ShouldContain(p => p.Message.Contains("KLN1: LT gives mA, the signal 0…10 V is in V"));
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            b["L"],
            "L",
            "Level",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { ScaleId = b["Level"] }
        ));
        _plant
            .Refused(b => new SaveScale(
                b["Level"],
                "Level",
                "Level",
                "",
                new LinearScale(Signal.Of(SignalKind.Milliamps), new(0, 3.2)) { Unit = "BAR" }
            ))
            .ShouldContain(p => p.Message.Contains("Small kiln says something of its own: The scale yields bar"));
    }

    [Fact]
    public void Counting_all_uses_at_once_is_counting_each()
    {
        _plant
            .Do(new SaveScale(null, "Other", "Other", "", Level), "Other")
            .Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN2")
            .Do(b => new SaveEquipment(null, "KLN3", "Kiln 3", EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN3")
            .Do(b => PatchProperty.Exactly(b["KLN2"], b["L"], new() { ScaleId = b["Other"] }))
            .Do(b => PatchProperty.Exactly(b["KLN3"], b["L"], new() { Scale = Level }));
        var counts = SaveScale.CountsOf(_plant.Model);
        (counts[_plant["Level"]], counts[_plant["Other"]]).ShouldBe((1, 1));
        foreach (var id in _plant.Model.Scales.Keys)
            counts.GetValueOrDefault(id).ShouldBe(SaveScale.ReachOf(_plant.Model, id).Count());
        Finder.Find(_plant.Model, "other", 10).ShouldContain(f => f.Kind == FoundKind.Scale && f.Name == "Other");
    }

    [Fact]
    public void An_instance_may_have_a_scale_of_its_own_in_place_of_the_named_one()
    {
        _plant.Do(b => PatchProperty.Exactly(b["KLN1"], b["L"], new() { Scale = new LinearScale(new Span(0, 10), new(0, 2)) }));
        var own = _plant.Model.Index.PropertiesOf(_plant.Model.Equipment[_plant["KLN1"]]).Single(p => p.Id == _plant["L"]).Facts;
        (own.ScaleId, _plant.Model.RangeOf(own)).ShouldBe((null, new Span(0, 2)));
        SaveScale.ReachOf(_plant.Model, _plant["Level"]).ShouldBeEmpty();
    }

    [Fact]
    public void A_unit_of_ones_own_is_a_multiple_of_another_and_converts()
    {
        _plant.Do(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"), "Bag");
        var units = _plant.Model.Units;
        units.Between("BAG25", "TNE")!.Value.Of(40).ShouldBe(1, 1e-12);
        units.Match("bag")!.Code.ShouldBe("BAG25");
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            null,
            "M",
            "Malt",
            PropertyKind.Measured,
            PropertyType.Number,
            new() { Unit = "BAG25", Range = new(0, 9) }
        ));
        _plant.Refused(b => new RemoveOwnUnit(b["Bag"])).Single().Message.ShouldContain("Kiln");
        _plant.Refused(b => new SaveOwnUnit(b["Bag"], "BAG25", "bag", "bag", 25, "MTR")).Single().Message.ShouldContain("stay as they are");
        _plant.Do(b => new SaveOwnUnit(b["Bag"], "BAG25", "bag", "bag", 50, "KGM"));
        _plant.Model.Units.Between("BAG25", "KGM")!.Value.Of(1).ShouldBe(50);
    }

    [Theory]
    [InlineData("BAG", "bag", 25, "KGM", "Code", "UNECE Rec 20")]
    [InlineData("BAG25", "kg", 25, "KGM", "Symbol", "already the symbol of kilogram")]
    [InlineData("BAG25", "bag", 0, "KGM", "Factor", "above 0")]
    [InlineData("BAG25", "bag", double.NaN, "KGM", "Factor", "above 0")]
    [InlineData("BAG25", "bag", 2, "CEL", "BaseCode", "zero of its own")]
    [InlineData("BAG25", "bag", 2, "kilogramm", "BaseCode", "names no unit")]
    public void A_unit_that_cannot_be_is_refused(string code, string symbol, double factor, string of, string field, string words) =>
        _plant
            .Refused(_ => new SaveOwnUnit(null, code, symbol, "x", factor, of))
            .ShouldContain(p => p.Field == field && p.Message.Contains(words));

    [Fact]
    public void Every_kind_of_scale_goes_into_the_model_format_and_comes_back()
    {
        Scale[] scales =
        [
            Level,
            new GainScale(Signal.Free(new(0, 100)), 0.1, -40) { Outside = OutsideRule.Bad },
            new SquareRootScale(Signal.Of(SignalKind.Milliamps), new(0, 60), 0.05) { Unit = "MQH", Outside = OutsideRule.Clamp },
            new TableScale(Signal.Of(SignalKind.Volts), new(0, 18), [new(0, 0), new(1, 6), new(18, 588)]),
            new SensorScale(Signal.Free(new(0, 400)), new(0, 400), SensorKind.Pt1000),
            new SensorScale(Signal.Of(SignalKind.Percent), new(-5, 50), SensorKind.TypeJ, 22),
        ];
        foreach (var scale in scales)
        {
            ScaleEntry.Of(scale).Read(out var problems).ShouldBe(scale);
            problems.ShouldBeEmpty();
            _plant.Do(new SaveScale(null, $"S{Array.IndexOf(scales, scale)}", "x", "", scale));
        }
        _plant.Do(new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
        var document = ModelFormat.Read(ModelFormat.Write(_plant.Model), out var wrong);
        wrong.ShouldBeNull();
        new ReplaceModel(document!).On(_plant.Model).Changes.ShouldBeEmpty();
        var anew = PlantModel.Empty.Apply(new ReplaceModel(document!).On(PlantModel.Empty).Changes);
        ModelFormat.Write(anew).ShouldBe(ModelFormat.Write(_plant.Model));
    }

    [Fact]
    public void An_import_with_an_unknown_unit_is_answered_with_suggestions_and_nothing_is_dropped()
    {
        var table = new Table(
            ["template", "code", "unit"],
            [
                ["Kiln", "AirOn", "degCC"],
            ]
        );
        var result = new ImportTable(TableKind.Properties, table).Preview(_plant.Model);
        result.Lines.Single(l => l.Outcome == ImportOutcome.Refused).Reason!.ShouldContain("°C");
        new ImportTable(
            TableKind.Properties,
            new(
                ["template", "code", "unit"],
                [
                    ["Kiln", "AirOn", "degF"],
                ]
            )
        ).Preview(_plant.Model).Lines.Single().After.ShouldBe("FAH");
    }

    [Fact]
    public void A_bulk_table_leaves_shapes_it_has_no_columns_for_as_they_are()
    {
        _plant.Do(
            b => new SaveProperty(
                b["Kiln"],
                null,
                "F",
                "Flow",
                PropertyKind.Measured,
                PropertyType.Number,
                new() { Unit = "MQH", Scale = new SquareRootScale(Signal.Of(SignalKind.Milliamps), new(0, 60), 0.05) }
            ),
            "F"
        );
        new ImportTable(TableKind.Properties, ImportTable.Of(_plant.Model, TableKind.Properties))
            .Preview(_plant.Model)
            .Changes.ShouldBeEmpty();
    }
}
