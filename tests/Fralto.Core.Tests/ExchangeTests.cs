using System.Text;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;

namespace Fralto.Core.Tests;

/// <summary>Models and tables in and out, with everything that can be wrong in them.</summary>
public sealed class ExchangeTests
{
    private readonly PlantBuilder _plant = PlantBuilder
        .Kiln((LimitCondition.High, 88, 1.5, 2))
        .Do(new SaveStateList(null, "Phase", "Kiln phase", [new(0, "Idle"), new(1, "Drying")]), "Phase")
        .Do(
            b => new SaveProperty(
                b["Kiln"],
                null,
                "AssetNumber",
                "Asset number",
                PropertyKind.Fixed,
                PropertyType.Text,
                PropertyPatch.Empty
            ),
            "Asset"
        )
        .Do(
            b => new SaveProperty(b["Kiln"], null, "Area", "Bed area", PropertyKind.Fixed, PropertyType.Number, new() { Value = "40" }),
            "Area"
        )
        .Do(b => new SaveTemplate(null, "DrumKiln", "Drum kiln", b["Kiln"], ""), "Drum")
        .Do(b => PatchProperty.Exactly(b["KLN1"], b["Asset"], new() { Value = "MLT-1" }));

    [Fact]
    public void A_person_can_write_a_model_by_hand()
    {
        var outcome = Replace(
            """
            { "format": "fralto-model", "version": 1,
              "templates": [
                { "code": "Fan", "properties": [ { "code": "Speed", "kind": "Measured", "type": "Number", "unit": "P1",
                  "range": [0, 100] } ] },
                { "code": "Kiln", "levels": ["Unit"], "parts": [ { "code": "MainFan", "template": "Fan", "level": "EquipmentModule" } ] } ],
              "equipment": [
                { "path": "C/K1/MainFan", "level": "EquipmentModule", "template": "Fan", "part": "MainFan",
                  "sets": { "Speed": { "range": [0, 90] } } },
                { "path": "C", "name": "Corvane", "level": "Enterprise" },
                { "path": "C/K1", "level": "Unit", "template": "Kiln", "labels": { "owner": "kilning" } } ],
              "controllers": [ { "name": "plc", "host": "127.0.0.1", "tags": [ { "name": "SC1", "area": "InputRegister", "offset": 3,
                "type": "Int16" } ] } ],
              "bindings": [ { "equipment": "C/K1/MainFan", "property": "Speed", "controller": "plc", "tag": "SC1" } ] }
            """,
            PlantModel.Empty
        );
        outcome.Problems.ShouldBeEmpty();
        var model = PlantModel.Empty.Apply(outcome.Changes);
        var fan = model.Index.Find("C/K1/MainFan")!;
        fan.PartId.ShouldBe(model.Templates.Values.Single(t => t.Code == "Kiln").Parts.Single().Id);
        model.Index.PropertiesOf(fan).Single().Facts.Range!.Value.High.ShouldBe(90);
        model.Bindings.Count.ShouldBe(1);
    }

    [Fact]
    public void What_keeps_its_code_or_path_keeps_its_id_and_what_depends_on_it()
    {
        var text = Encoding
            .UTF8.GetString(ModelFormat.Write(_plant.Model))
            .Replace("\"Air-on temperature\"", "\"Air below the bed\"", StringComparison.Ordinal);
        var outcome = Replace(text, _plant.Model);
        outcome
            .Changes.ShouldHaveSingleItem()
            .After.ShouldBeOfType<Template>()
            .Properties[0]
            .ShouldSatisfyAllConditions(p => p.Id.ShouldBe(_plant["AirOn"]), p => p.Name.ShouldBe("Air below the bed"));
    }

