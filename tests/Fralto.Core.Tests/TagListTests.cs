using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Tag lists in and out: columns recognised, differences shown, errors by row.</summary>
public sealed class TagListTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln();

    private PlantModel Model => _plant.Model;

    private Controller Plc => Model.Controllers[_plant["plc"]];

    [Fact]
    public void Columns_are_recognised_by_their_names_whatever_the_house_calls_them()
    {
        var found = Recognise(
            ["Tag Name", "Register", "Data type", "Eng. unit", "Word order", "Comment", "Range low", "Range high", "Scan class"],
            ["A", "40001", "REAL", "degC", "CDAB", "x", "0", "1", "slow"]
        );
        found
            .Select(c => (c.Field, c.Index))
            .ShouldBe(
                [
                    (TagField.Name, 0),
                    (TagField.Address, 1),
                    (TagField.Type, 2),
                    (TagField.Order, 4),
                    (TagField.Unit, 3),
                    (TagField.Low, 6),
                    (TagField.High, 7),
                    (TagField.Description, 5),
                    (TagField.UpdateClass, 8),
                ],
                ignoreOrder: true
            );
    }

    [Fact]
    public void Columns_without_telling_names_are_recognised_by_what_stands_in_them()
    {
        var found = Recognise(
            ["c1", "c2", "c3", "c4", "c5"],
            ["KLN1_TT13", "input 20", "float32", "degC", "air in the duct"],
            ["KLN1_TT14", "input 22", "float32", "degC", "air behind the fan"]
        );
        found
            .ToDictionary(c => c.Field, c => c.Index)
            .ShouldBe(
                new Dictionary<TagField, int>
                {
                    [TagField.Name] = 0,
                    [TagField.Address] = 1,
                    [TagField.Type] = 2,
                    [TagField.Unit] = 3,
                    [TagField.Description] = 4,
                },
                ignoreOrder: true
            );
        found.First(c => c.Field == TagField.Address).Why.ShouldContain("2 of 2 are addresses");
    }

    [Fact]
    public void New_rows_add_known_names_change_and_what_is_there_already_is_left()
    {
        var table = new Table(
            ["name", "address", "type", "unit", "low", "high", "description"],
            [
                ["TT11", "input 0", "int16", "", "", "", "air on"],
                ["TT12", "30005", "DINT", "degC", "0", "120", ""],
            ]
        );
        var result = Preview(table);
        (result.Added, result.Changed, result.Refused).ShouldBe((1, 1, 0));
        result.Lines.ShouldContain(l => l.Row == 2 && l.Column == "description" && l.After == "air on");
        Model.Tags.Count.ShouldBe(1, "a dry run changes nothing");
        _plant.Do(b => new ImportTags(b["plc"], table, [.. TagTable.Recognise(table, Plc, Model.Units)]));
        var added = Model.Index.TagsOf(_plant["plc"]).Single(t => t.Name == "TT12");
        (added.Address.ToString(), added.Type, added.Unit, added.Range).ShouldBe(("input 4", RawType.Int32, "CEL", new Span(0, 120)));
        Model.Bindings.Count.ShouldBe(1, "the tag keeps its id and its binding");
        Preview(table).Unchanged.ShouldBe(2);
    }

    [Fact]
    public void What_was_given_out_changes_nothing_when_taken_in()
    {
        _plant.Do(b => new SaveController(b["plc"], "plc", new ModbusConnection("h", 502, 1), 500, [new("slow", TimeSpan.FromSeconds(5))]));
        _plant.Do(b => new SaveTag(
            null,
            b["plc"],
            "CONTACTS",
            new ModbusAddress(RegisterArea.InputRegister, 100, null, 3),
            RawType.Bool,
            WordOrder.LowFirst,
            "run, door",
            192,
            null,
            "slow"
        ));
        _plant.Do(b => new SaveTag(
            null,
            b["plc"],
            "BIT",
            new ModbusAddress(RegisterArea.InputRegister, 90, 4),
            RawType.Bool,
            WordOrder.HighFirst,
            "",
            1,
            null,
            null,
            new Span(0, 1)
        ));
        var table = TagTable.Of(Model, Plc);
        table.Rows.Count.ShouldBe(3);
        var result = Preview(table);
        (result.Unchanged, result.Lines.Count).ShouldBe((3, 0));
    }

    [Theory]
    [InlineData("", "input 1", "int16", "", "name", "Give a name")]
    [InlineData("X", "input 70000", "int16", "", "address", "0 to 65535")]
    [InlineData("X", "somewhere", "int16", "", "address", "no Modbus address")]
    [InlineData("X", "input 1", "int17", "", "type", "no type")]
    [InlineData("X", "input 1", "int16", "furlongs", "unit", "names no unit")]
    [InlineData("X", "input 0", "int16", "", "address", "TT11 is int16 at input 0 too")]
    [InlineData("TT11", "input 0", "bool", "", "type", "is bound to this tag")]
    public void Each_wrong_row_says_where_and_why_and_nothing_is_taken_in(
        string name,
        string address,
        string type,
        string unit,
        string column,
        string says
    )
    {
        var table = new Table(
            ["name", "address", "type", "unit"],
            [
                ["GOOD", "input 50", "int16", ""],
                [name, address, type, unit],
            ]
        );
        var result = Preview(table);
        result.Lines.ShouldContain(l => l.Row == 3 && l.Outcome == ImportOutcome.Refused && l.Column == column && l.Reason.Contains(says));
        result.Changes.ShouldBeEmpty();
        new ImportTags(_plant["plc"], table, [.. TagTable.Recognise(table, Plc, Model.Units)]).On(Model).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void Two_rows_of_one_name_or_one_place_are_refused_and_two_that_exchange_places_are_not()
    {
        Preview(
            new(
                ["name", "address", "type"],
                [
                    ["A", "input 10", "int16"],
                    ["a", "input 11", "int16"],
                ]
            )
        )
            .Lines.ShouldContain(l => l.Row == 3 && l.Reason.Contains("Row 2 has the same name; a_2 is free"));
        Preview(
            new(
                ["name", "address", "type"],
                [
                    ["A", "input 10", "int16"],
                    ["B", "30011", "INT"],
                ]
            )
        )
            .Lines.ShouldContain(l => l.Row == 3 && l.Reason.Contains("A is int16 at input 10 too"));
        _plant.Do(b => new SaveTag(null, b["plc"], "TT12", RegisterArea.InputRegister, 1, RawType.Int16, WordOrder.HighFirst, ""));
        Preview(
            new(
                ["name", "address", "type"],
                [
                    ["TT11", "input 1", "int16"],
                    ["TT12", "input 0", "int16"],
                ]
            )
        )
            .Changed.ShouldBe(2);
    }

    [Fact]
    public void A_list_without_a_needed_column_says_which()
    {
        Preview(
            new(
                ["name"],
                [
                    ["A"],
                ]
            )
        )
            .Lines.Select(l => l.Column)
            .ShouldBe(["type", "address"], ignoreOrder: true);
    }

    [Fact]
    public void Table_offset_and_unit_id_may_stand_in_columns_of_their_own_and_ranges_with_a_comma()
    {
        var table = new Table(
            ["tag", "area", "offset", "type", "slave", "min", "max"],
            [
                ["A", "input", "12", "REAL", "7", "0,5", "1,5"],
            ],
            HasDecimalComma: true
        );
        _plant.Do(b => new ImportTags(b["plc"], table, [.. TagTable.Recognise(table, Plc, Model.Units)]));
        var tag = Model.Index.TagsOf(_plant["plc"]).Single(t => t.Name == "A");
        (tag.Address.ToString(), tag.Range).ShouldBe(("unit 7 input 12", new Span(0.5, 1.5)));
    }

    private IReadOnlyList<TagColumn> Recognise(string[] columns, params string[][] rows) =>
        TagTable.Recognise(new Table([.. columns], rows), Plc, Model.Units);

    private ImportResult Preview(Table table) => TagTable.Import(Model, Plc, table, TagTable.Recognise(table, Plc, Model.Units));
}
