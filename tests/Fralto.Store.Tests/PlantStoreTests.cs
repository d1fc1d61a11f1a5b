using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Bindings;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.NamingRules;
using Fralto.Core.Notices;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
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
        using (var store = PlantStore.Open(File))
            Build(store);
        using var again = PlantStore.Open(File);
        ShouldBeSame(again.Load().Model, _model);
    }

    [Fact]
    public void Units_scales_arrays_and_slices_are_there_again_after_a_restart()
    {
        using (var store = PlantStore.Open(File))
        {
            Build(store);
            Do(store, new SaveOwnUnit(null, "BAG25", "bag", "bag of malt", 25, "KGM"));
            Do(
                store,
                new SaveNamingConventions([(EquipmentLevel.Unit, null, false, "K#"), (null, _model.Templates.Keys.First(), true, "Kiln *")])
            );
            Do(
                store,
                new SaveScale(
                    null,
                    "Strapping",
                    "Strapping table",
                    "silo",
                    new TableScale(Signal.Of(SignalKind.Milliamps), new(0, 18), [new(0, 0), new(3, 48), new(18, 588)])
                    {
                        Unit = "TNE",
                        Outside = OutsideRule.Clamp,
                    }
                )
            );
            Do(
                store,
                new SaveScale(null, "Flue", "Flue gas", "", new SensorScale(Signal.Free(new(-10, 60)), new(-10, 60), SensorKind.TypeK, 25))
            );
            Do(store, new SaveTag(null, 1, "CONTACTS", RegisterArea.InputRegister, 100, RawType.Bool, WordOrder.LowFirstSwapped, "", 192));
            Do(store, new SaveTag(null, 1, "ST", RegisterArea.InputRegister, 200, RawType.UInt16, WordOrder.HighFirst, "", 1, "BAG25"));
            var scale = _model.Scales.Values.Single(s => s.Code == "Strapping").Id;
            Do(
                store,
                new SaveProperty(
                    4,
                    null,
                    "Mass",
                    "Mass",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    new()
                    {
                        Unit = "KGM",
                        ScaleId = scale,
                        Limits = PropertyPatch.Empty.Limits.Add(LimitCondition.High, new(500, 1, 2, null, 15, 30)),
                    }
                )
            );
            Do(store, new SaveProperty(4, null, "Run", "Run", PropertyKind.Measured, PropertyType.Boolean, PropertyPatch.Empty));
            Do(
                store,
                new Bind(
                    7,
                    _model.Templates[4].Properties.Single(p => p.Code == "Run").Id,
                    _model.Tags.Values.Single(t => t.Name == "CONTACTS").Id,
                    new Slice(33)
                )
            );
        }
        using var again = PlantStore.Open(File);
        var loaded = again.Load().Model;
        ShouldBeSame(loaded, _model);
        loaded.Scales.Values.OrderBy(s => s.Id).ShouldBe(_model.Scales.Values.OrderBy(s => s.Id));
        loaded.OwnUnits.Values.ShouldBe(_model.OwnUnits.Values);
        loaded.NamingConventions.Values.OrderBy(p => p.Id).ShouldBe(_model.NamingConventions.Values.OrderBy(p => p.Id));
        loaded.Bindings.Values.Single(b => b.Slice is not null).Slice.ShouldBe(new Slice(33));
        foreach (var entry in again.Journal(100))
            again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void Naming_rules_refusals_and_checks_are_there_again_after_a_restart()
    {
        using (var store = PlantStore.Open(File))
        {
            Build(store);
            var bound = _model.Bindings.Values.First();
            var other = _model.Tags.Values.Last().Id;
            Do(
                store,
                new KeepRule(
                    _model.Equipment[bound.EquipmentId].TemplateId!.Value,
                    bound.PropertyId,
                    TagFace.Name,
                    "K{number:00}_{site.code:letters2} | [{number*16-16}]"
                )
            );
            Do(store, new RefuseTags([new(bound.EquipmentId, bound.PropertyId, other)]));
            Do(store, new MarkChecked([(bound.EquipmentId, bound.PropertyId)], new("R. Malt", Noon)));
        }
        using var again = PlantStore.Open(File);
        var loaded = again.Load().Model;
        ShouldBeSame(loaded, _model);
        loaded
            .Templates.Values.SelectMany(t => t.Rules)
            .Single()
            .Pattern.ToString()
            .ShouldBe("K{number:00}_{site.code:letters2} | [{number*16-16}]");
        loaded.Equipment.Values.SelectMany(e => e.Refused).Count().ShouldBe(1);
        loaded.Bindings.Values.Single(b => b.Checked is not null).Checked.ShouldBe(new BindingCheck("R. Malt", Noon));
        foreach (var entry in again.Journal(100))
            again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void A_plant_of_the_first_versions_is_read_with_its_scales_and_can_be_taken_back()
    {
        using (var store = PlantStore.Open(File))
            Build(store);
        // As the first versions wrote it: two spans as objects and no word of the kind.
        const string Old = """{"raw":{"low":0,"high":32767},"engineering":{"low":-20,"high":120}}""";
        const string New = """{"raw":[0,32767],"engineering":[-20,120]}""";
        Query(
                $"UPDATE property_patch SET facts = replace(facts, '{New}', '{Old}'); UPDATE journal SET changes = replace(changes, "
                    + $"'{New}', '{Old}'); SELECT count(*) FROM property_patch WHERE facts LIKE '%\"low\":-20%'"
            )
            .ShouldBe("1");
        using var again = PlantStore.Open(File);
        ShouldBeSame(again.Load().Model, _model);
        foreach (var entry in again.Journal(100))
            again.Entry(entry.Id).ShouldNotBeNull();
    }

    [Fact]
    public void Every_edit_is_a_journal_row_with_what_was_before_and_after()
    {
        using var store = PlantStore.Open(File);
        Build(store);
        Do(store, new SaveEquipment(Id("Corvane"), "Corvane", "Corvane Maltings", EquipmentLevel.Enterprise, null, null));
        var journal = store.Journal(100);
        journal[0]
            .ShouldSatisfyAllConditions(
                e => e.Summary.ShouldBe("Change Corvane Maltings"),
                e => e.Who.ShouldBe("ada"),
                e => e.At.ShouldBe(Noon)
            );
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
        ShouldBeSame(store.Load().Model, PlantModel.Empty with { NextId = _model.NextId });
        foreach (
            var table in new[]
            {
                "state_list",
                "state",
                "template",
                "property",
                "property_patch",
                "equipment",
                "controller",
                "tag",
                "binding",
            }
        )
            Query($"SELECT count(*) FROM {table}").ShouldBe("0", table);
    }

    [Fact]
    public void An_entry_read_back_holds_the_same_changes_and_can_be_taken_back()
    {
        EditOutcome[] outcomes;
        using (var store = PlantStore.Open(File))
            outcomes = Build(store);
        using var again = PlantStore.Open(File);
        for (var i = 0; i < outcomes.Length; i++)
            again.Entry(i + 1)!.Value.Changes.ShouldBe(outcomes[i].Changes);
        var bind = again.Entry(outcomes.Length)!.Value;
        var back = new TakeBack("undo", bind.Changes).On(again.Load().Model);
        again.Append(back, _model.NextId, "ada", Noon, JournalKind.Undo, bind.Entry.Id);
        again.Load().Model.Bindings.ShouldBeEmpty();
        again.JournalKinds()[^1].ShouldBe((outcomes.Length + 1, JournalKind.Undo, bind.Entry.Id, "ada"));
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
        Should.Throw<StoreException>(() => store.Append(broken, 99, "ada", Noon));
        ShouldBeSame(store.Load().Model, _model);
        store.Journal(100).ShouldNotContain(e => e.Summary == "broken");
    }

    [Fact]
    public void Where_telling_stands_is_kept_and_what_cannot_be_read_is_left_out()
    {
        var key = new AlarmKey(7, 3, LimitCondition.High);
        var step = new AlarmEvent(key, Noon, AlarmState.Unacknowledged, AlarmCause.ConditionRaised, double.NaN, "C/K1/T", 2)
        {
            Message = "heiß",
            Translations = "en = hot",
        };
        var state = new NoticeState(key, "Shift", step)
        {
            Told = 2,
            FirstAt = Noon,
            IsThere = false,
            Gone = step,
        };
        using (var store = PlantStore.Open(File))
        {
            store.Run.KeepNotices(
                new Dictionary<(AlarmKey, string), NoticeState?> { [(key, "Shift")] = state, [(key, "On call")] = state }
            );
            store.Run.KeepNotices(new Dictionary<(AlarmKey, string), NoticeState?> { [(key, "On call")] = null });
            store.Run.Notices().ShouldBe([state]);
        }
        using (var file = new SqliteConnection($"Data Source={Path.Combine(_directory, "run.db")};Pooling=False"))
        {
            file.Open();
            using var command = file.CreateCommand();
            command.CommandText =
                "INSERT INTO notice VALUES (1, 1, 'High', 'x', '{\"told\":\"often\"}'), (1, 1, 'High', 'y', '{\"told\":1}')";
            command.ExecuteNonQuery();
        }
        using var again = PlantStore.Open(File);
        again.Run.Notices().ShouldBe([state]);
    }

    [Fact]
    public void Alarms_outlive_a_restart()
    {
        Alarm[] alarms =
        [
            new(new(7, 9, LimitCondition.HighHigh), AlarmState.Acknowledged, Noon, 96.5, null, "ada"),
            new(new(7, 9, LimitCondition.High), AlarmState.ReturnedUnacknowledged, Noon, 88.25, Noon.AddMinutes(3)),
            new(new(7, -9, LimitCondition.Low), AlarmState.OutOfService, Noon, 3, Noon.AddMinutes(1), "ada")
            {
                IsTrue = true,
                AcknowledgedAt = Noon.AddMinutes(2),
                Comment = "seen",
                Message = "it is \"hot\"",
                Captured = [KeyValuePair.Create("Phase", "Curing"), KeyValuePair.Create("Ö", "3 °C")],
                Shelving = new("bea", Noon, Noon.AddHours(1), "One shift", "known"),
                Leave = new("cleo", Noon.AddMinutes(4), "probe away"),
                IsSuppressed = true,
            },
        ];
        AlarmEvent[] steps =
        [
            .. alarms.Select(a => new AlarmEvent(
                a.Key,
                Noon,
                a.State,
                AlarmCause.ConditionRaised,
                double.NaN,
                "Corvane/KLN1/AirOn",
                2,
                "ada"
            )),
        ];
        using (var store = PlantStore.Open(File))
            store.Run.KeepAlarms(steps, alarms.ToDictionary(a => a.Key, a => (Alarm?)a));
        using var again = PlantStore.Open(File);
        again.Run.LoadAlarms().ShouldBe(alarms, ignoreOrder: true);
        again.Run.AlarmEvents(10).ShouldBe(steps.Reverse());
        again.Run.KeepAlarms([], new Dictionary<AlarmKey, Alarm?> { [alarms[0].Key] = null });
        again.Run.LoadAlarms().ShouldBe([alarms[1], alarms[2]], ignoreOrder: true);
        again.Run.AlarmEvents(1).ShouldBe([steps[2]]);
        // What was earlier stands before all there is, in place of what broke off before, and what comes afterwards behind it.
        AlarmEvent[] earlier = [.. Enumerable.Range(1, 5).Select(i => steps[0] with { Time = Noon.AddDays(-9).AddHours(i) })];
        again.Run.KeepEarlierAlarms(earlier[2..]);
        again.Run.KeepEarlierAlarms(earlier);
        again.Run.KeepAlarms([steps[1]], new Dictionary<AlarmKey, Alarm?>());
        again.Run.AlarmEvents(20).ShouldBe([steps[1], .. steps.Reverse(), .. earlier.Reverse()]);
        again.Run.AlarmEventsInOrder(new(), 20).ShouldBe([.. earlier, .. steps, steps[1]]);
    }

    [Fact]
    public void The_alarm_log_is_read_by_whatever_is_asked_page_by_page_and_forgets_what_is_old()
    {
        var random = new Random(3);
        var steps = Enumerable
            .Range(0, 3000)
            .Select(i => new AlarmEvent(
                new(1 + random.Next(20), 2, LimitCondition.High),
                Noon.AddSeconds(i * 20),
                AlarmState.Unacknowledged,
                random.Next(2) == 0 ? AlarmCause.ConditionRaised : AlarmCause.AcknowledgedByOperator,
                i,
                "Corvane/KLN1/AirOn",
                1 + random.Next(4),
                random.Next(3) == 0 ? "ada" : null
            )
            {
                Limit = "H",
                Message = $"message {i}",
                Comment = "c",
                SourceTime = Noon,
            })
            .ToArray();
        using var store = PlantStore.Open(File);
        foreach (var some in steps.Chunk(700))
            store.Run.KeepAlarms(some, new Dictionary<AlarmKey, Alarm?>());
        AlarmLogFilter[] filters =
        [
            new(),
            new() { From = Noon.AddHours(3), To = Noon.AddHours(5) },
            new() { Equipment = [3, 4, 99] },
            new() { Priorities = [1, 2], Causes = [AlarmCause.ConditionRaised] },
            new() { Who = "ada", From = Noon.AddHours(1) },
            new() { Key = new(5, 2, LimitCondition.High) },
            new() { Equipment = [] },
        ];
        foreach (var filter in filters)
        {
            var wanted = steps
                .Where(e => filter.From is null || e.Time >= filter.From)
                .Where(e => filter.To is null || e.Time < filter.To)
                .Where(e => filter.Equipment is null || filter.Equipment.Contains(e.Key.EquipmentId))
                .Where(e => filter.Priorities.Count == 0 || filter.Priorities.Contains(e.Priority))
                .Where(e => filter.Causes.Count == 0 || filter.Causes.Contains(e.Cause))
                .Where(e => filter.Who is null || filter.Who == e.Who)
                .Where(e => filter.Key is null || filter.Key == e.Key)
                .Reverse()
                .ToArray();
            var (read, before) = (new List<AlarmEvent>(), long.MaxValue);
            while (store.Run.AlarmEvents(filter, 250, before) is { Count: > 0 } page)
            {
                read.AddRange(page.Select(e => e.Event));
                before = page[^1].Id;
            }
            read.ShouldBe(wanted);
            store.Run.CountAlarmEvents(filter).ShouldBe(wanted.Length);
        }
        store.Run.ForgetAlarmEvents(Noon.AddSeconds(20 * 1000), 600).ShouldBe(600);
        store.Run.ForgetAlarmEvents(Noon.AddSeconds(20 * 1000), 600).ShouldBe(400);
        store.Run.ForgetAlarmEvents(Noon.AddSeconds(20 * 1000), 600).ShouldBe(0);
        store.Run.AlarmEvents(5000).Count.ShouldBe(2000);
    }

    /// <summary>Every table with a row of it made unreadable: an address, a word that is none of its enumeration, JSON of another shape, an
    /// end that leads nowhere.</summary>
    [Theory]
    [InlineData("UPDATE tag SET place = 'holding x' WHERE id = 2", "tag TT11", "binding Kiln 1 Air-on temperature")]
    [InlineData("UPDATE tag SET type = 'Int17' WHERE id = 2", "tag TT11", "binding Kiln 1 Air-on temperature")]
    [InlineData(
        "UPDATE controller SET connection = '{\"protocol\":\"Telex\"}' WHERE id = 1",
        "controller plc",
        "tag TT11",
        "binding Kiln 1 Air-on temperature"
    )]
    [InlineData(
        "UPDATE controller SET update_classes = '7' WHERE id = 1",
        "controller plc",
        "tag TT11",
        "binding Kiln 1 Air-on temperature"
    )]
    [InlineData(
        "UPDATE property SET kind = 'Guessed'",
        "property Air-on temperature",
        "what a layer says of a property Kiln",
        "binding Kiln 1"
    )]
    [InlineData("UPDATE property_patch SET facts = '[]'", "what a layer says of a property property 5")]
    [InlineData("UPDATE property_patch SET facts = '{\"unit\":\"NONE\"}'", "what a layer says of a property Kiln")]
    [InlineData("UPDATE equipment SET level = 'Attic' WHERE code = 'KLN1'", "equipment Kiln 1", "binding instance 7")]
    [InlineData("UPDATE equipment SET parent_id = id WHERE code = 'KLN1'", "equipment Kiln 1", "binding instance 7")]
    [InlineData("UPDATE equipment SET refused = '{\"a\":1}' WHERE code = 'KLN1'", "refused tags Kiln 1")]
    [InlineData("UPDATE binding SET slice = 'third bit'", "binding binding of property 5")]
    [InlineData("UPDATE template SET rules = '\"none\"'", "naming rules Kiln")]
    [InlineData("UPDATE template SET parent_id = id", "template Kiln", "equipment Kiln 1", "binding instance 7")]
    [InlineData("UPDATE meta SET value = 'many' WHERE key = 'next_id'")]
    public void Whatever_a_file_holds_the_plant_opens_and_says_what_is_left_out(string damage, params string[] left)
    {
        using (var store = PlantStore.Open(File))
            Build(store);
        var before = Dump();
        Query(damage + "; SELECT 1");
        using (var store = PlantStore.Open(File))
        {
            var (model, aside) = store.Load();
            aside.Select(a => $"{a.Kind} {a.Name}").ShouldBe(left);
            aside.ShouldAllBe(a => a.Why.Length > 0);
            Integrity.Problems(model).ShouldBeEmpty();
            model.NextId.ShouldBeGreaterThanOrEqualTo(_model.Equipment.Keys.Max() + 1);
            // What is left runs on: an edit elsewhere is kept, and what was set aside stays as it is.
            _model = model;
            Do(store, new SaveTemplate(null, "Later", "Later", null, ""));
            foreach (var table in new[] { "tag", "binding", "equipment", "controller" })
                Query($"SELECT count(*) FROM {table}").ShouldBe(before[table]);
        }
        using var again = PlantStore.Open(File);
        again.Load().Model.Templates.Values.ShouldContain(t => t.Code == "Later");
        Query("SELECT count(*) FROM set_aside").ShouldBe($"{left.Length}");
    }

    [Fact]
    public void An_edit_at_odds_with_what_was_set_aside_is_refused_in_words_and_nothing_else_breaks()
    {
        using (var store = PlantStore.Open(File))
            Build(store);
        Query("UPDATE controller SET connection = '{\"protocol\":\"Telex\"}'; SELECT 1");
        using var again = PlantStore.Open(File);
        _model = again.Load().Model;
        var edit = new SaveController(null, "plc", "127.0.0.1", 502, 1, 500).On(_model);
        Should.Throw<StoreException>(() => again.Append(edit, _model.NextId + 1, "ada", Noon)).Message.ShouldContain("could not be read");
        again.Trouble.ShouldBeNull();
        Do(again, new SaveController(null, "plc-2", "127.0.0.1", 502, 1, 500));
    }

    [Fact]
    public void A_second_process_is_told_who_has_the_directory()
    {
        using (PlantStore.Open(File, "fralto serve on port 5080"))
        {
            var refused = Should.Throw<StoreException>(() => PlantStore.Open(File, "fralto demo on port 5081"));
            refused.Message.ShouldContain("fralto serve on port 5080");
            refused.Message.ShouldContain($"process {Environment.ProcessId}");
        }
        PlantStore.Open(File).Dispose();
    }

    [Fact]
    public void Only_its_owner_may_read_a_plant()
    {
        if (OperatingSystem.IsWindows())
            return;
        using var store = PlantStore.Open(File);
        Build(store);
        foreach (var file in Directory.GetFiles(_directory, "plant.db*"))
            System.IO.File.GetUnixFileMode(file).ShouldBe(UnixFileMode.UserRead | UnixFileMode.UserWrite);
    }

    [Fact]
    public void What_is_written_to_a_file_that_is_gone_is_not_said_to_be_kept()
    {
        using var store = PlantStore.Open(File);
        Build(store);
        var told = new List<StorageTrouble?>();
        store.TroubleChanged += told.Add;
        var run = Path.Combine(_directory, "run.db");
        System.IO.File.Move(run, run + ".away");
        for (var i = 0; i < 3; i++)
            Should.Throw<StoreException>(() => store.Run.SetNote("a", "b")).Message.ShouldContain("is gone");
        told.Count.ShouldBe(1);
        System.IO.File.Move(run + ".away", run);
        store.Run.SetNote("a", "b");
        told.Count.ShouldBe(2);
        store.Trouble.ShouldBeNull();
    }

    private Dictionary<string, string> Dump() =>
        new[] { "tag", "binding", "equipment", "controller" }.ToDictionary(t => t, t => Query($"SELECT count(*) FROM {t}"));

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
        store.Load().Model.Templates.Values.Single().Name.ShouldBe("x'); DROP TABLE equipment; --");
        Query("SELECT count(*) FROM equipment").ShouldBe("0");
    }

    private static void ShouldBeSame(PlantModel actual, PlantModel expected)
    {
        actual.NextId.ShouldBe(expected.NextId);
        actual.Controllers.ShouldBe(expected.Controllers, ignoreOrder: true);
        actual.Tags.ShouldBe(expected.Tags, ignoreOrder: true);
        actual.Bindings.ShouldBe(expected.Bindings, ignoreOrder: true);
        actual
            .StateLists.Values.SelectMany(s => s.States.Select(v => (s.Id, s.Code, s.Name, v)))
            .ShouldBe(expected.StateLists.Values.SelectMany(s => s.States.Select(v => (s.Id, s.Code, s.Name, v))), ignoreOrder: true);
        Flat(actual.Templates.Values.Select(t => (t with { Properties = [], Patches = PropertyPatches.None }, t.Patches)))
            .ShouldBe(
                Flat(expected.Templates.Values.Select(t => (t with { Properties = [], Patches = PropertyPatches.None }, t.Patches))),
                ignoreOrder: true
            );
        actual
            .Templates.Values.OrderBy(t => t.Id)
            .SelectMany(t => t.Properties)
            .ShouldBe(expected.Templates.Values.OrderBy(t => t.Id).SelectMany(t => t.Properties));
        Flat(actual.Equipment.Values.Select(e => (e with { Patches = PropertyPatches.None }, e.Patches)))
            .ShouldBe(
                Flat(expected.Equipment.Values.Select(e => (e with { Patches = PropertyPatches.None }, e.Patches))),
                ignoreOrder: true
            );
    }

    private static IEnumerable<object> Flat<T>(
        IEnumerable<(T Layer, System.Collections.Immutable.ImmutableDictionary<long, PropertyPatch> Patches)> layers
    )
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
            Do(store, new SaveStateList(null, "Run", "Run", [new(1, "Running"), new(0, "Stopped")])),
            Do(store, new SaveTemplate(null, "Kiln", "Kiln", null, "dries")),
            Do(
                store,
                new SaveProperty(
                    4,
                    null,
                    "AirOn",
                    "Air-on temperature",
                    PropertyKind.Measured,
                    PropertyType.Number,
                    facts,
                    IsRequired: false
                )
            ),
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
        public static readonly System.Collections.Immutable.ImmutableDictionary<long, PropertyPatch> None = System
            .Collections
            .Immutable
            .ImmutableDictionary<long, PropertyPatch>
            .Empty;
    }
}
