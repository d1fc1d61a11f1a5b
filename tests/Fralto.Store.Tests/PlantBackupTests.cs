using System.IO.Compression;
using Fralto.Core.Basics;
using Fralto.Core.Edits;

namespace Fralto.Store.Tests;

/// <summary>Backups: made beside a plant that writes, whole or not at all, and put back without losing what was there.</summary>
public sealed class PlantBackupTests : IDisposable
{
    private readonly string _root = Directory.CreateTempSubdirectory("fralto-backup-tests-").FullName;
    private readonly TimeProvider _clock = TimeProvider.System;

    private string Data => Path.Combine(_root, "data");

    private string File1 => Path.Combine(_root, "one.backup");

    public void Dispose() => Directory.Delete(_root, recursive: true);

    [Fact]
    public void A_backup_beside_a_running_plant_is_put_back_as_it_was()
    {
        using (var store = Open())
        {
            Add(store, "A");
            store.Run.SetNote("x", "before");
            store.History.SetNote("x", "before");
            Directory.CreateDirectory(Path.Combine(Data, "keys"));
            File.WriteAllText(Path.Combine(Data, "keys", "key-1.xml"), "<key/>");
            var made = PlantBackup.Make(Data, File1, _clock, true);
            made.Parts.Select(p => p.Name).ShouldBe(["history.db", "keys/key-1.xml", "plant.db", "run.db"]);
            Add(store, "B");
            store.Run.SetNote("x", "after");
            store.History.SetNote("x", "after");
            Should.Throw<StoreException>(() => PlantBackup.Restore(File1, Data, _clock)).Message.ShouldContain("is in use");
        }
        var (manifest, aside) = PlantBackup.Restore(File1, Data, _clock);
        (manifest.At > DateTimeOffset.UnixEpoch).ShouldBeTrue();
        using (var store = Open())
        {
            Codes(store).ShouldBe(["A"]);
            store.Run.Note("x").ShouldBe("before");
            store.History.Note("x").ShouldBe("before");
        }
        Directory.EnumerateFileSystemEntries(Data).Select(Path.GetFileName).ShouldNotContain(".restored");
        using var old = PlantStore.Open(Path.Combine(aside!, "plant.db"), clock: _clock);
        Codes(old).ShouldBe(["A", "B"]);
        old.Run.Note("x").ShouldBe("after");
        old.History.Note("x").ShouldBe("after");
    }

    [Fact]
    public void History_that_is_not_in_a_backup_stays_where_it_is()
    {
        using (var store = Open())
        {
            Add(store, "A");
            store.History.SetNote("x", "kept");
        }
        PlantBackup.Make(Data, File1, _clock, false).Parts.ShouldNotContain(p => p.Name == "history.db");
        PlantBackup.Restore(File1, Data, _clock);
        using var after = Open();
        Codes(after).ShouldBe(["A"]);
        after.History.Note("x").ShouldBe("kept");
    }

    [Fact]
    public async Task What_is_written_while_it_is_made_is_in_it_up_to_one_moment()
    {
        using var store = Open();
        using var stop = new CancellationTokenSource();
        var writes = Task.Run(() =>
        {
            for (var i = 0; !stop.IsCancellationRequested; i++)
                Add(store, $"N{i:00000}");
        });
        for (var i = 0; i < 5; i++)
        {
            while (Codes(store).Length <= i * 3)
                await Task.Delay(1);
            var file = $"{File1}{i}";
            PlantBackup.Make(Data, file, _clock, true);
            var there = Path.Combine(_root, $"restored-{i}");
            PlantBackup.Restore(file, there, _clock).Aside.ShouldBeNull();
            using var copy = PlantStore.Open(Path.Combine(there, "plant.db"), clock: _clock);
            var codes = Codes(copy);
            codes.ShouldBe([.. Enumerable.Range(0, codes.Length).Select(n => $"N{n:00000}")], "all up to one moment");
        }
        await stop.CancelAsync();
        await writes;
    }

    [Fact]
    public void A_file_with_any_byte_changed_is_refused_or_the_same()
    {
        using (var store = Open())
            Add(store, "A");
        PlantBackup.Make(Data, File1, _clock, true);
        var bytes = File.ReadAllBytes(File1);
        var random = new Random(7);
        for (var i = 0; i < 200; i++)
        {
            var damaged = (byte[])bytes.Clone();
            damaged[random.Next(damaged.Length)] ^= (byte)(1 << random.Next(8));
            File.WriteAllBytes($"{File1}.x", i % 4 == 0 ? bytes[..random.Next(bytes.Length)] : damaged);
            try
            {
                PlantBackup.Verify($"{File1}.x").Parts.Count.ShouldBe(3);
            }
            catch (StoreException e)
            {
                e.Message.ShouldContain(".x");
            }
        }
    }

