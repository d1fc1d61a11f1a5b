using Fralto.Core.Binding;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Microsoft.Data.Sqlite;

namespace Fralto.Store.Tests;

public sealed class PlantStoreTests : IDisposable
{
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-store-").FullName;
    private PlantModel _model = PlantModel.Empty;

    private string File => Path.Combine(_directory, "plant.db");

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public void A_restart_shows_the_same_plant()
    {
        using (var store = PlantStore.Open(File)) Build(store);
        using var again = PlantStore.Open(File);
        ShouldBeSame(again.Load(), _model);
    }

    [Fact]
    public void Units_scales_arrays_and_slices_are_there_again_after_a_restart()
    {
        using (var store = PlantStore.Open(File))
        {
            Build(store);
            Do(store, new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
            Do(store, new SaveScale(null, "Strapping", "Strapping table", "silo", new TableScale(Signal.Of(SignalKind.Milliamps), new(0, 18), [new(0, 0), new(3, 48), new(18, 588)]) { Unit = "TNE", Outside = OutsideRule.Clamp }));
            Do(store, new SaveScale(null, "Flue", "Flue gas", "", new SensorScale(Signal.Free(new(-10, 60)), new(-10, 60), SensorKind.TypeK, 25)));
            Do(store, new SaveTag(null, 1, "CONTACTS", RegisterArea.InputRegister, 100, RawType.Bool, WordOrder.LowFirstSwapped, "", 192));
            Do(store, new SaveTag(null, 1, "ST", RegisterArea.InputRegister, 200, RawType.UInt16, WordOrder.HighFirst, "", 1, "BAG25"));
            var scale = _model.Scales.Values.Single(s => s.Code == "Strapping").Id;
            Do(store, new SaveProperty(4, null, "Mass", "Mass", PropertyKind.Measured, PropertyType.Number, new() { Unit = "KGM", ScaleId = scale, Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(500, 1, 2, null, 15, 30)) }));
            Do(store, new SaveProperty(4, null, "Run", "Run", PropertyKind.Measured, PropertyType.Boolean, PropertyPatch.Empty));
            Do(store, new Bind(7, _model.Templates[4].Properties.Single(p => p.Code == "Run").Id, _model.Tags.Values.Single(t => t.Name == "CONTACTS").Id, new Slice(33)));
        }
        using var again = PlantStore.Open(File);
        var loaded = again.Load();
        ShouldBeSame(loaded, _model);
        loaded.Scales.Values.OrderBy(s => s.Id).ShouldBe(_model.Scales.Values.OrderBy(s => s.Id));
        loaded.OwnUnits.Values.ShouldBe(_model.OwnUnits.Values);
        loaded.Bindings.Values.Single(b => b.Slice is not null).Slice.ShouldBe(new Slice(33));
        foreach (var entry in again.Journal(100)) again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void Naming_rules_refusals_and_checks_are_there_again_after_a_restart()
    {
        using (var store = PlantStore.Open(File))
        {
            Build(store);
            var bound = _model.Bindings.Values.First();
            var other = _model.Tags.Values.Last().Id;
            Do(store, new KeepRule(_model.Equipment[bound.EquipmentId].TemplateId!.Value, bound.PropertyId, TagFace.Name, "K{number:00}_{site.code:letters2} | [{number*16-16}]"));
            Do(store, new RefuseTags([new(bound.EquipmentId, bound.PropertyId, other)]));
            Do(store, new MarkChecked([(bound.EquipmentId, bound.PropertyId)], new("R. Malt", Noon)));
        }
        using var again = PlantStore.Open(File);
        var loaded = again.Load();
        ShouldBeSame(loaded, _model);
        loaded.Templates.Values.SelectMany(t => t.Rules).Single().Pattern.ToString().ShouldBe("K{number:00}_{site.code:letters2} | [{number*16-16}]");
        loaded.Equipment.Values.SelectMany(e => e.Refused).Count().ShouldBe(1);
        loaded.Bindings.Values.Single(b => b.Checked is not null).Checked.ShouldBe(new BindingCheck("R. Malt", Noon));
        foreach (var entry in again.Journal(100)) again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void A_plant_of_the_first_versions_is_read_with_its_scales_and_can_be_taken_back()
    {
        using (var store = PlantStore.Open(File)) Build(store);
        // As the first versions wrote it: two spans as objects and no word of the kind.
        const string Old = """{"raw":{"low":0,"high":32767},"engineering":{"low":-20,"high":120}}""";
        const string New = """{"raw":[0,32767],"engineering":[-20,120]}""";
        Query($"UPDATE property_patch SET facts = replace(facts, '{New}', '{Old}'); UPDATE journal SET changes = replace(changes, '{New}', '{Old}'); SELECT count(*) FROM property_patch WHERE facts LIKE '%\"low\":-20%'").ShouldBe("1");
        using var again = PlantStore.Open(File);
        ShouldBeSame(again.Load(), _model);
        foreach (var entry in again.Journal(100)) again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void Every_edit_is_a_journal_row_with_what_was_before_and_after()
    {
        using var store = PlantStore.Open(File);
        Build(store);
        Do(store, new SaveEquipment(Id("Corvane"), "Corvane", "Corvane Maltings", EquipmentLevel.Enterprise, null, null));
        var journal = store.Journal(100);
        journal[0].ShouldSatisfyAllConditions(e => e.Summary.ShouldBe("Change Corvane Maltings"), e => e.Who.ShouldBe("ada"), e => e.At.ShouldBe(Noon));
        journal.Count.ShouldBe(9);
        var changes = Query("SELECT changes FROM journal ORDER BY id DESC LIMIT 1");
        changes.ShouldContain("\"name\":\"Corvane\"");
        changes.ShouldContain("\"name\":\"Corvane Maltings\"");
    }

    [Fact]
    public void Undoing_every_edit_empties_every_table()
    {
        using var store = PlantStore.Open(File);
        var outcomes = Build(store);
        foreach (var outcome in outcomes.Reverse())
        {
            var back = new EditOutcome([], [.. outcome.Inverse], "undo");
            _model = _model.Apply(back.Changes);
            store.Append(back, _model.NextId, "ada", Noon);
        }
        ShouldBeSame(store.Load(), PlantModel.Empty with { NextId = _model.NextId });
        foreach (var table in new[] { "state_set", "state", "template", "property", "property_patch", "equipment", "controller", "tag", "binding" })
            Query($"SELECT count(*) FROM {table}").ShouldBe("0", table);
    }

    [Fact]
    public void An_entry_read_back_holds_the_same_changes_and_can_be_taken_back()
    {
        EditOutcome[] outcomes;
        using (var store = PlantStore.Open(File)) outcomes = Build(store);
        using var again = PlantStore.Open(File);
        for (var i = 0; i < outcomes.Length; i++) again.Entry(i + 1)!.Value.Changes.ShouldBe(outcomes[i].Changes);
        var bind = again.Entry(outcomes.Length)!.Value;
        var back = new TakeBack("undo", bind.Changes).On(again.Load());
        again.Append(back, _model.NextId, "ada", Noon, JournalKind.Undo, bind.Entry.Id);
        again.Load().Bindings.ShouldBeEmpty();
        again.JournalKinds()[^1].ShouldBe((outcomes.Length + 1, JournalKind.Undo, bind.Entry.Id));
        again.Entry(999).ShouldBeNull();
    }

    [Fact]
    public void The_journal_of_a_place_holds_what_touched_it()
    {
        using var store = PlantStore.Open(File);
        Build(store);
        store.Journal(10, [Id("KLN1")]).Select(e => e.Summary).ShouldBe(["Bind Kiln 1 Air-on temperature to TT11", "Add Kiln 1"]);
        store.Journal(10, [Id("Corvane")]).Select(e => e.Summary).ShouldBe(["Add Kiln 1", "Add Corvane"]);
        store.Journal(10, []).ShouldBeEmpty();
        store.Journal(10, null, store.Journal(1)[0].Id).Select(e => e.Id).ShouldNotContain(store.Journal(1)[0].Id);
    }

    [Fact]
    public void An_edit_that_would_leave_a_dangling_reference_is_not_half_written()
    {
        using var store = PlantStore.Open(File);
        Build(store);
        var broken = EditOutcome.Changed("broken", new ModelChange(_model.Equipment[Id("Corvane")], null));
        Should.Throw<SqliteException>(() => store.Append(broken, 99, "ada", Noon));
        ShouldBeSame(store.Load(), _model);
        store.Journal(100).ShouldNotContain(e => e.Summary == "broken");
    }

    [Fact]
    public void Alarms_outlive_a_restart()
    {
        Alarm[] alarms =
        [
            new(new(7, 9, LimitCondition.HighHigh), AlarmState.Acknowledged, Noon, 96.5, null, "ada"),
            new(new(7, 9, LimitCondition.High), AlarmState.ReturnedUnacknowledged, Noon, 88.25, Noon.AddMinutes(3)),
        ];
        using (var store = PlantStore.Open(File)) store.SaveAlarms(alarms);
        using var again = PlantStore.Open(File);
        again.LoadAlarms().ShouldBe(alarms, ignoreOrder: true);
        again.SaveAlarms([]);
        again.LoadAlarms().ShouldBeEmpty();
    }

    [Fact]
    public void A_file_that_is_no_plant_is_refused_with_its_name()
    {
        System.IO.File.WriteAllText(File, new string('x', 5000));
        Should.Throw<StoreException>(() => PlantStore.Open(File)).Message.ShouldContain(File);
    }

    [Fact]
    public void Text_that_looks_like_sql_is_text()
    {
        using var store = PlantStore.Open(File);
        Do(store, new SaveTemplate(null, "X", "x'); DROP TABLE equipment; --", null, "\" OR 1=1"));
        store.Load().Templates.Values.Single().Name.ShouldBe("x'); DROP TABLE equipment; --");
        Query("SELECT count(*) FROM equipment").ShouldBe("0");
    }

    private static void ShouldBeSame(PlantModel actual, PlantModel expected)
    {
        actual.NextId.ShouldBe(expected.NextId);
        actual.Controllers.ShouldBe(expected.Controllers, ignoreOrder: true);
        actual.Tags.ShouldBe(expected.Tags, ignoreOrder: true);
        actual.Bindings.ShouldBe(expected.Bindings, ignoreOrder: true);
        actual.StateSets.Values.SelectMany(s => s.States.Select(v => (s.Id, s.Code, s.Name, v))).ShouldBe(
            expected.StateSets.Values.SelectMany(s => s.States.Select(v => (s.Id, s.Code, s.Name, v))), ignoreOrder: true);
        Flat(actual.Templates.Values.Select(t => (t with { Properties = [], Patches = PropertyPatches.None }, t.Patches))).ShouldBe(
            Flat(expected.Templates.Values.Select(t => (t with { Properties = [], Patches = PropertyPatches.None }, t.Patches))), ignoreOrder: true);
        actual.Templates.Values.OrderBy(t => t.Id).SelectMany(t => t.Properties).ShouldBe(expected.Templates.Values.OrderBy(t => t.Id).SelectMany(t => t.Properties));
        Flat(actual.Equipment.Values.Select(e => (e with { Patches = PropertyPatches.None }, e.Patches))).ShouldBe(
            Flat(expected.Equipment.Values.Select(e => (e with { Patches = PropertyPatches.None }, e.Patches))), ignoreOrder: true);
    }

    private static IEnumerable<object> Flat<T>(IEnumerable<(T Layer, System.Collections.Immutable.ImmutableDictionary<long, PropertyPatch> Patches)> layers)
        where T : Entity => layers.SelectMany(l => l.Patches.Select(p => (object)(l.Layer.Id, p.Key, p.Value)).Append(l.Layer));

    private long Id(string code) => _model.Equipment.Values.Single(e => e.Code == code).Id;

    private EditOutcome Do(PlantStore store, Edit edit)
    {
        var outcome = edit.On(_model);
        outcome.Problems.ShouldBeEmpty();
        _model = _model.Apply(outcome.Changes);
        store.Append(outcome, _model.NextId, "ada", Noon);
        return outcome;
    }

    private EditOutcome[] Build(PlantStore store)
    {
        var facts = new PropertyPatch
        {
            Unit = "CEL",
            Range = new(0, 120),
            Scale = new LinearScale(new Span(0, 32767), new(-20, 120)),
            Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(88.5, 1.5, 2)),
        };
        return
        [
            Do(store, new SaveController(null, "plc", "127.0.0.1", 502, 1, 500)),
            Do(store, new SaveTag(null, 1, "TT11", RegisterArea.InputRegister, 7, RawType.Float32, WordOrder.LowFirst, "air on")),
            Do(store, new SaveStateSet(null, "Run", "Run", [new(1, "Running"), new(0, "Stopped")])),
            Do(store, new SaveTemplate(null, "Kiln", "Kiln", null, "dries")),
            Do(store, new SaveProperty(4, null, "AirOn", "Air-on temperature", PropertyKind.Measured, PropertyType.Number, facts, IsRequired: false)),
            Do(store, new SaveEquipment(null, "Corvane", "Corvane", EquipmentLevel.Enterprise, null, null)),
            Do(store, new SaveEquipment(null, "KLN1", "Kiln 1", EquipmentLevel.Unit, 6, 4)),
            Do(store, new Bind(7, 5, 2)),
        ];
    }

    private string Query(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={File};Pooling=False");
        connection.Open();
        using var command = connection.CreateCommand();
#pragma warning disable CA2100 // fixed texts of this test
        command.CommandText = sql;
#pragma warning restore CA2100
        return command.ExecuteScalar()!.ToString()!;
    }

    private static class PropertyPatches
    {
        public static readonly System.Collections.Immutable.ImmutableDictionary<long, PropertyPatch> None = System.Collections.Immutable.ImmutableDictionary<long, PropertyPatch>.Empty;
    }
}
