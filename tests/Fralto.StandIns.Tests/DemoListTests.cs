using Fralto.Core.Exchange;
using Fralto.Core.Plant;
using Fralto.Core.Rules;

namespace Fralto.StandIns.Tests;

/// <summary>Every list of the demo plant, out and in.</summary>
public sealed class DemoListTests
{
    private static readonly PlantModel Demo = Build();

    public static TheoryData<TableKind> Kinds => [.. Enum.GetValues<TableKind>()];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void A_list_taken_in_as_it_was_given_out_changes_nothing(TableKind kind)
    {
        var table = ImportTable.Of(Demo, kind);
        table.Rows.ShouldNotBeEmpty();
        ImportTable.KindOf(table).ShouldBe(kind);
        var preview = new ImportTable(kind, table).Preview(Demo);
        preview.Lines.ShouldBeEmpty();
        preview.Changes.ShouldBeEmpty();
    }

    [Theory]
    [MemberData(nameof(Kinds))]
    public void Refused_rows_given_out_with_their_reasons_are_taken_in_again_when_they_are_mended(TableKind kind)
    {
        var table = ImportTable.Of(Demo, kind);
        var draft = new ImportDraft(new ImportTable(kind, table), []);
        foreach (var row in new[] { 2, 3 })
            draft = draft.With(row, isOut: true);
        var bad = draft.Bad(Demo);
        bad.Rows.Count.ShouldBe(2);
        bad.Columns.Length.ShouldBe(table.Columns.Length + 1);
        ImportTable.KindOf(bad).ShouldBe(kind);
        new ImportTable(kind, bad).Preview(Demo).Lines.ShouldBeEmpty();
    }

    [Fact]
    public void A_place_and_a_template_of_one_name_are_two_rows()
    {
        var labels = new Table(
            ["path", "template", "label", "labelValue"],
            [
                ["Corvane", "", "Kiln", "a"],
                ["", "Kiln", "Kiln", "b"],
                ["", "kiln", "Kiln", "c"],
            ]
        );
        var lines = new ImportTable(TableKind.Labels, labels).Preview(Demo).Lines;
        lines.Select(l => l.Outcome).ShouldBe([ImportOutcome.Added, ImportOutcome.Added, ImportOutcome.Refused]);
        lines[2].Reason.ShouldContain("Row 3");
    }

    [Fact]
    public void Lists_taken_in_one_after_the_other_make_the_plant_again_from_its_templates()
    {
        // What no list has: the templates themselves with their parts and levels, device layouts, tags, naming rules and own units.
        var templates = ModelFormat.DocumentOf(Demo) with
        {
            Equipment = [],
            Bindings = [],
            Controllers = [],
            StateLists = [],
            Scales = [],
            Layouts = [],
        };
        var bare = ModelFormat.Read(
            ModelFormat.Write(
                PlantModel.Empty.Apply(
                    new ReplaceModel(
                        templates with
                        {
                            Calendar = null,
                            ShelvingRules = null,
                            Responses = null,
                            NoticeLists = null,
                            Templates =
                            [
                                .. templates.Templates.Select(t =>
                                    t with
                                    {
                                        Properties = [],
                                        Refines = null,
                                        Labels = null,
                                        NamingRules = null,
                                    }
                                ),
                            ],
                        }
                    )
                        .On(PlantModel.Empty)
                        .Changes
                )
            ),
            out var unread
        );
        unread.ShouldBeNull();
        var model = PlantModel.Empty.Apply(new ReplaceModel(bare!).On(PlantModel.Empty).Changes);
        model.Templates.Count.ShouldBe(Demo.Templates.Count);
        foreach (var kind in Enum.GetValues<TableKind>().Where(k => k != TableKind.Bindings))
        {
            var outcome = new ImportTable(kind, ImportTable.Of(Demo, kind)).On(model);
            outcome.Problems.ShouldBeEmpty(kind.ToString());
            model = model.Apply(outcome.Changes);
            Integrity.Problems(model).ShouldBeEmpty(kind.ToString());
        }
        foreach (var kind in Enum.GetValues<TableKind>().Where(k => k != TableKind.Bindings))
            ImportTable.Of(model, kind).Rows.Select(Row).ShouldBe(ImportTable.Of(Demo, kind).Rows.Select(Row), kind.ToString());
    }

