using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Runtime;
using Fralto.Core.Alarms;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Review;
using Fralto.Core.Scaling;
using Fralto.Links;
using Fralto.Runtime.Recording;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Runs the engine on a thread of its own: samples from the links in, snapshots and events out to the sinks. Nothing on this
/// thread waits for a disk, a link or a page.</summary>
public sealed class PlantRuntime : IAsyncDisposable
{
    private const int KeptEvents = 500;
    private static readonly TimeSpan TickEvery = TimeSpan.FromMilliseconds(50);
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(2);
    private static readonly TimeSpan PublishEvery = TimeSpan.FromMilliseconds(250);
    private static readonly TimeSpan SimulateEvery = TimeSpan.FromMilliseconds(500);

    private readonly ModelWorkspace _workspace;
    private readonly RunStore _store;
    private readonly TimeProvider _clock;
    private readonly ILogger<PlantRuntime> _logger;
    private readonly AlarmLog _log;
    private readonly FormulaKeeper _formulas;
    private readonly ConcurrentDictionary<(long, long), EnteredValue> _entered = new();
    private readonly ConcurrentQueue<Order> _orders = new();
    private readonly ImmutableArray<SampleBatch>.Builder _past = ImmutableArray.CreateBuilder<SampleBatch>();
    private readonly ImmutableArray<RecordBatch>.Builder _records = ImmutableArray.CreateBuilder<RecordBatch>();
    private readonly List<AlarmEvent> _happened = [];
    private readonly List<SampleBatch> _taken = [];
    private readonly CancellationTokenSource _stopping = new();
    private readonly CancellationTokenSource _stopLog = new();
    private readonly TaskCompletionSource _ended = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private readonly Lock _paceLock = new();
    private ImmutableArray<IRuntimeSink> _sinks = [];
    private readonly PlanMaker _releasedPlans;
    private readonly PlanMaker _workingPlans;
    private EngineRun? _released;
    private volatile EngineRun? _working;
    private FollowedTags _followed = FollowedTags.Of(PlantModel.Empty, NetChanges.None);
    private WorkspaceState? _followedFor;
    private Thread? _thread;
    private Task _logging = Task.CompletedTask;
    private ImmutableList<AlarmEvent> _recent = [];
    private readonly List<AlarmEvent> _wouldHappen = [];
    private long _begun;
    private long _lastPublish;
    private long _lastTick;
    private long _measuredSince;
    private RuntimePace _pace;

    public PlantRuntime(
        ModelWorkspace workspace,
        RunStore store,
        LinkSupervisor links,
        AlarmLog log,
        FormulaKeeper formulas,
        TimeProvider clock,
        ILogger<PlantRuntime> logger
    )
    {
        (_workspace, _store, Links, _log, _formulas, _clock, _logger) = (workspace, store, links, log, formulas, clock, logger);
        (_releasedPlans, _workingPlans) = (new(clock), new(clock));
    }

    public LinkSupervisor Links { get; }

    /// <summary>The model that runs; the released model is newer while it has not been compiled.</summary>
    public PlantModel? RunningModel => Volatile.Read(ref _released)?.Model;

    /// <summary>The newest snapshot of what runs.</summary>
    public EngineSnapshot Snapshot => Volatile.Read(ref _released)?.Snapshot ?? EngineSnapshot.Empty;

    /// <summary>The newest snapshot of the working model: what it would be if it were released. That of what runs while nothing is
    /// unreleased.</summary>
    public EngineSnapshot WorkingSnapshot => _working?.Snapshot ?? Snapshot;

    /// <summary>The working model that runs beside; null while none does.</summary>
    public PlantModel? WorkingModel => _working?.Model;

    /// <summary>Raised on the engine's thread when a model has been put in, with how long the plant stood still for it.</summary>
    public event Action<PlantModel, TimeSpan>? Swapped;

    /// <summary>The newest alarm events, newest first; those of earlier runs too.</summary>
    public ImmutableList<AlarmEvent> RecentEvents => Volatile.Read(ref _recent);

    /// <summary>Samples lost because the engine could not keep up.</summary>
    public long DroppedSamples => Links.Dropped;