    [Theory]
    [InlineData("../outside.db")]
    [InlineData("keys/../../outside.xml")]
    [InlineData("plant.db-wal")]
    public void What_does_not_belong_in_a_backup_is_not_unpacked(string name)
    {
        using (var archive = ZipFile.Open(File1, ZipArchiveMode.Create))
        {
            using (var entry = new StreamWriter(archive.CreateEntry(name).Open()))
                entry.Write("x");
            using var manifest = new StreamWriter(archive.CreateEntry("manifest.json").Open());
            manifest.Write(
                $$"""{"Format":1,"At":"2026-06-01T12:00:00+00:00","Plant":"p","Parts":[{"Name":"plant.db","Bytes":0,"Sha256":""},"""
                    + $$"""{"Name":"{{name}}","Bytes":1,"Sha256":""}]}"""
            );
        }
        Should.Throw<StoreException>(() => PlantBackup.Restore(File1, Data, _clock)).Message.ShouldContain("does not belong");
        File.Exists(Path.Combine(_root, "outside.db")).ShouldBeFalse();
    }

    [Fact]
    public void A_restore_that_was_broken_off_is_said_and_done_again()
    {
        using (var store = Open())
            Add(store, "A");
        PlantBackup.Make(Data, File1, _clock, true);
        using (var store = Open())
            Add(store, "B");
        // As a kill leaves it, after any number of the moves.
        for (var moved = 0; moved < 3; moved++)
        {
            var there = Path.Combine(_root, $"broken-{moved}");
            Directory.CreateDirectory(there);
            foreach (var name in new[] { "plant.db", "run.db" })
                File.Copy(Path.Combine(Data, name), Path.Combine(there, name));
            var aside = Path.Combine(there, "before-restore-1");
            Directory.CreateDirectory(aside);
            File.WriteAllText(Path.Combine(there, "being-restored"), "before-restore-1");
            if (moved > 0)
                File.Move(Path.Combine(there, "plant.db"), Path.Combine(aside, "plant.db"));
            if (moved > 1)
                File.WriteAllText(Path.Combine(there, "plant.db"), "half");
            Should.Throw<StoreException>(() => PlantStore.Open(Path.Combine(there, "plant.db"))).Message.ShouldContain("only in part");
            PlantBackup.Restore(File1, there, _clock).Aside.ShouldBe(aside);
            using (var store = PlantStore.Open(Path.Combine(there, "plant.db"), clock: _clock))
                Codes(store).ShouldBe(["A"]);
            using var old = PlantStore.Open(Path.Combine(aside, "plant.db"), clock: _clock);
            Codes(old).ShouldBe(["A", "B"]);
        }
    }

    [Fact]
    public void What_cannot_be_done_is_said_and_leaves_nothing()
    {
        Should.Throw<StoreException>(() => PlantBackup.Make(_root, File1, _clock, true)).Message.ShouldContain("holds no plant");
        using (var store = Open())
            Add(store, "A");
        PlantBackup.Make(Data, File1, _clock, true);
        Should.Throw<StoreException>(() => PlantBackup.Make(Data, File1, _clock, true)).Message.ShouldContain("is there already");
        var nowhere = Path.Combine(_root, "no", "such", "file");
        Should.Throw<StoreException>(() => PlantBackup.Make(Data, nowhere, _clock, true)).Message.ShouldStartWith("No backup was made");
        File.WriteAllText($"{File1}.txt", "no backup at all");
        Should.Throw<StoreException>(() => PlantBackup.Restore($"{File1}.txt", Data, _clock)).Message.ShouldContain("cannot be read");
        using var still = Open();
        Codes(still).ShouldBe(["A"]);
        Directory.EnumerateFiles(_root, "*.part").ShouldBeEmpty();
    }

    private PlantStore Open() => PlantStore.Open(Path.Combine(Data, "plant.db"), clock: _clock);

    private static void Add(PlantStore store, string code)
    {
        var model = store.Load().Model;
        var edit = new SaveEquipment(null, code, code, EquipmentLevel.Enterprise, null, null);
        var outcome = edit.On(model);
        outcome.Problems.ShouldBeEmpty();
        store.Append(outcome, model.Apply(outcome.Changes).NextId, "ada", DateTimeOffset.UnixEpoch);
    }

    private static string[] Codes(PlantStore store) =>
        [.. store.Load().Model.Equipment.Values.Select(e => e.Code).Order(StringComparer.Ordinal)];
}