    [Fact]
    public void All_that_is_wrong_is_said_at_once_each_with_its_place()
    {
        var problems = Replace(
            """
            { "format": "fralto-model", "version": 1,
              "templates": [ { "code": "Kiln", "inherits": "Kilm", "properties": [ { "code": "Phase", "kind": "Measured", "type": "State",
                "stateList": "Phse" } ] },
                             { "code": "A", "inherits": "B" }, { "code": "B", "inherits": "A" } ],
              "stateLists": [ { "code": "Phase", "states": [ { "value": 0, "name": "Idle" } ] } ],
              "equipment": [ { "path": "C/K1", "level": "Unit" }, { "path": "2C", "level": "Enterprise" }, { "path": "D",
                "level": "Enterprise", "sets": { "X": { "value": "1" } } } ],
              "controllers": [ { "name": "plc", "host": "no host", "port": 70000 } ],
              "bindings": [ { "equipment": "C", "property": "P", "controller": "plc", "tag": "T" } ] }
            """,
            PlantModel.Empty
        ).Problems;
        problems
            .Select(p => p.Field)
            .ShouldBe(
                [
                    "$.templates[0].inherits",
                    "$.templates[1].inherits",
                    "$.templates[2].inherits",
                    "$.templates[0].properties[0].stateList",
                    "$.equipment[1].code",
                    "$.equipment[2].sets.X",
                    "$.equipment[0].path",
                    "$.controllers[0].host",
                    "$.controllers[0].port",
                    "$.bindings[0].equipment",
                    "$.bindings[0].tag",
                ],
                ignoreOrder: true
            );
        problems[0].Message.ShouldBe("There is no template Kilm; did you mean Kiln?");
        problems
            .First(p => p.Field.EndsWith("stateList", StringComparison.Ordinal))
            .Message.ShouldBe("There is no state list Phse; did you mean Phase?");
    }

    [Fact]
    public void A_whole_that_would_hold_itself_and_a_misplaced_level_are_found()
    {
        Replace(
            """
            { "format": "fralto-model", "version": 1, "templates": [
              { "code": "A", "parts": [ { "code": "P", "template": "B", "level": "ControlModule" } ] }, { "code": "B",
                "parts": [ { "code": "P", "template": "A", "level": "ControlModule" } ] } ] }
            """,
            PlantModel.Empty
        )
            .Problems.ShouldHaveSingleItem()
            .Message.ShouldContain("would hold itself through its parts");
        Replace(
            """
            { "format": "fralto-model", "version": 1, "equipment": [ { "path": "C", "level": "Enterprise" }, { "path": "C/X",
              "level": "Enterprise" } ] }
            """,
            PlantModel.Empty
        )
            .Problems.ShouldHaveSingleItem()
            .Message.ShouldContain("An enterprise cannot sit below an enterprise");
    }

    [Theory]
    [InlineData("", "$")]
    [InlineData("[]", "$")]
    [InlineData("{ \"format\": \"other\", \"version\": 1 }", "$.format")]
    [InlineData("{ \"format\": \"fralto-model\", \"version\": 2 }", "$.version")]
    [InlineData("{ \"format\": \"fralto-model\", \"version\": 1, \"equipments\": [] }", "$.equipments")]
    [InlineData(
        "{ \"format\": \"fralto-model\", \"version\": 1, \"equipment\": [ { \"path\": \"C\", \"level\": \"Planet\" } ] }",
        "$.equipment[0].level"
    )]
    [InlineData("{ \"format\": \"fralto-model\", \"version\": 1, \"equipment\": [ { \"path\": \"C\"", "$.equipment[0]")]
    public void Bytes_that_hold_no_model_are_refused_with_the_place(string json, string place)
    {
        ModelFormat.Read(Encoding.UTF8.GetBytes(json), out var problem).ShouldBeNull();
        problem!.Field.ShouldStartWith(place);
        problem.Message.ShouldNotBeNullOrWhiteSpace();
    }

    [Fact]
    public void A_table_says_what_it_would_do_before_it_does_it()
    {
        var import = new ImportTable(
            TableKind.Equipment,
            Of(
                "path;name;level;template;labels",
                "Corvane/Quay/KLN1;Kiln one;Unit;Kiln;",
                "Corvane/Quay/KLN2/Aux;Aux;EquipmentModule;;",
                "Corvane/Quay/KLN2;Kiln 2;unit;KILN;owner=a",
                "Corvane;Corvane;Enterprise;;"
            )
        );
        var preview = import.Preview(_plant.Model);
        preview
            .Lines.Select(l => (l.Row, l.Outcome, l.Column, l.Before, l.After))
            .ShouldBe([
                (2, ImportOutcome.Changed, "name", "Kiln 1", "Kiln one"),
                (3, ImportOutcome.Added, "", "", "Aux, equipment module"),
                (4, ImportOutcome.Added, "", "", "Kiln 2, unit, Kiln"),
            ]);
        (preview.Added, preview.Changed, preview.Refused, preview.Unchanged).ShouldBe((2, 1, 0, 1));
        _plant.Do(import);
        _plant.Model.Index.Find("Corvane/Quay/KLN2/Aux").ShouldNotBeNull();
    }