    /// <summary>True once the engine runs and until it stops.</summary>
    public bool IsRunning { get; private set; }

    /// <summary>Ends when the engine has stopped; fails with what stopped it, when that was a fault of its own.</summary>
    public Task Ended => _ended.Task;

    /// <summary>Lets a sink have all that is put out from now on.</summary>
    public void Attach(IRuntimeSink sink) => ImmutableInterlocked.Update(ref _sinks, sinks => sinks.Add(sink));

    /// <summary>True lets sinks have the values of recorded points; said before it starts.</summary>
    public bool Records { get; set; }

    /// <summary>Looks at the links again: a password is another one.</summary>
    public void Relink() => Links.Follow(_followed.Model);

    /// <summary>The words a tag's newest reading was made of; null when its link has none.</summary>
    /// <param name="tag">The tag, as the working model has it.</param>
    public ushort[]? WordsOf(Tag tag) => Links.WordsOf(_followed.ReadingOf(tag));

    /// <summary>How evenly the engine has run since this was asked last.</summary>
    public RuntimePace TakePace()
    {
        lock (_paceLock)
        {
            var (pace, now) = (_pace with { Over = _clock.GetElapsedTime(_measuredSince) }, _clock.GetTimestamp());
            (_pace, _measuredSince) = (default, now);
            return pace;
        }
    }

    /// <summary>The most alarms that are acted on at once.</summary>
    public const int MostActs = 20_000;

    /// <summary>Does to alarms what somebody wants, all of it between two samples.</summary>
    /// <param name="acts">What.</param>
    /// <param name="actor">Who does it; his name stands in the log.</param>
    /// <returns>What was not done, and why; empty when all was.</returns>
    public async Task<IReadOnlyList<(AlarmKey Key, string Why)>> ActAsync(IReadOnlyList<AlarmAct> acts, Actor actor)
    {
        if (!actor.May(ActorRights.Acknowledge))
            return [.. acts.Select(a => (a.Key, actor.Lacks(ActorRights.Acknowledge)))];
        if (acts.Count > MostActs)
            return [(acts[0].Key, $"{acts.Count} at once; {MostActs} is the most")];
        var refused = new List<(AlarmKey, string)>();
        await OrderAsync(
            (engine, now) =>
            {
                foreach (var act in acts)
                    if (engine.Do(act with { Who = actor.Name }, now) is { } why)
                        refused.Add((act.Key, why));
                return refused.Count < acts.Count;
            }
        );
        return refused;
    }

    /// <summary>Begins the totals, counts and times of a calculated property anew, and notes it.</summary>
    /// <returns>Why nothing was done; null when it was.</returns>
    public async Task<string?> ResetAsync(long equipmentId, long propertyId, Actor actor)
    {
        if (!actor.May(ActorRights.Command))
            return $"nothing was reset: {actor.Lacks(ActorRights.Command)}";
        if (Snapshot.Find(equipmentId, propertyId) is not { Point.Source: PointSource.Formula } found)
            return "nothing was reset: it is not a calculated value of the running plant";
        var before = found.Value.Value.ToString("R", CultureInfo.InvariantCulture);
        try
        {
            _store.AppendCommand(new(_clock.GetUtcNow(), actor.Name, found.Point.Path, before, "reset", "", "reset", ""));
        }
        catch (StoreException e)
        {
            return $"nothing was reset, since it could not be noted: {e.Message}";
        }
        return await OrderAsync(
            (engine, now) =>
            {
                if (_working?.Engine is { } beside && beside.Plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var its)
                    beside.Reset(its, now);
                return engine.Plan.PointIndexOf(equipmentId, propertyId) is >= 0 and var at && engine.Reset(at, now);
            }
        )
            ? null
            : "nothing was reset: its formula counts nothing from a beginning";
    }

