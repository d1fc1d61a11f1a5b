using System.Collections.Concurrent;
using System.Collections.Immutable;
using Fralto.Core.Binding;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Quality;
using Fralto.Store;

namespace Fralto.Web.Live;

/// <summary>Runs the engine: samples from the links in, snapshots for pages and streams out. The engine is touched by this loop alone.</summary>
public sealed class PlantRuntime : BackgroundService
{
    private const int KeptEvents = 500;
    private static readonly TimeSpan Tick = TimeSpan.FromMilliseconds(50);
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan PublishEvery = TimeSpan.FromMilliseconds(250);
    private static readonly TimeSpan SimulateEvery = TimeSpan.FromMilliseconds(500);

    private readonly ModelWorkspace _workspace;
    private readonly PlantStore _store;
    private readonly TimeProvider _clock;
    private readonly ILogger<PlantRuntime> _logger;
    private readonly AlarmLog _log;
    private readonly ConcurrentQueue<(AlarmKey Key, string Who, TaskCompletionSource<bool> Done)> _acknowledgements = new();
    private readonly List<AlarmEvent> _events = [];
    private volatile EngineSnapshot _snapshot = EngineSnapshot.Empty;
    private PlantModel? _compiled;
    private PlantModel? _waitingFor;
    private long _waitsSince;
    private TimeSpan _lastTook;
    private Task<(PlantModel Model, PlanResult Result, TimeSpan Took)>? _compiling;
    private ImmutableList<AlarmEvent> _recent = [];
    private FindingList _findings = FindingList.Empty;
    private long _alarmVersion;
    private long _published = -1;
    private long _begun;
    private long _simulated;
    private volatile bool _isRelinked;

    public PlantRuntime(ModelWorkspace workspace, PlantStore store, TimeProvider clock, ILogger<PlantRuntime> logger, LinkKeeping keeping, AlarmLog log)
    {
        (_workspace, _store, _clock, _logger, _log) = (workspace, store, clock, logger, log);
        Links = new LinkSupervisor(clock, logger, keeping);
    }

    /// <summary>Raised after each new snapshot, on the engine's thread; handlers must be quick.</summary>
    public event Action? Published;

    public LinkSupervisor Links { get; }

    /// <summary>The newest snapshot.</summary>
    public EngineSnapshot Snapshot => _snapshot;

    /// <summary>The newest alarm events, newest first; those of earlier runs too.</summary>
    public ImmutableList<AlarmEvent> RecentEvents => Volatile.Read(ref _recent);

    /// <summary>Samples lost because the engine could not keep up.</summary>
    public long DroppedSamples => Links.Dropped;

    /// <summary>True once the engine runs and until it stops.</summary>
    public bool IsRunning { get; private set; }

    /// <summary>Looks at the links again: a password is another one.</summary>
    public void Relink() => _isRelinked = true;

    /// <summary>Acknowledges an alarm; ends when that is kept, or when it cannot be kept for now, which the pages say.</summary>
    /// <returns>False when it had nothing to acknowledge any more.</returns>
    public Task<bool> AcknowledgeAsync(AlarmKey key, string who)
    {
        var done = new TaskCompletionSource<bool>(TaskCreationOptions.RunContinuationsAsynchronously);
        _acknowledgements.Enqueue((key, who, done));
        return done.Task.WaitAsync(TimeSpan.FromSeconds(5), _clock);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        _compiled = _workspace.Model;
        var (plan, findings) = Planner.Compile(_compiled);
        _findings = findings;
        var engine = new PlantEngine(plan);
        _recent = [.. _store.AlarmEvents(KeptEvents)];
        engine.Restore(_store.LoadAlarms(), _clock.GetUtcNow(), _events);
        EndOpenCommands();
        using var stopLog = new CancellationTokenSource();
        var log = Task.Run(() => _log.RunAsync(stopLog.Token), CancellationToken.None);
        _ = Keep(engine);
        await Links.FollowAsync(_compiled);
        Publish(engine);
        IsRunning = true;
        try
        {
            var lastPublish = _clock.GetTimestamp();
            _begun = lastPublish;
            using var timer = new PeriodicTimer(Tick, _clock);
            while (await timer.WaitForNextTickAsync(stoppingToken))
            {
                await FollowModelAsync(engine);
                Links.Take(batch => engine.Step(batch, _events));
                Simulate(engine);
                Acknowledge(engine);
                _ = Keep(engine);
                if (_clock.GetElapsedTime(lastPublish) < PublishEvery) continue;
                lastPublish = _clock.GetTimestamp();
                engine.Advance(_clock.GetUtcNow(), _events);
                _ = Keep(engine);
                Publish(engine);
                Links.Measure(ChangesOf);
            }
        }
        catch (OperationCanceledException)
        {
            // Stopping is how the engine ends.
        }
        finally
        {
            IsRunning = false;
            await Links.StopAsync();
            _ = Keep(engine);
            await stopLog.CancelAsync();
            await log;
        }
    }

    private void EndOpenCommands()
    {
        try
        {
            _store.EndOpenCommands();
        }
        catch (StoreException)
        {
            // They stay as sending; the trouble is told of on every page.
        }
    }

    /// <summary>Whoever acknowledges sees the result in the next page, so a snapshot goes out before the answer does.</summary>
    private void Acknowledge(PlantEngine engine)
    {
        var answers = new List<Action>();
        while (_acknowledgements.TryDequeue(out var order))
        {
            var done = engine.Acknowledge(order.Key, order.Who, _clock.GetUtcNow(), _events);
            answers.Add(() => order.Done.TrySetResult(done));
        }
        if (answers.Count == 0) return;
        var kept = Keep(engine);
        Publish(engine);
        // What has been acknowledged is kept before that is said; when the disk does not answer, the pages say so, and the engine waits for neither.
        _ = Task.WhenAny(kept, Task.Delay(LongestWait, _clock)).ContinueWith(_ => answers.ForEach(a => a()), TaskScheduler.Default);
    }

