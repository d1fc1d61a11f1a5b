using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Scaling;

namespace Fralto.Core.Tests;

/// <summary>Tables that are mended before they are taken in.</summary>
public sealed class ImportDraftTests
{
    private readonly PlantBuilder _plant = PlantBuilder.Kiln();

    private static ImportDraft Draft(params string[] rows) =>
        new(new ImportTable(TableKind.Equipment, new(["path", "name", "level"], [.. rows.Select(r => r.Split(';'))])), []);

    [Fact]
    public void A_cell_is_mended_and_what_depends_on_it_is_fine_with_it()
    {
        var draft = Draft("Corvane/Quay/A;Hall A;Arae", "Corvane/Quay/A/B;Cell B;WorkCenter");
        draft.Kept.Preview(_plant.Model).Refused.ShouldBeGreaterThan(0);
        var mended = draft.With(2, 2, "Area");
        mended.Kept.Preview(_plant.Model).Refused.ShouldBe(0);
        mended.Kept.On(_plant.Model).Problems.ShouldBeEmpty();
        draft.With(99, 2, "Area").ShouldBe(draft);
        draft.With(2, 7, "Area").ShouldBe(draft);
        draft.With(2, -1, "x").ShouldBe(draft);
        draft.With(2, 1, new string('x', Table.LongestCell + 1)).ShouldBe(draft);
    }

    [Fact]
    public void The_good_rows_are_taken_and_those_that_fall_with_the_bad_ones_are_left_out_too()
    {
        var draft = Draft(
            "Corvane/Quay/A;Hall A;Area",
            "Corvane/Quay/X;Hall X;no level",
            "Corvane/Quay/X/Y;Below X;WorkCenter",
            "Corvane/Quay/C;Hall C;Area"
        );
        var good = draft.WithoutRefused(_plant.Model);
        good.LeftOut.Order().ShouldBe([3, 4]);
        var outcome = good.Kept.On(_plant.Model);
        outcome.Problems.ShouldBeEmpty();
        _plant.Model.Apply(outcome.Changes).Equipment.Values.Select(e => e.Name).ShouldContain("Hall C");
        good.Kept.Preview(_plant.Model).Lines.Select(l => l.Row).Distinct().ShouldBe([2, 5], "rows keep the numbers they have in the file");
        good.With(3, isOut: false).LeftOut.ShouldBe([4]);
        good.With(77, isOut: true).LeftOut.Count.ShouldBe(2);

        var bad = good.Bad(_plant.Model);
        bad.Rows.Select(r => r[0]).ShouldBe(["Corvane/Quay/X", "Corvane/Quay/X/Y"]);
        bad.Columns[^1].ShouldBe("why it was refused");
        bad.Rows[0][^1].ShouldContain("level");
        // Mended elsewhere and brought again, with the reasons still in it.
        var again = new ImportDraft(new ImportTable(TableKind.Equipment, bad), []).With(2, 2, "Area");
        again.Kept.On(_plant.Model).Problems.ShouldBeEmpty();
        again.Bad(_plant.Model).Columns.Length.ShouldBe(bad.Columns.Length);
    }

    [Fact]
    public void Cells_of_a_tag_list_are_mended_in_the_columns_they_were_recognised_in()
    {
        var plc = _plant.Model.Controllers.Values.First();
        var table = new Table(
            ["Signal name", "Register", "Format", "EU"],
            [
                ["N1", "40101", "REAL", "furlong"],
                ["N2", "40103", "REALL", "degC"],
            ]
        );
        var import = new ImportTags(plc.Id, table, [.. TagTable.Recognise(table, plc, _plant.Model.Units)]);
        var lines = import.Preview(_plant.Model).Lines.Where(l => l.Outcome == ImportOutcome.Refused).ToArray();
        lines.Select(import.ColumnOf).ShouldBe([3, 2], ignoreOrder: true);
        var mended = new ImportDraft(import, []).With(2, 3, "degC").With(3, 2, "REAL");
        var outcome = mended.Kept.On(_plant.Model);
        outcome.Problems.ShouldBeEmpty();
        mended.Kept.Preview(_plant.Model).Lines.ShouldAllBe(l => l.After.Contains("°C"));
    }

    [Fact]
    public void Bindings_go_out_and_in_and_name_tags_by_name_or_address()
    {
        _plant.Do(b => new SaveTag(
            null,
            b.Model.Controllers.Keys.First(),
            "N7",
            RegisterArea.HoldingRegister,
            77,
            RawType.Float32,
            WordOrder.HighFirst,
            ""
        ));
        var controller = _plant.Model.Controllers.Values.First().Name;
        ImportResult Of(params string[] row) =>
            new ImportTable(TableKind.Bindings, new(["path", "property", "controller", "tag", "address", "part"], [row])).Preview(
                _plant.Model
            );
        var given = ImportTable.Of(_plant.Model, TableKind.Bindings);
        given.Rows.Count.ShouldBe(_plant.Model.Bindings.Count);
        ImportTable.KindOf(given).ShouldBe(TableKind.Bindings);
        new ImportTable(TableKind.Bindings, given).Preview(_plant.Model).Lines.ShouldBeEmpty();

        var path = given.Rows[0][0];
        Of(path, "AirOn", controller, "N7", "", "")
            .Lines.Single()
            .ShouldBe(new(2, ImportOutcome.Changed, $"{path} AirOn", "tag", given.Rows[0][3], "N7"));
        Of(path, "airon", controller, "", "holding 77", "").Lines.Single().After.ShouldBe("N7");
        Of(path, "AirOn", controller, "", "40078", "").Lines.Single().After.ShouldBe("N7", "as manuals print it");
        Of(path, "AirOn", controller, "", "nonsense", "").Lines.Single().Column.ShouldBe("address");
        Of(path, "AirOn", controller, "", "", "").Lines.ShouldBeEmpty("a row without a tag is passed over");
        Of(path, "AirOn", controller, "N8", "", "").Lines.Single().Reason.ShouldContain("did you mean N7");
        Of(path, "AirOm", controller, "N7", "", "").Lines.Single().Column.ShouldBe("property");
        Of("nowhere", "AirOn", controller, "N7", "", "").Lines.Single().Column.ShouldBe("path");
        Of(path, "AirOn", "none", "N7", "", "").Lines.Single().Column.ShouldBe("controller");
        Of(path, "AirOn", controller, "N7", "", "x").Lines.Single().Column.ShouldBe("part");
        Of(path, "AirOn", controller, "N7", "", ".4").Lines.Single().Outcome.ShouldBe(ImportOutcome.Refused, "a float has no bits");
    }
}
