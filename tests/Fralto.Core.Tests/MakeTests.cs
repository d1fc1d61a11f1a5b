using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Equipment that is made of tags: template, places, instance and bindings as one edit.</summary>
public sealed class MakeTests
{
    private readonly PlantBuilder _plant = new PlantBuilder()
        .Do(new SaveController(null, "plc", "127.0.0.1", 502, 1, 500), "plc")
        .Do(b => Tag(b, "K1.TT", 0, RawType.Int16), "TT")
        .Do(b => Tag(b, "K1.RUN", 1, RawType.Bool), "RUN")
        .Do(b => Tag(b, "K2.TT", 2, RawType.Int16), "TT2");

    private PlantModel Model => _plant.Model;

    private static SaveTag Tag(PlantBuilder b, string name, int at, RawType type) =>
        new(
            null,
            b["plc"],
            name,
            type == RawType.Bool ? RegisterArea.Coil : RegisterArea.HoldingRegister,
            at,
            type,
            WordOrder.HighFirst,
            ""
        );

    private MakeEquipment Make(string what, string place, params (string Tag, string Name)[] properties) =>
        new(what, place, [.. properties.Select(p => new MadeProperty(_plant[p.Tag], p.Name, p.Tag == "RUN" ? null : "CEL", null))]);

    [Fact]
    public void Everything_that_is_missing_is_made_at_once_and_taken_back_at_once()
    {
        var before = Model;
        _plant.Do(Make("Kiln", "Corvane / Tarn Quay / Kiln 1", ("TT", "Air-on temperature"), ("RUN", "Running")));
        var kiln = Model.Index.Find("Corvane/Tarn-Quay/Kiln-1")!;
        Model.Index.LineageOf(kiln.Id).Select(e => e.Level).ShouldBe([EquipmentLevel.Enterprise, EquipmentLevel.Site, EquipmentLevel.Unit]);
        var properties = Model.Index.PropertiesOf(kiln);
        properties
            .Select(p => (p.Name, p.Declaration.Type))
            .ShouldBe([("Air-on temperature", PropertyType.Number), ("Running", PropertyType.Boolean)]);
        properties[0].Facts.Unit.ShouldBe("CEL");
        Model.Bindings[(kiln.Id, properties[0].Id)].TagId.ShouldBe(_plant["TT"]);
        Integrity.Problems(Model).ShouldBeEmpty();

        // The second like it uses what is there, named or in code, and adds nothing twice.
        _plant.Do(Make("KILN", "corvane/tarn-quay/Kiln 2", ("TT2", "air-on temperature")));
        Model.Templates.Count.ShouldBe(1);
        Model.Equipment.Count.ShouldBe(4);
        Model.Bindings.Count.ShouldBe(3);

        var (first, second) = (Make("Kiln", "Corvane / Tarn Quay / Kiln 1", ("TT", "Air-on temperature")).On(before), before.Apply([]));
        var after = second.Apply(first.Changes);
        after.Apply([.. first.Changes.Reverse().Select(c => c.Inverse)]).Equipment.ShouldBeEmpty();
        MakeEquipment.InstanceOf(first).ShouldBe(after.Index.Find("Corvane/Tarn-Quay/Kiln-1")!.Id);
    }

    [Theory]
    [InlineData("", "Corvane/Kiln 1", "T", "TemplateName")]
    [InlineData("Kiln", "Kiln 1", "T", "Place")]
    [InlineData("Kiln", "Corvane//Kiln 1", "T", "Place")]
    [InlineData("Kiln", "a/b/c/d/e/f/g", "T", "Place")]
    [InlineData("Kiln", "Corvane/<b>/Kiln", "T", "Place")]
    [InlineData("Ki<ln", "Corvane/Kiln", "T", "TemplateName")]
    [InlineData("Kiln", "Corvane/Kiln", "", "Name0")]
    [InlineData("Kiln", "Corvane/Kiln", "a<b", "Name0")]
    public void What_is_wrong_is_said_at_its_field_and_nothing_is_made(string what, string place, string property, string field) =>
        _plant
            .Refused(_ => Make(what, place, ("TT", property)))
            .ShouldContain(p => p.Field == (field == "Name0" ? MakeEquipment.FieldOf("Name", _plant["TT"]) : field));

    [Fact]
    public void What_is_there_already_and_is_something_else_is_refused()
    {
        _plant.Do(Make("Kiln", "Corvane/Quay/K1", ("TT", "T")));
        _plant.Refused(_ => Make("Pump", "Corvane/Quay/K1", ("TT2", "T"))).ShouldContain(p => p.Field == "Place");
        _plant.Refused(_ => Make("Pump", "Corvane/Quay/K1/Below", ("TT", "T"), ("TT2", "T"))).ShouldNotBeEmpty();
        _plant.Refused(_ => new MakeEquipment("Kiln", "Corvane/K", [new(999, "T", null, null)])).ShouldNotBeEmpty();
        _plant.Refused(_ => new MakeEquipment("Kiln", "Corvane/K", [])).ShouldNotBeEmpty();
        // A tag that is bound elsewhere already is not taken from there in passing.
        _plant
            .Refused(_ => Make("Kiln", "Corvane/Quay/K1", ("RUN", "T")))
            .ShouldContain(p => p.Field == MakeEquipment.FieldOf("Name", _plant["RUN"]));
    }

    [Fact]
    public void Properties_are_called_as_tags_are_described_or_by_what_tells_them_apart()
    {
        var tags = Model.Tags.Values.OrderBy(t => t.Id).ToArray();
        MakeEquipment.NamesOf(tags[..2], Model.Units).ShouldBe(["TT", "RUN"]);
        MakeEquipment.NamesOf(tags[..1], Model.Units).ShouldBe(["TT"]);
        MakeEquipment
            .NamesOf([tags[0] with { Description = "air-on temperature, at the top" }, tags[1]], Model.Units)
            .ShouldBe(["Air-on temperature, at the top", "RUN"]);
        // Two that are described alike are told apart by their names.
        MakeEquipment
            .NamesOf([.. tags.Select(t => t with { Description = "temperature, degC" })], Model.Units)
            .ShouldBe(["Temperature", "K1.RUN", "K2.TT"]);
        MakeEquipment.NamesOf([], Model.Units).ShouldBeEmpty();
    }
}