    /// <summary>Takes a value somebody enters; it is kept, and noted who entered it, before it counts.</summary>
    /// <param name="equipmentId">The instance.</param>
    /// <param name="propertyId">A property that is entered.</param>
    /// <param name="text">The value: a number in the property's unit, true or false, a state, or a text.</param>
    /// <param name="actor">Who enters it.</param>
    /// <returns>Why it was not taken; null when it was.</returns>
    public async Task<string?> EnterAsync(long equipmentId, long propertyId, string text, Actor actor)
    {
        if (!actor.May(ActorRights.Command))
            return $"nothing was entered: {actor.Lacks(ActorRights.Command)}";
        if (Snapshot.Find(equipmentId, propertyId) is not { Point: { Source: PointSource.Entered } point } found)
            return "nothing was entered: it is not a value of the running plant that is entered";
        if (text.Length > LongestEntered || text.Any(char.IsControl))
            return $"A value is one line of at most {LongestEntered} characters.";
        if (text.Length == 0)
            return "Type the value.";
        if (point.Type.ValueProblem(text, point.States) is { } problem)
            return problem;
        var entered = new EnteredValue(equipmentId, propertyId, text, _clock.GetUtcNow(), actor.Name);
        try
        {
            _store.KeepEntered(entered);
            var before = found.Value.Text
                ?? (double.IsNaN(found.Value.Value) ? "" : found.Value.Value.ToString("R", CultureInfo.InvariantCulture));
            _store.AppendCommand(new(entered.At, actor.Name, point.Path, before, text, "", "entered", ""));
        }
        catch (StoreException e)
        {
            return $"nothing was entered, since it could not be kept: {e.Message}";
        }
        _entered[(equipmentId, propertyId)] = entered;
        return await OrderAsync(
            (engine, now) =>
            {
                if (_working?.Engine is { } beside)
                    Enter(beside, entered, now);
                return Enter(engine, entered, now);
            }
        )
            ? null
            : "it is kept, but the running plant has it no more";
    }

    /// <summary>Who entered the value of a property, and when; null when nobody has.</summary>
    public EnteredValue? EnteredOf(long equipmentId, long propertyId) => _entered.GetValueOrDefault((equipmentId, propertyId));

    /// <summary>Looks at something of the working model on the engine's thread.</summary>
    public async Task<T?> AskAsync<T>(Func<PlantEngine, Moment, T?> question)
        where T : class
    {
        T? answer = null;
        await OrderAsync((engine, now) => (answer = question(_working?.Engine ?? engine, now)) is not null);
        return answer;
    }

    private const int LongestEntered = 200;

    /// <summary>What is done on the engine's thread for somebody who waits.</summary>
    private sealed record Order(Func<PlantEngine, Moment, bool> Act, TaskCompletionSource<bool> Done);

    private Task<bool> OrderAsync(Func<PlantEngine, Moment, bool> act)
    {
        var done = new TaskCompletionSource<bool>(TaskCreationOptions.RunContinuationsAsynchronously);
        _orders.Enqueue(new(act, done));
        return done.Task.WaitAsync(TimeSpan.FromSeconds(5), _clock);
    }

    private static bool Enter(PlantEngine engine, EnteredValue entered, Moment now)
    {
        var point = engine.Plan.PointIndexOf(entered.EquipmentId, entered.PropertyId);
        if (point < 0 || engine.Plan.Points[point] is not { Source: PointSource.Entered } known)
            return false;
        // What was entered for another type or list before the model changed says nothing now.
        if (known.Type.ValueProblem(entered.Value, known.States) is not null)
            return false;
        var value = known.Type switch
        {
            PropertyType.Boolean => entered.Value == "true" ? 1 : 0,
            PropertyType.State => known.States?.StateOf(entered.Value)?.Value ?? double.NaN,
            PropertyType.Text or PropertyType.Time => double.NaN,
            _ => FieldText.Number(entered.Value, out _) ?? double.NaN,
        };
        engine.Enter(point, value, known.Type is PropertyType.Text or PropertyType.Time ? entered.Value : null, entered.At, now);
        return true;
    }

    /// <summary>Gives what was entered to a plan that has just been put in.</summary>
    private void EnterAgain(PlantEngine engine)
    {
        foreach (var point in engine.Plan.Entered)
            if (
                engine.ValueOf(point) is { Status.IsBad: true }
                && _entered.TryGetValue((engine.Plan.Points[point].EquipmentId, engine.Plan.Points[point].PropertyId), out var entered)
            )
                Enter(engine, entered, _clock.Moment());
    }