    /// <summary>Compiles the newest model beside the running engine, and swaps the plan in when it is ready: values keep flowing meanwhile.</summary>
    private async Task FollowModelAsync(PlantEngine engine)
    {
        if (_compiling is null)
        {
            var model = _workspace.Model;
            if (ReferenceEquals(model, _compiled))
            {
                if (!_isRelinked) return;
                _isRelinked = false;
                await Links.FollowAsync(_compiled);
                return;
            }
            // Whoever edits wants to see the page first: compiling waits as long as it took the last time, counted from the last edit.
            if (!ReferenceEquals(model, _waitingFor)) (_waitingFor, _waitsSince) = (model, _clock.GetTimestamp());
            if (_clock.GetElapsedTime(_waitsSince) >= _lastTook) _compiling = Task.Run(() => Timed(model));
            return;
        }
        if (!_compiling.IsCompleted) return;
        var (compiled, result, took) = await _compiling;
        _lastTook = took < LongestWait ? took : LongestWait;
        (_compiling, _compiled, _findings) = (null, compiled, result.Findings);
        engine.Swap(result.Plan, _clock.GetUtcNow(), _events);
        // Alarms may carry another priority or path now.
        _alarmVersion++;
        Publish(engine);
        await Links.FollowAsync(compiled);
    }

    /// <summary>Says what stands in for the tags that are being simulated.</summary>
    private void Simulate(PlantEngine engine)
    {
        if (_compiled!.Index.Simulations is not { Count: > 0 } simulations || (_simulated != 0 && _clock.GetElapsedTime(_simulated) < SimulateEvery)) return;
        _simulated = _clock.GetTimestamp();
        var (elapsed, now) = (_clock.GetElapsedTime(_begun), _clock.GetUtcNow().UtcTicks);
        engine.Step([.. simulations.Select(b => b.Simulation!).Select(s => s.Shape == SimulationShape.Held
            ? new Sample(s.TagId, s.Low, StatusCode.GoodLocalOverride, now, "held by hand in place of its tag")
            : new Sample(s.TagId, s.At(elapsed), StatusCode.UncertainSimulatedValue, now, "simulated in place of its tag"))], _events);
    }

    /// <summary>How many changes the engine has counted at the tags of a controller.</summary>
    private long ChangesOf(long controllerId)
    {
        var (snapshot, changes) = (_snapshot, 0L);
        for (var i = 0; i < snapshot.Readings.Length; i++)
            if (snapshot.Plan.Tags[i].ControllerId == controllerId) changes += snapshot.Readings[i].Changes;
        return changes;
    }

    private (PlantModel, PlanResult, TimeSpan) Timed(PlantModel model)
    {
        var begin = _clock.GetTimestamp();
        var result = Planner.Compile(model);
        return (model, result, _clock.GetElapsedTime(begin));
    }

    /// <summary>Hands on what happened: to the pages, and to the log.</summary>
    /// <returns>Ends when it is kept.</returns>
    private Task Keep(PlantEngine engine)
    {
        if (_events.Count == 0) return Task.CompletedTask;
        // An alarm that was dropped at a restart no longer knows its path; the event before does.
        var events = _events.ConvertAll(e => e.Path.Length > 0 || _recent.Find(r => r.Key == e.Key && r.Path.Length > 0) is not { } before ? e : e with { Path = before.Path, Priority = before.Priority });
        var recent = _recent.InsertRange(0, Enumerable.Reverse(events));
        Volatile.Write(ref _recent, recent.Count > KeptEvents ? recent.RemoveRange(KeptEvents, recent.Count - KeptEvents) : recent);
        _events.Clear();
        _alarmVersion++;
        return _log.Take(events, engine.AlarmOf);
    }

    /// <summary>Takes a new snapshot when anything has moved since the last one; a plant that stands still costs nothing.</summary>
    private void Publish(PlantEngine engine)
    {
        if (engine.Version != _published || !ReferenceEquals(_snapshot.Plan, engine.Plan) || _alarmVersion != _snapshot.AlarmVersion)
        {
            _published = engine.Version;
            TakeSnapshot(engine);
        }
        try
        {
            Published?.Invoke();
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // Whoever shows values may fail; the plant runs on.
            _logger.LogError(e, "Values could not be sent to open pages");
        }
    }

    private void TakeSnapshot(PlantEngine engine)
    {
        var values = new PointValue[engine.Plan.Points.Length];
        for (var i = 0; i < values.Length; i++) values[i] = engine.ValueOf(i);
        var readings = new TagReading[engine.Plan.Tags.Length];
        for (var i = 0; i < readings.Length; i++) readings[i] = engine.ReadingOf(i);
        var alarms = _alarmVersion == _snapshot.AlarmVersion && ReferenceEquals(engine.Plan, _snapshot.Plan) ? _snapshot.Alarms : InOrder(engine);
        _snapshot = new EngineSnapshot(engine.Plan, _findings, values, readings, alarms, _alarmVersion);
    }

    private static ImmutableArray<Alarm> InOrder(PlantEngine engine)
    {
        int PriorityOf(Alarm alarm) => engine.Plan.Points[engine.Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)].LimitOf(alarm.Key.Condition)!.Value.Priority;
        return [.. engine.Alarms.OrderByDescending(a => a.IsActive).ThenBy(a => a.State).ThenBy(PriorityOf).ThenByDescending(a => a.RaisedAt)];
    }
}
