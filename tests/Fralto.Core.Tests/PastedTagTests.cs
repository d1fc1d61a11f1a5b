using Fralto.Core.Edits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Tags as people write them: with their controller, with a part, pasted by the sheet.</summary>
public sealed class PastedTagTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln()
        .Do(new SaveController(null, "hub", "127.0.0.1", 503, 1, 500), "hub")
        .Do(b => Tag(b, "hub", "TT11", RawType.Int16))
        .Do(b => Tag(b, "plc", "CONTACTS", RawType.UInt16), "CONTACTS")
        .Do(b => new SaveProperty(b["Kiln"], null, "Door", "Door", PropertyKind.Measured, PropertyType.Boolean, new()), "Door")
        .Do(b => new SaveEquipment(null, "KLN2", "Kiln 2", Basics.EquipmentLevel.Unit, b["Quay"], b["Kiln"]), "KLN2");

    [Theory]
    [InlineData("plc/TT11", "TT11", null, null)]
    [InlineData("contacts", "CONTACTS", null, null)]
    [InlineData("CONTACTS.4", "CONTACTS", ".4", null)]
    [InlineData("plc/CONTACTS.4-6", "CONTACTS", ".4-6", null)]
    [InlineData("TT11", null, null, "plc and hub both have a tag TT11; say which controller.")]
    [InlineData("CONTACTS.x", null, null, "There is no tag CONTACTS.x.")]
    [InlineData("hub/CONTACTS", null, null, "There is no tag CONTACTS on hub.")]
    [InlineData("", null, null, "There is no tag .")]
    public void A_tag_is_found_by_what_is_written(string text, string? name, string? part, string? problem)
    {
        var found = new TagFinder(_plant.Model).FindPart(text, out var slice, out var said);
        (found is null ? null : found.Name).ShouldBe(name);
        (slice is null ? null : slice.ToString()).ShouldBe(part);
        said.ShouldBe(problem);
    }

    [Fact]
    public void What_is_pasted_goes_down_and_right_and_what_lies_beyond_is_named()
    {
        long[] rows = [_plant["KLN1"], _plant["KLN2"]];
        long[] columns = [_plant["AirOn"], _plant["Door"]];
        var (lines, problems) = PastedTags.Read(_plant.Model, "plc/TT11\tCONTACTS.0\r\n\tCONTACTS.1\n", rows, columns);
        problems.ShouldBeEmpty();
        lines
            .Select(l => (l.EquipmentId, l.PropertyId, l.Slice?.ToString()))
            .ShouldBe([(rows[0], columns[0], null), (rows[0], columns[1], ".0"), (rows[1], columns[1], ".1")]);
        var (_, wrong) = PastedTags.Read(_plant.Model, "nobody\n\nhub/TT11\n\tCONTACTS.1\tCONTACTS.2", rows, columns);
        wrong.ShouldBe([
            "Line 1: There is no tag nobody.",
            "Line 3: 'hub/TT11' lies beyond the last instance shown.",
            "Line 4: 'CONTACTS.1' lies beyond the last instance shown.",
            "Line 4: 'CONTACTS.2' lies beyond the last instance shown.",
        ]);
    }

    [Fact]
    public void A_word_may_feed_a_door_by_one_of_its_bits_and_a_float_may_not()
    {
        var door = _plant.Model.Index.PropertiesOf(_plant["Kiln"]).Single(p => p.Code == "Door");
        var word = _plant.Model.Tags[_plant["CONTACTS"]];
        BindingRules.PartMisfit(_plant.Model, door, word).ShouldBeNull();
        BindingRules.TakesPart(word, door).ShouldBeTrue();
        var real = word with { Type = RawType.Float32 };
        BindingRules.PartMisfit(_plant.Model, door, real).ShouldBe("Door is true or false, CONTACTS is float32.");
        BindingRules.TakesPart(real, door).ShouldBeFalse();
    }

    private static SaveTag Tag(PlantBuilder b, string controller, string name, RawType type) =>
        new(null, b[controller], name, RegisterArea.HoldingRegister, 40, type, WordOrder.HighFirst, "");
}