    [Theory]
    [InlineData("Corvane/Nowhere/K;K;Unit;Kiln;", "path", "There is no Corvane/Nowhere")]
    [InlineData("Corvane/Quay/K 1;K;Unit;Kiln;", "path", "A code has letters")]
    [InlineData("Corvane/Quay/K;K;Unitt;Kiln;", "level", "did you mean Unit?")]
    [InlineData("Corvane/Quay/K;K;Site;Kiln;", "level", "cannot sit below")]
    [InlineData("Corvane/Quay/K;K;Unit;Kill;", "template", "did you mean Kiln?")]
    [InlineData("Corvane/Quay/KLN1;K;Unit;DrumKiln;", "template", "keeps its template")]
    [InlineData("Corvane/Quay/K;K;Unit;Kiln;owner", "labels", "key=value")]
    [InlineData(";K;Unit;Kiln;", "path", "Give the path")]
    public void A_row_that_cannot_be_taken_in_is_refused_with_column_and_reason_and_nothing_is_done(
        string row,
        string column,
        string reason
    )
    {
        var import = new ImportTable(TableKind.Equipment, Of("path;name;level;template;labels", "Corvane/Quay/New;New;Unit;Kiln;", row));
        var refused = import.Preview(_plant.Model).Lines.Single(l => l.Outcome == ImportOutcome.Refused);
        refused.Row.ShouldBe(3);
        refused.Column.ShouldBe(column);
        refused.Reason.ShouldContain(reason);
        import
            .On(_plant.Model)
            .ShouldSatisfyAllConditions(
                o => o.IsRefused.ShouldBeTrue(),
                o => o.Changes.ShouldBeEmpty(),
                o => o.Problems[0].Message.ShouldStartWith("Row 3, ")
            );
    }

    [Fact]
    public void Rows_that_say_the_same_twice_are_refused() =>
        new ImportTable(TableKind.Equipment, Of("path;name;level", "Corvane/Quay/A;A;Unit", "corvane/quay/a;B;Unit"))
            .Preview(_plant.Model)
            .Lines.Single(l => l.Outcome == ImportOutcome.Refused)
            .Reason.ShouldBe("Row 2 has the same path.");

    [Fact]
    public void Values_are_set_go_back_and_keep_to_their_type()
    {
        var table = Of("path;AssetNumber;Area", "Corvane/Quay/KLN1;;41,5");
        var preview = new ImportTable(TableKind.Values, table with { HasDecimalComma = true }).Preview(_plant.Model);
        preview.Lines.Select(l => (l.Column, l.Before, l.After)).ShouldBe([("AssetNumber", "MLT-1", ""), ("Area", "40", "41.5")]);
        new ImportTable(TableKind.Values, table)
            .Preview(_plant.Model)
            .Lines.Single(l => l.Outcome == ImportOutcome.Refused)
            .Reason.ShouldContain("'41,5' is no number");
        // A slip of the point is said, and taken all the same when it is meant.
        var area = _plant.Model.Index.PropertiesOf(_plant["Kiln"]).Single(p => p.Code == "Area");
        _plant.Do(b => ManyEdits.Exactly(b["Kiln"], area, area.Own with { Range = new(1, 200) }));
        var far = new ImportTable(TableKind.Values, Of("path;Area", "Corvane/Quay/KLN1;4000"));
        far.Preview(_plant.Model).Lines.Single().Reason.ShouldContain("outside its range");
        far.On(_plant.Model).IsRefused.ShouldBeFalse();
        new ImportTable(TableKind.Values, Of("path;Areas", "Corvane/Quay/KLN1;1"))
            .Preview(_plant.Model)
            .Lines[0]
            .ShouldSatisfyAllConditions(l => l.Row.ShouldBe(1), l => l.Reason.ShouldContain("did you mean Area?"));
    }