    /// <summary>How old what a tag holds is, by our own clock.</summary>
    /// <param name="tag">The tag, as the plan has it.</param>
    /// <param name="readAt">When it was read, by the clock of its source.</param>
    /// <returns>Null when it was never read.</returns>
    public TimeSpan? AgeOf(PlanTag tag, DateTimeOffset readAt)
    {
        if (readAt.Ticks == 0)
            return null;
        var age = _clock.GetUtcNow() - readAt - (tag.Tag is { } its ? Links.ClockOffsetOf(its) : TimeSpan.Zero);
        return age > TimeSpan.Zero ? age : TimeSpan.Zero;
    }

    /// <summary>Begins to run.</summary>
    public void Start()
    {
        Begin();
        // The collector does its large work beside the plant, also when that costs memory.
        GCSettings.LatencyMode = GCLatencyMode.SustainedLowLatency;
        _thread = new Thread(Run) { IsBackground = true, Name = "engine" };
        _thread.Start();
    }

    /// <summary>Stops the engine, then the links; what happened until then is kept.</summary>
    public async Task StopAsync()
    {
        if (_released is null || _stopping.IsCancellationRequested)
            return;
        await _stopping.CancelAsync();
        if (_thread is null)
            _ended.TrySetResult();
        await _ended.Task.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        IsRunning = false;
        await Links.StopAsync();
        _ = Keep(_released);
        _formulas.Finish(_released.Engine);
        await _stopLog.CancelAsync();
        await _logging;
    }

    public async ValueTask DisposeAsync()
    {
        await StopAsync();
        _stopping.Dispose();
        _stopLog.Dispose();
    }

    /// <summary>Compiles the model as it is and takes up what an earlier run has left; the ticks come after it.</summary>
    internal void Begin()
    {
        var state = _workspace.State;
        var (plan, findings) = Planner.Compile(state.Released);
        var engine = new PlantEngine(plan) { Records = Records };
        _released = new(engine, state.Released, findings, EngineSnapshot.Empty);
        _recent = [.. _store.AlarmEvents(KeptEvents)];
        foreach (var entered in _store.Entered())
            _entered[(entered.EquipmentId, entered.PropertyId)] = entered;
        // Alarms first: what is entered and worked out again finds them as they were, and raises none anew.
        engine.Restore(_store.LoadAlarms(), _clock.Moment());
        EnterAgain(engine);
        engine.RestoreFormulas(_formulas.Load(), _clock.Moment());
        EndOpenCommands();
        _logging = Task.Run(() => _log.RunAsync(_stopLog.Token), CancellationToken.None);
        _ = Keep(_released);
        FollowTags(state);
        Publish(_released);
        _begun = _lastPublish = _measuredSince = _clock.GetTimestamp();
        IsRunning = true;
    }

    /// <summary>One turn: what the links have read, what time has brought, what people have done.</summary>
    internal void Tick()
    {
        var released = _released!;
        var begin = _clock.GetTimestamp();
        var isSwapped = FollowModels(released);
        var left = Take(released);
        Simulate(released);
        if (_working is { } beside)
            Simulate(beside);
        CarryOut(released);
        released.Engine.Advance(_clock.Moment(), left);
        _working?.Engine.Advance(_clock.Moment(), left);
        _formulas.Look(released.Engine);
        _ = Keep(released);
        if (!isSwapped && (_lastPublish == 0 || _clock.GetElapsedTime(_lastPublish) >= PublishEvery))
        {
            _lastPublish = _clock.GetTimestamp();
            Publish(released);
            Links.Measure(released.Engine.ChangesOf);
        }
        Measure(begin);
    }

    private void Run()
    {
        try
        {
            while (true)
            {
                var begin = _clock.GetTimestamp();
                Tick();
                var left = TickEvery - _clock.GetElapsedTime(begin);
                if (_stopping.Token.WaitHandle.WaitOne(left > TimeSpan.Zero ? left : TimeSpan.Zero))
                    break;
            }
            _ended.TrySetResult();
        }
        catch (Exception e)
        {
            _logger.LogCritical(e, "The engine has failed");
            IsRunning = false;
            _ended.TrySetException(e);
        }
    }