    [Theory]
    [InlineData(TableKind.States, "stateList,value,state,abnormal\nPump,0,Off,no\nPump,x,On,no", "value", "whole number")]
    [InlineData(TableKind.States, "stateList,value,state,abnormal\nPump,1,On,maybe", "abnormal", "yes or no")]
    [InlineData(TableKind.States, "stateList,value,state,key\nPump,0,Off,o\nPump,1,On,O", "state", "each state needs its own")]
    [InlineData(TableKind.Scales, "scaleCode,kind,rawLow\nS,Linear,0", "rawHigh", "both ends")]
    [InlineData(TableKind.Scales, "scaleCode,kind,rawLow,rawHigh,points\nS,Table,0,1,0 0; 5", "points", "two numbers")]
    [InlineData(TableKind.Scales, "scaleCode,kind\nS,Lineer", "kind", "none of Linear")]
    [InlineData(TableKind.Controllers, "controller,protocol,host,group\nplc,Modbus,10.0.0.1,g", "group", "leave the cell empty")]
    [InlineData(TableKind.Controllers, "controller,protocol,host,port\nplc,Modbus,10.0.0.1,seven", "port", "no whole number")]
    [InlineData(TableKind.Controllers, "controller,protocol,host,updateClasses\nplc,Modbus,10.0.0.1,slow", "updateClasses", "slow 5 s")]
    [InlineData(TableKind.Labels, "path,template,label,labelValue\nCorvane,Kiln,owner,a", "path", "either")]
    [InlineData(TableKind.Labels, "path,label,labelValue\nCorvane/Nowhere,owner,a", "path", "Nothing has the path")]
    [InlineData(TableKind.Labels, "path,label,labelValue\nCorvane,owner,", "labelValue", "needs a value")]
    [InlineData(TableKind.Settings, "path,property,unit\nCorvane,AirOn,CEL", "property", "has no property")]
    [InlineData(TableKind.Settings, "path,property,HH\nCorvane/TarnQuay/Kilning/KilnHouse/KLN1,AirOn,hot", "HH", "number")]
    [InlineData(TableKind.Settings, "path,property,colour\nCorvane,AirOn,red", "colour", "There is no column")]
    public void What_is_wrong_in_a_row_is_said_with_its_column(TableKind kind, string csv, string column, string words)
    {
        var rows = csv.Split('\n').Select(r => r.Split(',')).ToArray();
        var table = new Table([.. rows[0]], rows[1..]);
        var preview = new ImportTable(kind, table).Preview(Demo);
        preview.Lines.ShouldContain(l => l.Outcome == ImportOutcome.Refused && l.Column == column && l.Reason.Contains(words));
        preview.Changes.ShouldBeEmpty();
        new ImportTable(kind, table).On(Demo).IsRefused.ShouldBeTrue();
    }

    [Fact]
    public void A_setting_is_made_changed_and_given_back_to_the_template()
    {
        const string kiln = "Corvane/TarnQuay/Kilning/KilnHouse/KLN1";
        Table Row(string low, string high, string? hh = null) =>
            new(
                hh is null ? ["path", "property", "rangeLow", "rangeHigh"] : ["path", "property", "rangeLow", "rangeHigh", "HH"],
                [hh is null ? [kiln, "AirOn", low, high] : [kiln, "AirOn", low, high, hh]]
            );
        PlantModel After(PlantModel model, Table table)
        {
            var outcome = new ImportTable(TableKind.Settings, table).On(model);
            outcome.Problems.ShouldBeEmpty();
            return model.Apply(outcome.Changes);
        }
        var own = After(Demo, Row("0", "140", "101"));
        var property = own.Index.PropertiesOf(own.Index.Find(kiln)!).Single(p => p.Code == "AirOn");
        property.Own.Range.ShouldBe(new(0, 140));
        property.Own.Limits.Count.ShouldBe(1);
        // A column that is not there says nothing: the limit stays.
        var wider = After(own, Row("0", "150"));
        wider.Index.PropertiesOf(wider.Index.Find(kiln)!).Single(p => p.Code == "AirOn").Own.Limits.Count.ShouldBe(1);
        var back = After(wider, Row("", "", ""));
        back.Index.PropertiesOf(back.Index.Find(kiln)!).Single(p => p.Code == "AirOn").Own.IsEmpty.ShouldBeTrue();
    }

    private static string Row(string[] cells) => string.Join("|", cells);

    private static PlantModel Build()
    {
        var model = ShippedModel.Build();
        var owner = model.Equipment.Values.First(e => e.ParentId is null);
        var labelled = new ImportTable(
            TableKind.Labels,
            new(
                ["path", "label", "labelValue"],
                [
                    [model.Index.PathOf(owner.Id), "owner", "maintenance"],
                ]
            )
        ).On(model);
        model = model.Apply(labelled.Changes);
        var settings = new ImportTable(
            TableKind.Settings,
            new(
                ["path", "property", "HH", "HHDeadband"],
                [
                    ["Corvane/TarnQuay/Kilning/KilnHouse/KLN2", "AirOn", "101", "2"],
                ]
            )
        ).On(model);
        return model.Apply(settings.Changes);
    }
}