    [Fact]
    public void Properties_are_declared_changed_and_refined_and_a_misspelt_state_list_is_reported()
    {
        var preview = new ImportTable(
            TableKind.Properties,
            Of(
                "template;code;name;kind;type;unit;rangeLow;rangeHigh;stateList;H;HPriority",
                "Kiln;AirOn;Air-on temperature;Measured;Number;°C;0;120;;90;2",
                "DrumKiln;AirOn;;;;;0;100;;off;",
                "Kiln;Phase;Phase;Measured;State;;;;Kiln fase;;",
                "Kiln;Moisture;Grain moisture;Measured;Number;P1;0;50;;;",
                "Kilm;X;;;;;;;;;"
            )
        ).Preview(_plant.Model);
        preview
            .Lines.Where(l => l.Outcome == ImportOutcome.Changed)
            .Select(l => (l.Row, l.Column, l.Before, l.After))
            .ShouldBe([(2, "H", "88", "90"), (3, "rangeLow", "", "0"), (3, "rangeHigh", "", "100"), (3, "H", "", "off")]);
        preview
            .Lines.Where(l => l.Outcome == ImportOutcome.Refused)
            .Select(l => (l.Row, l.Column))
            .ShouldBe([(4, "stateList"), (6, "template")]);
        preview.Lines.Single(l => l.Row == 4).Reason.ShouldContain("did you mean Kiln phase? It is not added by itself");
        preview.Lines.Single(l => l.Outcome == ImportOutcome.Added).Subject.ShouldBe("Kiln Moisture");
        preview.Changes.ShouldBeEmpty();
    }

    [Theory]
    [InlineData("Kiln phse", "Kiln phase")]
    [InlineData("kiln PHASE", "Kiln phase")]
    [InlineData("Door", null)]
    [InlineData("", null)]
    public void The_nearest_word_is_one_a_slip_of_the_hand_away(string text, string? nearest) =>
        Naming.Nearest(text, ["Kiln phase", "Run state"]).ShouldBe(nearest);

    [Fact]
    public void Fifty_thousand_rows_are_taken_in_at_once()
    {
        var rows = Enumerable
            .Range(0, 50_000)
            .Select(i => $"Corvane/Quay/N{i};Node {i};Unit;Kiln;")
            .Prepend("path;name;level;template;labels")
            .ToArray();
        var preview = new ImportTable(TableKind.Equipment, Of(rows)).Preview(_plant.Model);
        preview.Added.ShouldBe(50_000);
        _plant.Model.Apply(preview.Changes).Index.InstanceCountOf(_plant["Kiln"]).ShouldBe(50_001);
    }

    private static EditOutcome Replace(string json, PlantModel model)
    {
        var document = ModelFormat.Read(Encoding.UTF8.GetBytes(json), out var problem);
        problem.ShouldBeNull();
        return new ReplaceModel(document!).On(model);
    }

    private static Table Of(params string[] lines) => new([.. lines[0].Split(';')], [.. lines.Skip(1).Select(l => l.Split(';'))]);

    [Fact]
    public void A_row_with_two_problems_is_one_refused_row_and_nothing_else()
    {
        ImportLine Line(int row, ImportOutcome outcome) => new(row, outcome, "", "", "", "", "");
        var result = new ImportResult(
            [
                Line(2, ImportOutcome.Added),
                Line(3, ImportOutcome.Refused),
                Line(3, ImportOutcome.Refused),
                Line(3, ImportOutcome.Changed),
                Line(4, ImportOutcome.Changed),
                Line(4, ImportOutcome.Changed),
            ],
            5,
            []
        );
        (result.Added, result.Changed, result.Refused, result.Problems, result.Unchanged).ShouldBe((1, 1, 1, 2, 2));
        result.Words.ShouldBe("1 added, 1 changed, 1 refused (2 problems), 2 as they are");
    }

    [Theory]
    [InlineData("""{"format":"fralto-model","version":1,"templates":null}""", "$.templates")]
    [InlineData("""{"format":"fralto-model","version":1,"templates":[null]}""", "$.templates[0]")]
    [InlineData(
        """{"format":"fralto-model","version":1,"templates":[{"code":"A","properties":[{"code":"P","kind":"Measured","type":"Number","""
            + "\"limits\":{\"High\":null}}]}]}",
        "High"
    )]
    [InlineData(
        """{"format":"fralto-model","version":1,"equipment":[{"path":"A","level":"Site","labels":{"a":null}}]}""",
        "$.equipment[0].labels.a"
    )]
    [InlineData(
        """{"format":"fralto-model","version":1,"bindings":[{"equipment":null,"property":"a","controller":"b","tag":"c"}]}""",
        "equipment"
    )]
    [InlineData("""{"format":"fralto-model","version":1,"templates":[{"code":"\ud800"}]}""", "$")]
    public void Null_where_something_is_expected_is_a_problem_with_its_place(string document, string place)
    {
        ModelFormat.Read(System.Text.Encoding.UTF8.GetBytes(document), out var problem).ShouldBeNull();
        $"{problem!.Field} {problem.Message}".ShouldContain(place);
    }

