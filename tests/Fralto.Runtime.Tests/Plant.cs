using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Review;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Releasing;
using Fralto.Store;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Time.Testing;

namespace Fralto.Runtime.Tests;

/// <summary>A plant of two kilns on two controllers, run turn by turn with a clock and links that a test moves.</summary>
internal sealed class Plant : IAsyncDisposable, IRuntimeSink
{
    private readonly string _directory = Directory.CreateTempSubdirectory("fralto-runtime-").FullName;
    private readonly ConcurrentQueue<RuntimeOutput> _put = new();

    public Plant(FakeDriver? driver = null)
    {
        Driver = driver ?? new();
        Store = PlantStore.Open(File);
        Workspace = new(Store, Clock);
        foreach (var edit in Made)
            Do(edit);
        Runtime = Make();
    }

    public static DateTimeOffset Noon { get; } = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);

    public FakeTimeProvider Clock { get; } = new(Noon);

    public FakeDriver Driver { get; }

    public PlantStore Store { get; private set; }

    public ModelWorkspace Workspace { get; private set; }

    public PlantRuntime Runtime { get; private set; }

    public string File => Path.Combine(_directory, "plant.db");

    /// <summary>Everything put out, in order.</summary>
    public IReadOnlyCollection<RuntimeOutput> Put => _put;

    public PlantModel Model => Workspace.Model;

    public PointValue ValueOf(string kiln) =>
        Runtime.Snapshot.Find(Model.Equipment.Values.Single(e => e.Code == kiln).Id, AirOn)!.Value.Value;

    public AlarmKey HighOf(string kiln) => new(Model.Equipment.Values.Single(e => e.Code == kiln).Id, AirOn, LimitCondition.High);

    private long AirOn => Model.Templates.Values.Single().Properties.Single().Id;

    private static IEnumerable<Func<PlantModel, Edit>> Made =>
        [
            _ => new SaveController(null, "one", "127.0.0.1", 502, 1, 60_000),
            _ => new SaveController(null, "two", "127.0.0.1", 503, 1, 60_000),
            m => new SaveTag(null, Of(m, "one"), "T1", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""),
            m => new SaveTag(null, Of(m, "two"), "T2", RegisterArea.InputRegister, 0, RawType.Int16, WordOrder.HighFirst, ""),
            _ => new SaveTemplate(null, "Kiln", "Kiln", null, ""),
            m => new SaveProperty(
                m.Templates.Keys.Single(),
                null,
                "AirOn",
                "Air-on",
                PropertyKind.Measured,
                PropertyType.Number,
                new()
                {
                    Range = new(0, 120),
                    Limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty.Add(LimitCondition.High, new(88, 1, 2)),
                }
            ),
            _ => new SaveEquipment(null, "C", "Corvane", EquipmentLevel.Enterprise, null, null),
            m => new SaveEquipment(
                null,
                "K1",
                "Kiln 1",
                EquipmentLevel.Unit,
                m.Equipment.Values.Single(e => e.Code == "C").Id,
                m.Templates.Keys.Single()
            ),
            m => new SaveEquipment(
                null,
                "K2",
                "Kiln 2",
                EquipmentLevel.Unit,
                m.Equipment.Values.Single(e => e.Code == "C").Id,
                m.Templates.Keys.Single()
            ),
            m => Bound(m, "K1", "T1"),
            m => Bound(m, "K2", "T2"),
        ];

    public static long Of(PlantModel model, string controller) => model.Controllers.Values.Single(c => c.Name == controller).Id;

    public void Do(Func<PlantModel, Edit> edit) => Workspace.Do(edit(Workspace.Model), Actor.Local).Problems.ShouldBeEmpty();

    /// <summary>Begins, and waits until both links run.</summary>
    public async Task<Plant> BegunAsync()
    {
        Runtime.Begin();
        await Until(() => Driver.Made.Count >= 2 && Driver.Made.All(l => l.Runs > 0));
        return this;
    }

    /// <summary>Lets time pass, turn by turn.</summary>
    public void Pass(double seconds)
    {
        for (var turn = 0; turn < Math.Max(1, Math.Round(seconds / 0.05)); turn++)
        {
            Clock.Advance(TimeSpan.FromMilliseconds(50));
            Runtime.Tick();
        }
    }

    /// <summary>Turns until something holds that is done beside the engine.</summary>
    public async Task Until(Func<bool> holds, bool turns = false)
    {
        for (var tries = 0; !holds(); tries++)
        {
            tries.ShouldBeLessThan(2000);
            if (turns)
                Pass(0.05);
            await Task.Delay(5, TestContext.Current.CancellationToken);
        }
    }

    /// <summary>Ends this run and begins another with what was kept.</summary>
    public async Task<Plant> RestartedAsync()
    {
        await Runtime.DisposeAsync();
        Store.Dispose();
        Store = PlantStore.Open(File);
        Workspace = new(Store, Clock);
        Driver.Made.Clear();
        Runtime = Make();
        return await BegunAsync();
    }

    public void Take(RuntimeOutput output) => _put.Enqueue(output);

    /// <summary>What was put out until now is no longer looked at.</summary>
    public void ForgetPut() => _put.Clear();

    public async ValueTask DisposeAsync()
    {
        foreach (var link in Driver.Made)
            link.End();
        await Runtime.DisposeAsync();
        Store.Dispose();
        Directory.Delete(_directory, recursive: true);
    }

    private PlantRuntime Make()
    {
        var keeping = new LinkKeeping(Store.Run, new MirrorProtector(), Clock);
        var links = new LinkSupervisor(new ProtocolDrivers([Driver]), keeping, Clock, NullLogger<LinkSupervisor>.Instance);
        var runtime = new PlantRuntime(
            Workspace,
            Store.Run,
            links,
            new(Store.Run, Workspace, Clock, NullLogger<AlarmLog>.Instance),
            new(Store.Run, Clock, NullLogger<FormulaKeeper>.Instance),
            Clock,
            NullLogger<PlantRuntime>.Instance
        );
        runtime.Attach(this);
        Trial = new(runtime, NullLogger<TrialDesk>.Instance);
        Values = new(runtime, Workspace, Clock, NullLogger<ValueWatch>.Instance);
        Findings = new(Workspace, runtime, new(runtime, new(), Clock, NullLogger<DoubtWatch>.Instance), Values, Clock);
        Releases = new(Workspace, Store, runtime, Findings, Trial, Backups, Clock, NullLogger<ReleaseDesk>.Instance);
        return runtime;
    }

    /// <summary>What values have been.</summary>
    public ValueWatch Values { get; private set; } = null!;

    /// <summary>Nothing is recorded here; whoever looks finds nothing.</summary>
    public Trends Trends
    {
        get
        {
            var recorder = new HistoryRecorder(Store.History, Clock, NullLogger<HistoryRecorder>.Instance);
            return new(new(Store.History, recorder, Clock), new(Runtime, Clock, NullLogger<TagTrends>.Instance));
        }
    }

    /// <summary>What makes releases.</summary>
    public ReleaseDesk Releases { get; private set; } = null!;

    public TrialDesk Trial { get; private set; } = null!;

    public FindingCache Findings { get; private set; } = null!;

    /// <summary>Where copies go before releases; null for nowhere.</summary>
    public BackupPlace? Backups { get; init; }

    /// <summary>Releases while the plant goes on.</summary>
    public async Task<ReleaseOutcome> ReleaseAsync(string note, long? seen = null, NetChanges? part = null)
    {
        var release = Releases.ReleaseAsync(note, Actor.Local, seen, part);
        await Until(() => release.IsCompleted, turns: true);
        var outcome = await release;
        if (outcome.Release is not null)
            await Until(() => ReferenceEquals(Runtime.RunningModel, Workspace.Released), turns: true);
        return outcome;
    }

    private static Bind Bound(PlantModel model, string kiln, string tag) =>
        new(
            model.Equipment.Values.Single(e => e.Code == kiln).Id,
            model.Templates.Values.Single().Properties.Single().Id,
            model.Tags.Values.Single(t => t.Name == tag).Id
        );
}
