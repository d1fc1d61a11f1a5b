using System.IO.Compression;
using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Rules;
using Fralto.Core.Templates;
using Microsoft.Data.Sqlite;

namespace Fralto.Store.Tests;

/// <summary>A plant kept by an earlier version, as it lay on a disk: the maltings of the demo with an alarm, a command, a value of memory
/// and a password, all in one file.</summary>
public sealed class KeptPlantTests : IDisposable
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-kept-").FullName;

    private string File => Path.Combine(_directory, "plant.db");

    private string RunFile => Path.Combine(_directory, "run.db");

    public void Dispose() => Directory.Delete(_directory, recursive: true);

    [Fact]
    public void A_plant_of_an_earlier_version_opens_with_all_that_was_kept()
    {
        PutOldPlant();
        for (var start = 0; start < 2; start++)
        {
            using var store = PlantStore.Open(File);
            ShouldBeWhole(store);
        }
    }

    [Fact]
    public void What_the_running_plant_keeps_comes_over_whole_also_when_the_first_try_broke_off()
    {
        PutOldPlant();
        // It broke off after half of it had been copied: the old tables are all there, some of it is in the new file too.
        using (var store = PlantStore.Open(Path.Combine(_directory, "other", "plant.db")))
            store.Run.SetNote("plant", "");
        System.IO.File.Move(Path.Combine(_directory, "other", "run.db"), RunFile);
        using (var run = new SqliteConnection($"Data Source={RunFile};Pooling=False"))
        {
            run.Open();
            using var clean = run.CreateCommand();
            clean.CommandText = "DELETE FROM note; INSERT INTO memory_value (tag_id, value, at) VALUES (7, '12.5', '2026-11-28T04:00:00Z')";
            clean.ExecuteNonQuery();
        }
        using var again = PlantStore.Open(File);
        ShouldBeWhole(again);
    }

    [Fact]
    public void The_run_file_of_another_plant_gives_this_one_nothing()
    {
        using (var other = PlantStore.Open(File))
        {
            other.Run.SetMemoryValue(7, "99", DateTimeOffset.UnixEpoch);
            other.Run.SetSecret(4, "other", "mqtt://other:1883");
        }
        System.IO.File.Delete(File);
        using (var store = PlantStore.Open(File))
        {
            store.Run.MemoryValue(7).ShouldBeNull();
            store.Run.Secret(4).ShouldBeNull();
        }
        Directory.GetFiles(_directory, "run-of-another-plant-*.db").Length.ShouldBe(1, "what was there is put away and not destroyed");
        using var again = PlantStore.Open(File);
        Directory.GetFiles(_directory, "run-of-another-plant-*.db").Length.ShouldBe(1);
    }

    [Fact]
    public void A_run_file_that_is_gone_is_made_anew()
    {
        using (var store = PlantStore.Open(File))
            store.Run.SetMemoryValue(7, "99", DateTimeOffset.UnixEpoch);
        System.IO.File.Delete(RunFile);
        using var again = PlantStore.Open(File);
        again.Run.MemoryValue(7).ShouldBeNull();
        again.Run.SetMemoryValue(7, "1", DateTimeOffset.UnixEpoch);
        again.Run.MemoryValue(7).ShouldBe("1");
    }

    [Fact]
    public async Task Readers_and_the_running_plant_do_not_wait_for_an_edit_that_is_being_written()
    {
        using var store = PlantStore.Open(File);
        // Whoever writes the model holds its file for as long as that takes.
        using var writer = new SqliteConnection($"Data Source={File};Pooling=False");
        writer.Open();
        using var writing = writer.BeginTransaction(deferred: false);
        var rest = Task.Run(
            () =>
            {
                store.Run.SetMemoryValue(7, "1", DateTimeOffset.UnixEpoch);
                store.Run.KeepAlarms([], new Dictionary<AlarmKey, Alarm?> { [new(1, 2, LimitCondition.High)] = null });
                store.Journal(10).ShouldBeEmpty();
                return store.Run.MemoryValue(7);
            },
            TestContext.Current.CancellationToken
        );
        (await rest.WaitAsync(TimeSpan.FromSeconds(4), TestContext.Current.CancellationToken)).ShouldBe("1");
    }

    [Fact]
    public async Task Trouble_is_over_by_itself_when_something_can_be_written_again()
    {
        using var store = PlantStore.Open(File);
        System.IO.File.Move(RunFile, RunFile + ".away");
        Should.Throw<StoreException>(() => store.Run.SetNote("a", "b"));
        store.Trouble.ShouldNotBeNull();
        var over = new TaskCompletionSource();
        store.TroubleChanged += trouble =>
        {
            if (trouble is null)
                over.TrySetResult();
        };
        System.IO.File.Move(RunFile + ".away", RunFile);
        await over.Task.WaitAsync(TimeSpan.FromSeconds(20), TestContext.Current.CancellationToken);
        store.Trouble.ShouldBeNull();
    }

    private static void ShouldBeWhole(PlantStore store)
    {
        var (model, aside) = store.Load();
        aside.ShouldBeEmpty();
        (model.Templates.Count, model.Equipment.Count, model.Bindings.Count, model.Devices.Count, model.Layouts.Count).ShouldBe(
            (17, 131, 357, 8, 1)
        );
        store.Run.LoadAlarms().Count.ShouldBe(1);
        store.Run.AlarmEvents(10).Select(e => e.Path).ShouldBe(Enumerable.Repeat("Corvane/TarnQuay/Kilning/KilnHouse/KLN2/AirOn", 2));
        store.Run.Commands(10).Single().Entry.Wanted.ShouldBe("61 °C");
        store.Run.MemoryValue(7).ShouldBe("12.5");
        store.Run.Secret(4).ShouldBe(("kept", "mqtt://127.0.0.1:15992"));
        store.Run.Note("demo").ShouldBe("maltings");
        store.JournalKinds().Count.ShouldBe(578);
        var changes = store.JournalKinds().SelectMany(e => store.Entry(e.Id)!.Value.Changes).ToArray();
        foreach (var (id, _, _, _) in store.JournalKinds())
            store.Entry(id)!.Value.Changes.ShouldNotBeEmpty();
        // What the first formats called a state set is a state list, in the model and in the journal.
        Integrity.Problems(model).ShouldBeEmpty();
        (model.StateLists.Count, model.Templates.Values.SelectMany(t => t.Patches.Values).Count(p => p.StateListId is not null)).ShouldBe(
            (5, 8)
        );
        changes.Select(c => c.After).OfType<Template>().SelectMany(t => t.Patches.Values).ShouldContain(p => p.StateListId != null);
        foreach (
            var kind in new[]
            {
                EntityKinds.StateList,
                EntityKinds.Template,
                EntityKinds.Equipment,
                EntityKinds.Controller,
                EntityKinds.Layout,
                EntityKinds.Device,
                EntityKinds.Tag,
                EntityKinds.Binding,
            }
        )
            changes.ShouldContain(c => EntityKinds.Of((c.After ?? c.Before)!) == kind);
    }

    private void PutOldPlant()
    {
        using var kept = new GZipStream(
            typeof(KeptPlantTests).Assembly.GetManifestResourceStream("plant-format-8.db.gz")!,
            CompressionMode.Decompress
        );
        using var file = System.IO.File.Create(File);
        kept.CopyTo(file);
    }
}