    [Fact]
    public void Files_that_call_a_state_list_by_its_older_name_are_still_read()
    {
        _plant.Do(b => new SaveProperty(
            b["Kiln"],
            null,
            "Step",
            "Step",
            PropertyKind.Measured,
            PropertyType.State,
            new() { StateListId = b["Phase"] }
        ));
        var now = ModelFormat.Write(_plant.Model);
        var old = System
            .Text.Encoding.UTF8.GetString(now)
            .Replace("\"stateLists\"", "\"stateSets\"", StringComparison.Ordinal)
            .Replace("\"stateList\"", "\"stateSet\"", StringComparison.Ordinal);
        old.ShouldContain("\"stateSet\"");
        var document = ModelFormat.Read(System.Text.Encoding.UTF8.GetBytes(old), out var problem);
        problem.ShouldBeNull();
        new ReplaceModel(document!).On(PlantModel.Empty).Problems.ShouldBeEmpty();
        ModelFormat.Write(PlantModel.Empty.Apply(new ReplaceModel(document!).On(PlantModel.Empty).Changes)).ShouldBe(now);
        var table = ImportTable.Of(_plant.Model, TableKind.Properties);
        var named = table with { Columns = table.Columns.Replace("stateList", "stateSet") };
        new ImportTable(TableKind.Properties, named).Preview(_plant.Model).Lines.ShouldBeEmpty();
    }

    [Fact]
    public void A_list_says_again_what_is_there_also_of_a_formula_that_names_what_is_gone()
    {
        var plant = new PlantBuilder().Do(new SaveTemplate(null, "Pump", "Pump", null, ""), "Pump");
        plant.Do(new SaveProperty(plant["Pump"], null, "Flow", "Flow", PropertyKind.Measured, PropertyType.Number, PropertyPatch.Empty));
        plant.Do(
            new SaveProperty(
                plant["Pump"],
                null,
                "Twice",
                "Twice",
                PropertyKind.Calculated,
                PropertyType.Number,
                new() { Formula = "Flow * 2" }
            )
        );
        plant.Do(new RemoveProperty(plant["Pump"], plant.Model.Index.PropertiesOf(plant["Pump"])[0].Id));
        var table = ImportTable.Of(plant.Model, TableKind.Properties);
        new ImportTable(TableKind.Properties, table).Preview(plant.Model).Lines.ShouldBeEmpty();
        // What is changed is looked at as ever.
        var other = table with { Rows = [.. table.Rows.Select(r => r.Select(c => c == "Flow * 2" ? "Flow * 3" : c).ToArray())] };
        new ImportTable(TableKind.Properties, other).Preview(plant.Model).Lines.Single().Outcome.ShouldBe(ImportOutcome.Refused);
    }

    [Theory]
    [InlineData(
        """{"format":"fralto-model","version":1,"controllers":[{"name":"a","protocol":"modbusTcp"}]}""",
        "$.controllers[0].protocol",
        "Line 1: The value is not one that can stand here; write Modbus, Mqtt, "
    )]
    [InlineData("""{"format":"fralto-model","version":"one"}""", "$.version", "write a whole number")]
    [InlineData("{\"format\":\"fralto-model\",\n\"version\":1,\"units\":7}", "$.units", "Line 2: The value is not one that can stand here")]
    [InlineData("{\n\n nonsense", "$", "Line 3: ")]
    public void What_is_wrong_with_a_file_is_said_without_the_names_of_a_program(string json, string place, string words)
    {
        ModelFormat.Read(System.Text.Encoding.UTF8.GetBytes(json), out var problem).ShouldBeNull();
        problem.ShouldNotBeNull().Field.ShouldBe(place);
        problem.Message.ShouldContain(words);
        problem.Message.ShouldNotContain("System.");
        problem.Message.ShouldNotContain("Fralto.");
    }
}