    private void Measure(long begin)
    {
        var took = _clock.GetElapsedTime(begin);
        var gap = _lastTick == 0 ? TimeSpan.Zero : _clock.GetElapsedTime(_lastTick, begin);
        _lastTick = begin;
        lock (_paceLock)
            _pace = _pace with
            {
                LongestGap = gap > _pace.LongestGap ? gap : _pace.LongestGap,
                LongestTick = took > _pace.LongestTick ? took : _pace.LongestTick,
                Busy = _pace.Busy + took,
            };
    }

    /// <summary>Takes what the links have read.</summary>
    /// <returns>When the oldest of what had to be left arrived; null when nothing was.</returns>
    private long? Take(EngineRun released)
    {
        _taken.Clear();
        var left = Links.Take(_taken);
        foreach (var batch in _taken)
        {
            if (batch.IsHistorical)
                _past.Add(batch);
            else
            {
                released.Engine.Step(batch.Samples, batch.Arrived);
                _working?.Engine.Step(_followed.OfWorking(batch.Samples), batch.Arrived);
            }
        }
        return left;
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

    /// <summary>Whoever orders something sees the result in the next page, so a snapshot goes out before the answer does.</summary>
    private void CarryOut(EngineRun released)
    {
        var answers = new List<Action>();
        while (_orders.TryDequeue(out var order))
        {
            var done = order.Act(released.Engine, _clock.Moment());
            answers.Add(() => order.Done.TrySetResult(done));
        }
        if (answers.Count == 0)
            return;
        var kept = Keep(released);
        Publish(released);
        // What has been acknowledged is kept before that is said; when the disk does not answer, the pages say so, and the engine waits for
        // neither.
        _ = Task.WhenAny(kept, Task.Delay(LongestWait, _clock)).ContinueWith(_ => answers.ForEach(a => a()), TaskScheduler.Default);
    }

    /// <summary>Puts the released model in when it is another and its plan is ready; and lets the working model run beside it for as
    /// long as it differs.</summary>
    /// <returns>True when a plan has been put in.</returns>
    private bool FollowModels(EngineRun released)
    {
        var state = _workspace.State;
        var working = _working;
        var known =
            working is not null && ReferenceEquals(working.Model, state.Released)
                ? (working.Engine.Plan, working.Findings)
                : null as (Plan, FindingList)?;
        if (_releasedPlans.Look(state.Released, released.Model, released.Engine.Plan, known) is { } made)
        {
            var begin = _clock.GetTimestamp();
            TakeRecords(released.Engine);
            released.Swap(made, _clock.Moment());
            EnterAgain(released.Engine);
            // What a large plan holds is shown with the next tick: one thing at a time.
            _lastPublish = 0;
            // A plan may be of a model before the newest. Links follow no tags that the engine does not have yet: what is told of them but
            // once, as what memory holds, would be lost.
            if (ReferenceEquals(made.Model, state.Released))
                FollowTags(state);
            else if (!state.IsUnreleased)
                FollowTags(made.Model);
            Swapped?.Invoke(made.Model, _clock.GetElapsedTime(begin));
            return true;
        }
        if (!state.IsUnreleased)
        {
            // What is released now goes on beside until it has been put in: its plan is there already.
            if (working is not null && ReferenceEquals(released.Model, state.Released))
            {
                _working = null;
                FollowTags(state);
            }
            return false;
        }
        if (working is null && !ReferenceEquals(released.Model, state.Released))
            return false;
        if (_workingPlans.Look(state.Model, working?.Model, (working ?? released).Engine.Plan) is not { } beside)
            return false;
        if (ReferenceEquals(beside.Model, state.Model))
            FollowTags(state);
        if (working is not null)
            working.Swap(beside, _clock.Moment());
        else
            _working = new(released.Engine.Beside(beside.Map, _clock.Moment()), beside.Model, beside.Findings, released.Snapshot);
        EnterAgain(_working!.Engine);
        _working.Engine.Output.Events.Clear();
        _lastPublish = 0;
        return true;
    }

    /// <summary>Lets the links follow the tags of both models.</summary>
    private void FollowTags(WorkspaceState state)
    {
        if (ReferenceEquals(_followedFor, state))
            return;
        _followedFor = state;
        _followed = FollowedTags.Of(state.Released, state.Changes);
        Links.Follow(_followed.Model);
    }

    /// <summary>Lets the links follow the tags of the only model there is, until a newer one has been put in.</summary>
    private void FollowTags(PlantModel released)
    {
        (_followedFor, _followed) = (null, FollowedTags.Of(released, NetChanges.None));
        Links.Follow(_followed.Model);
    }

    /// <summary>Says what stands in for the tags that are being simulated.</summary>
    private void Simulate(EngineRun run)
    {
        if (
            run.Model.Index.Simulations is not { Count: > 0 } simulations
            || (run.SimulatedAt != 0 && _clock.GetElapsedTime(run.SimulatedAt) < SimulateEvery)
        )
            return;
        run.SimulatedAt = _clock.GetTimestamp();
        var (elapsed, now) = (_clock.GetElapsedTime(_begun), _clock.Moment());
        run.Engine.Step(
            [
                .. simulations
                    .Select(b => b.Simulation!)
                    .Select(s =>
                        s.Shape == SimulationShape.Held
                            ? new Sample(s.TagId, s.Low, StatusCode.GoodLocalOverride, now.UtcTicks, "held by hand in place of its tag")
                            : new Sample(
                                s.TagId,
                                s.At(elapsed),
                                StatusCode.UncertainSimulatedValue,
                                now.UtcTicks,
                                "simulated in place of its tag"
                            )
                    ),
            ],
            now
        );
    }

    /// <summary>Hands on what happened: to the pages, to the sinks, and to the log.</summary>
    /// <returns>Ends when it is kept.</returns>
    private Task Keep(EngineRun released)
    {
        var engine = released.Engine;
        KeepBeside();
        if (engine.Output.Events.Count == 0)
            return Task.CompletedTask;
        // An alarm that was dropped at a restart no longer knows its path; the event before does.
        var events = engine.Output.Events.ConvertAll(e =>
            e.Path.Length > 0 || _recent.Find(r => r.Key == e.Key && r.Path.Length > 0) is not { } before
                ? e
                : e with
                {
                    Path = before.Path,
                    Priority = before.Priority,
                }
        );
        var recent = _recent.InsertRange(0, events.TakeLast(KeptEvents).Reverse());
        Volatile.Write(ref _recent, recent.Count > KeptEvents ? recent.RemoveRange(KeptEvents, recent.Count - KeptEvents) : recent);
        engine.Output.Events.Clear();
        _happened.AddRange(events);
        released.MoveAlarms();
        return _log.Take(events, engine.AlarmOf);
    }

    /// <summary>What would have happened if the working model ran is told of and goes nowhere.</summary>
    private void KeepBeside()
    {
        if (_working is not { Engine.Output.Events: { Count: > 0 } events } beside)
            return;
        _wouldHappen.AddRange(events);
        events.Clear();
        beside.MoveAlarms();
    }

    /// <summary>Takes what is to be recorded, with the plan it is of.</summary>
    private void TakeRecords(PlantEngine engine)
    {
        if (engine.Output.Records.Count == 0)
            return;
        _records.Add(new(engine.Plan, engine.Output.Records));
        engine.Output.Records = [];
    }

    /// <summary>Makes the newest snapshots and gives them to the sinks.</summary>
    private void Publish(EngineRun released)
    {
        released.Publish();
        var working = _working;
        working?.Publish();
        TakeRecords(released.Engine);
        var output = new RuntimeOutput(released.Snapshot, [.. _happened], _past.DrainToImmutable())
        {
            Records = _records.DrainToImmutable(),
            At = _clock.GetUtcNow(),
            Working = working?.Snapshot,
            WouldHappen = [.. _wouldHappen],
        };
        _wouldHappen.Clear();
        _happened.Clear();
        foreach (var sink in _sinks)
        {
            try
            {
                sink.Take(output);
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                // The plant runs on, and the other sinks have what they are to have.
                _logger.LogError(e, "{Sink} failed to take what was put out", sink.GetType().Name);
            }
        }
    }
}
