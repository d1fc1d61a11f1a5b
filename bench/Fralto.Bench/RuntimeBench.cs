using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Modbus;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Runtime;
using Fralto.Store;
using Fralto.Web.Live;
using Microsoft.Extensions.Logging.Abstractions;

namespace Fralto.Bench;

/// <summary>What stands in the engine's way, and what everything around it costs: large edits, many edits, a large plant at rest and with
/// open windows.</summary>
internal static class RuntimeBench
{
    private const int Controllers = 50;

    public static async Task RunAsync(string? only)
    {
        if (only is null or "edits")
            await EditsAsync();
        if (only is null or "large")
            await LargeAsync(500_000);
    }

    /// <summary>A plant of 20,000 values runs while it is edited.</summary>
    private static async Task EditsAsync()
    {
        await using var plant = await RunningPlant.OpenAsync(Spread(LargePlant.Of(20_000)), 0.1);
        await plant.SettleAsync();
        var plc = plant.Workspace.Model.Controllers.Keys.Min();
        var items = Enumerable
            .Range(0, 100_000)
            .Select(i => new SourceItem(
                new ModbusAddress(RegisterArea.HoldingRegister, i % 65_536) { UnitId = 2 + i / 65_536 },
                ["browsed", $"B{i}"],
                RawType.Int16,
                1,
                ""
            ))
            .ToImmutableArray();
        plant.Runtime.TakePace();
        var watch = Stopwatch.StartNew();
        Must(plant.Workspace.Do(new DeclareTags(plc, items), Actor.Local));
        var took = watch.Elapsed;
        await plant.CaughtUpAsync();
        Figure("appending 100,000 tags", took.TotalSeconds, "s", "none");
        Figure("longest tick gap while 100,000 tags are appended", plant.Runtime.TakePace().LongestGap.TotalMilliseconds, "ms", "250");

        var huge = ModelFormat.DocumentOf(HugePlant.Make());
        plant.Runtime.TakePace();
        watch.Restart();
        Must(plant.Workspace.Do(new ReplaceModel(huge), Actor.Local));
        took = watch.Elapsed;
        await plant.CaughtUpAsync();
        Figure("replacing the model by one of 100,000 pieces", took.TotalSeconds, "s", "none");
        Figure("longest tick gap during a large edit", plant.Runtime.TakePace().LongestGap.TotalMilliseconds, "ms", "250");

        var blocking = GC.GetGCMemoryInfo(GCKind.FullBlocking);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"full collections that stopped everything: {blocking.Index}, the last for "
                    + $"{blocking.PauseDurations[0].TotalMilliseconds:0} ms"
            )
        );

        // 200 edits a second for ten seconds, on the plant of 100,000 pieces.
        var nodes = plant.Workspace.Model.Index.EquipmentInOrder.Where(n => n.TemplateId is not null).Take(4000).ToArray();
        var (edits, plans, late, last) = (0, 0, TimeSpan.Zero, plant.Runtime.Snapshot.Plan);
        plant.Runtime.TakePace();
        watch.Restart();
        while (watch.Elapsed < TimeSpan.FromSeconds(10))
        {
            var node = nodes[edits % nodes.Length];
            Must(
                plant.Workspace.Do(
                    new SaveEquipment(node.Id, node.Code, $"{node.Name} {edits}", node.Level, node.ParentId, node.TemplateId),
                    Actor.Local
                )
            );
            edits++;
            if (!ReferenceEquals(last, plant.Runtime.Snapshot.Plan))
                (last, plans) = (plant.Runtime.Snapshot.Plan, plans + 1);
            var ahead = TimeSpan.FromSeconds(edits / 200.0) - watch.Elapsed;
            if (ahead > TimeSpan.Zero)
                await Task.Delay(ahead);
            else
                late = -ahead;
        }
        var gap = plant.Runtime.TakePace().LongestGap;
        Figure("edits a second that were kept", edits / watch.Elapsed.TotalSeconds, "1/s", "200");
        Figure("plans put in during ten seconds of them", plans, "", "at least 1");
        Figure("longest tick gap during 200 edits a second", gap.TotalMilliseconds, "ms", "250");
    }

    /// <summary>A plant as large as they come, of which little changes.</summary>
    private static async Task LargeAsync(int points)
    {
        await using var plant = await RunningPlant.OpenAsync(Spread(LargePlant.Of(points)), 0.01);
        await plant.SettleAsync();
        GC.Collect();
        var (quiet, quietCpu) = await plant.MeasureAsync(TimeSpan.FromSeconds(10));
        Figure(
            $"engine's thread at {points} points of which 1 % change a second, samples and all",
            quiet.Busy / quiet.Over * 100,
            "% of a core",
            "5"
        );
        Figure("longest tick there", quiet.LongestTick.TotalMilliseconds, "ms", "50");
        Figure("the whole process there", quietCpu * 100, "% of a core", "none");

        await using var feed = new LiveFeed(
            plant.Runtime,
            plant.Workspace,
            new HeaderFigures(
                plant.Workspace,
                plant.Runtime,
                plant.Store,
                plant.Log,
                new(
                    plant.Workspace,
                    plant.Runtime,
                    new(plant.Runtime, new(), TimeProvider.System, NullLogger<DoubtWatch>.Instance),
                    new(plant.Runtime, plant.Workspace, TimeProvider.System, NullLogger<ValueWatch>.Instance),
                    TimeProvider.System
                )
            ),
            NullLogger<LiveFeed>.Instance
        );
        using var stop = new CancellationTokenSource();
        var windows = Enumerable
            .Range(0, 50)
            .Select(i =>
                Task.Run(async () =>
                {
                    // Each looks at a controller of its own: 5,000 values, the most a page follows.
                    var (payloads, bytes) = (0, 0L);
                    try
                    {
                        await foreach (
                            var payload in feed.ListenAsync(
                                new LiveScope(
                                    LiveScopeKind.Controller,
                                    plant.Workspace.Model.Controllers.Keys.Order().ElementAt(i % Controllers)
                                ),
                                stop.Token
                            )
                        )
                            (payloads, bytes) = (payloads + 1, bytes + payload.Length);
                    }
                    catch (OperationCanceledException)
                    {
                        // Closed.
                    }
                    return payloads;
                })
            )
            .ToArray();
        await Task.Delay(TimeSpan.FromSeconds(6));
        var (busy, cpu) = await plant.MeasureAsync(TimeSpan.FromSeconds(10));
        Figure("50 open windows cost beyond that", (cpu - quietCpu) * 100, "% of a core", "10");
        Figure("longest tick with 50 open windows", busy.LongestTick.TotalMilliseconds, "ms", "50");
        await stop.CancelAsync();
        foreach (var window in windows)
            if (await window < 10)
                throw new InvalidOperationException("A window was told nothing.");
    }

    /// <summary>The same plant with its tags spread over many controllers.</summary>
    private static PlantModel Spread(PlantModel model)
    {
        var (first, next) = (model.Controllers.Values.Single(), model.NextId);
        Controller[] all = [first, .. Enumerable.Range(1, Controllers - 1).Select(i => first with { Id = next + i, Name = $"plc-{i}" })];
        return model with
        {
            NextId = next + Controllers,
            Controllers = all.ToImmutableDictionary(c => c.Id, c => c with { UpdateInterval = TimeSpan.FromMinutes(10) }),
            Tags = model
                .Tags.Values.OrderBy(t => t.Id)
                .Select(
                    (t, i) =>
                        t with
                        {
                            ControllerId = all[i % Controllers].Id,
                            Address = new ModbusAddress(RegisterArea.HoldingRegister, i / Controllers),
                        }
                )
                .ToImmutableDictionary(t => t.Id),
        };
    }

    private static void Must(EditOutcome outcome)
    {
        if (outcome.IsRefused)
            throw new InvalidOperationException(outcome.Problems[0].Message);
    }

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.##} {unit} (aim {aim})"));

    /// <summary>A plant in a directory of its own, running with links that reach no device.</summary>
    private sealed class RunningPlant : IAsyncDisposable
    {
        private readonly string _directory;

        private RunningPlant(string directory, PlantStore store, double share)
        {
            (_directory, Store) = (directory, store);
            Workspace = new(store, TimeProvider.System);
            Log = new(store.Run, Workspace, TimeProvider.System, NullLogger<AlarmLog>.Instance);
            var keeping = new LinkKeeping(store.Run, new NoSecrets(), TimeProvider.System);
            var links = new LinkSupervisor(
                new ProtocolDrivers([new SteadyDriver(share)]),
                keeping,
                TimeProvider.System,
                NullLogger<LinkSupervisor>.Instance
            );
            Runtime = new(
                Workspace,
                store.Run,
                links,
                Log,
                new(store.Run, TimeProvider.System, NullLogger<FormulaKeeper>.Instance),
                TimeProvider.System,
                NullLogger<PlantRuntime>.Instance
            );
        }

        public PlantStore Store { get; }

        public ModelWorkspace Workspace { get; }

        public AlarmLog Log { get; }

        public PlantRuntime Runtime { get; }

        public static async Task<RunningPlant> OpenAsync(PlantModel model, double share)
        {
            var directory = Directory.CreateTempSubdirectory("fralto-bench-").FullName;
            var store = PlantStore.Open(Path.Combine(directory, "plant.db"));
            var watch = Stopwatch.StartNew();
            var changes = model
                .Templates.Values.Cast<object>()
                .Concat(model.Equipment.Values)
                .Concat(model.Controllers.Values)
                .Concat(model.Tags.Values)
                .Concat(model.Bindings.Values)
                .Select(e => new ModelChange(null, e));
            store.Append(EditOutcome.Changed("made", changes), model.NextId, "bench", DateTimeOffset.UtcNow);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"a plant of {model.Tags.Count:N0} tags kept in {watch.Elapsed.TotalSeconds:0.0} s"
                )
            );
            var plant = new RunningPlant(directory, store, share);
            plant.Runtime.Start();
            await Task.Yield();
            return plant;
        }

        /// <summary>Waits until all values are Good.</summary>
        public async Task SettleAsync()
        {
            while (Runtime.Snapshot.GoodPoints < Runtime.Snapshot.Plan.Points.Length || Runtime.Snapshot.Plan.Points.Length == 0)
                await Task.Delay(50);
            await Task.Delay(1000);
        }

        /// <summary>Waits until what runs is the working model.</summary>
        public async Task CaughtUpAsync()
        {
            while (!ReferenceEquals(Runtime.RunningModel, Workspace.Model))
                await Task.Delay(20);
            await Task.Delay(500);
        }

        public async Task<(RuntimePace Pace, double Cores)> MeasureAsync(TimeSpan over)
        {
            Runtime.TakePace();
            var (cpu, watch) = (Environment.CpuUsage.TotalTime, Stopwatch.StartNew());
            await Task.Delay(over);
            return (Runtime.TakePace(), (Environment.CpuUsage.TotalTime - cpu) / watch.Elapsed);
        }

        public async ValueTask DisposeAsync()
        {
            await Runtime.DisposeAsync();
            Store.Dispose();
            Directory.Delete(_directory, recursive: true);
        }
    }

    private sealed class NoSecrets : ISecretProtector
    {
        public string Protect(string secret) => secret;

        public string? Unprotect(string kept) => kept;
    }
}
