using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fralto.Core.Alarms;
using Fralto.Core.Controllers;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Rules;

namespace Fralto.Core.Engine;

/// <summary>Runs a plan: samples in, values and alarm events out. Single-threaded and deterministic; time enters with the
/// samples.</summary>
/// <remarks>
/// Two times: the time a source gives a sample is shown and kept; delays, staleness and order run on engine time, the time of arrival
/// (<see cref="Moment"/>).
/// A clock that is wrong, theirs or ours, moves no alarm.
/// </remarks>
public sealed class PlantEngine
{
    /// <summary>Samples looked ahead: enough to keep the memory busy, few enough that what is fetched is still there when it is
    /// used.</summary>
    private const int Ahead = 64;

    private const int Conditions = 4;

    /// <summary>Between two calls of <see cref="Advance"/>; a longer time was not this engine's.</summary>
    private const long LongestAbsence = TimeSpan.TicksPerSecond;

    /// <summary>Tags that are looked at in one call of <see cref="Advance"/> because they may be silent; more have their turn in the
    /// next.</summary>
    private const int MostSilent = 20_000;

    private const string NotANumberReason = "the device sent not-a-number or infinity";

    private const string EnteredLongAgo = "entered longer ago than it holds";

    private readonly AlarmBook _book;
    private readonly Dictionary<AlarmKey, int> _gates = [];
    private readonly List<int> _silent = [];
    private FormulaRunner _formulas = null!;
    private DelayTimers _timers = new(0);
    private DueWheel _wheel = new(0);
    private Moment _moment;
    private long _touched;
    private long _advanced;
    private long _heardFrom;
    private HotPoint[] _points = [];
    private HotTag[] _tags = [];
    private string?[] _texts = [];
    private long[] _changes = [];

    /// <summary>An engine that runs a plan; no tag has a value yet.</summary>
    public PlantEngine(Plan plan)
    {
        _book = new() { Moved = Tell, BehaviourOf = key => AlarmBehaviour.Of(LimitOf(key)) };
        Swap(plan, default);
    }

    /// <summary>An engine that stands as another does, to go on by itself.</summary>
    private PlantEngine(PlantEngine other, Moment now)
    {
        _book = new() { Moved = Tell, BehaviourOf = key => AlarmBehaviour.Of(LimitOf(key)) };
        (Plan, _formulas, _moment, _advanced, _heardFrom) = (other.Plan, other._formulas, now, other._advanced, other._heardFrom);
        _points = [.. other._points];
        _tags = [.. other._tags];
        _texts = [.. other._texts];
        _changes = [.. other._changes];
        _timers = new(other.Plan.Delays.Any ? _points.Length * Conditions : 0);
        foreach (var (slot, due) in other._timers.All())
            _timers.Start(slot, due);
        foreach (var alarm in other._book.Alarms)
            _book.Restore(alarm, now.Utc, now.Ticks);
    }

    /// <summary>Makes an engine that runs another plan on the same samples from now on. It begins as this one would after
    /// <see cref="Swap(PlanMap, Moment)"/>, and this one goes on as it is.</summary>
    /// <param name="map">From the running plan to the other one.</param>
    /// <param name="now">When.</param>
    /// <exception cref="ArgumentException">The map is not one from the running plan.</exception>
    public PlantEngine Beside(PlanMap map, Moment now)
    {
        var beside = new PlantEngine(this, now);
        beside.Swap(map, now, isBeside: true);
        return beside;
    }

    /// <summary>The plan that runs.</summary>
    public Plan Plan { get; private set; } = Plan.Empty;

    /// <summary>What has come out of it and has not been taken yet.</summary>
    public EngineOutput Output { get; } = new();

    /// <summary>Alarms that are not normal.</summary>
    public IReadOnlyCollection<Alarm> Alarms => _book.Alarms;

    /// <summary>Points whose value is Good.</summary>
    public int GoodPoints { get; private set; }

    /// <summary>Puts a new plan in place of the running one (<see cref="Swap(PlanMap, Moment)"/>).</summary>
    public void Swap(Plan plan, Moment now) => Swap(PlanMap.Between(Plan, plan), now);

    /// <summary>
    /// Puts a new plan in place of the running one. Values, readings and alarms are carried over by what they belong to: an alarm
    /// stays as it is while its limit stays; where the limit is gone the alarm is no longer watched and the event says so.
    /// </summary>
    /// <param name="map">From the running plan to the new one.</param>
    /// <param name="now">When.</param>
    /// <exception cref="ArgumentException">The map is not one from the running plan.</exception>
    public void Swap(PlanMap map, Moment now) => Swap(map, now, isBeside: false);

    private void Swap(PlanMap map, Moment now, bool isBeside)
    {
        if (!ReferenceEquals(map.From, Plan))
            throw new ArgumentException("The map is not one from the plan that runs.", nameof(map));
        var plan = map.To;
        Output.Fit(plan.Points.Length, plan.Tags.Length);
        var (oldPlan, oldPoints, oldTags, oldTexts, oldChanges, waiting) = (Plan, _points, _tags, _texts, _changes, Waiting());
        _tags = new HotTag[plan.Tags.Length];
        _texts = new string?[plan.Tags.Length];
        _wheel = new(plan.Tags.Length);
        _changes = [.. plan.Controllers.Select(id => oldPlan.Controllers.IndexOf(id) is >= 0 and var before ? oldChanges[before] : 0)];
        Plan = plan;
        _moment = now;
        _gates.Clear();
        for (var i = plan.Shown; i < plan.Points.Length; i++)
            if (plan.Points[i].Watch is { Limit.IsGate: true } gate)
                _gates[KeyOfGated(plan.Points[i].EquipmentId, gate)] = i;
        for (var i = 0; i < _tags.Length; i++)
        {
            var old = map.OldTags[i];
            _tags[i] = old >= 0 ? oldTags[old] : HotTag.Waiting;
            _texts[i] = old >= 0 ? oldTexts[old] : null;
            _tags[i].IsTimed = false;
            if (!_tags[i].Status.IsBad)
                Time(i, now.Ticks);
        }
        foreach (var (tag, value) in plan.FixedValues)
            if (_tags[tag].Raw != value || _tags[tag].Status.IsBad)
                _tags[tag] = HotTag.Waiting with
                {
                    Raw = value,
                    Status = StatusCode.Good,
                    Reason = null,
                    SourceTicks = now.UtcTicks,
                    ReadTicks = now.UtcTicks,
                    ArrivedTicks = now.Ticks,
                    ChangedTicks = now.UtcTicks,
                };
        foreach (var point in plan.Entered)
            if (_tags[plan.Points[point].Tag].Status == StatusCode.BadWaitingForInitialData)
                _tags[plan.Points[point].Tag].Reason = "nobody has entered it yet";
        _points = new HotPoint[plan.Points.Length];
        _formulas = new(plan, _points, _tags, _formulas, map, isBeside) { Give = TakeWorkedOut, WhyOf = ReasonOf };
        GoodPoints = 0;
        _timers = new(plan.Delays.Any ? _points.Length * Conditions : 0);
        for (var i = 0; i < _points.Length; i++)
        {
            var (tag, old) = (plan.TagOfPoint[i], map.OldPoints[i]);
            var sameTag = old >= 0 && oldPlan.TagOfPoint[old] == map.OldTags[tag];
            _points[i] = new HotPoint
            {
                Setup = plan.Setups[i],
                Value = sameTag ? oldPoints[old].Value : double.NaN,
                Exceeded = old >= 0 ? oldPoints[old].Exceeded : (byte)0,
                Crossed = old >= 0 ? oldPoints[old].Crossed : (byte)0,
                Status = StatusCode.BadWaitingForInitialData,
            };
            // A delay that runs goes on while its limit is the same; with another limit it begins anew.
            if (old >= 0 && _points[i].Crossed != _points[i].Exceeded)
            {
                if (!oldPlan.Points[old].Limits.SequenceEqual(plan.Points[i].Limits))
                    ForgetDelays(i);
                else
                    foreach (var (condition, due) in waiting.GetValueOrDefault(old, []))
                        _timers.Start(i * Conditions + (int)condition, due);
            }
            _points[i].Feeds = plan.DependentsOf(i).Length > 0;
            _points[i].IsRecorded = plan.IsRecorded[i];
            Evaluate(i, _tags[tag], now);
        }
        _formulas.QueueAll();
        // An engine that is only being made has no time yet: formulas begin with the first there is.
        if (now != default)
            WorkOut(in now, 0);
        foreach (var alarm in _book.Alarms.Where(a => a.IsSuppressed && !_gates.ContainsKey(a.Key) && HasLimit(a.Key)).ToArray())
            _book.Suppress(alarm.Key, false, now.Utc, now.Ticks);
        foreach (var alarm in _book.Alarms.Where(a => !HasLimit(a.Key)).ToArray())
        {
            _book.Forget(alarm.Key);
            var point = oldPlan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
            Output.Events.Add(
                point >= 0
                    ? NoLongerWatched(
                        alarm,
                        now.Utc,
                        oldPlan.Points[point].Path,
                        oldPlan.Points[point].LimitOf(alarm.Key.Condition)?.Priority
                    )
                    : NoLongerWatched(alarm, now.Utc, "", null)
            );
        }
    }

    private static AlarmEvent NoLongerWatched(Alarm alarm, DateTimeOffset now, string path, int? priority) =>
        new(alarm.Key, now, AlarmState.Normal, AlarmCause.NoLongerWatched, alarm.RaisedValue, path, priority ?? Limit.DefaultPriority);

    /// <summary>Takes samples in the order they come.</summary>
    /// <param name="samples">The samples.</param>
    /// <param name="arrived">When they arrived; not before what was taken earlier from the same controller.</param>
    public void Step(ReadOnlySpan<Sample> samples, Moment arrived)
    {
        System.Span<int> tags = stackalloc int[Ahead];
        for (var at = 0; at < samples.Length; at += Ahead)
        {
            var block = samples.Slice(at, Math.Min(Ahead, samples.Length - at));
            Fetch(block, tags);
            for (var i = 0; i < block.Length; i++)
                if (tags[i] >= 0 && !IsSaidAgain(in block[i], ref _tags[tags[i]], arrived.Ticks))
                {
                    Take(in block[i], tags[i], in arrived);
                    if (_formulas.IsUrgent)
                        WorkOut(in arrived, block[i].TimeTicks);
                }
        }
        if (_formulas.HasWork)
            WorkOut(in arrived, 0);
    }

    private void WorkOut(in Moment now, long sourceTicks)
    {
        _moment = now;
        _formulas.Run(in now, sourceTicks);
    }

    /// <summary>Takes what a formula gives as if its place were a tag.</summary>
    private void TakeWorkedOut(int place, double value, StatusCode status, long sourceTicks, string? reason, string? text)
    {
        var sample = new Sample(PlanTag.NoTag, value, status, sourceTicks, reason, Text: text);
        if (!IsSaidAgain(in sample, ref _tags[place], _moment.Ticks))
            Take(in sample, place, in _moment);
    }

    /// <summary>Begins the totals, counts and times of a calculated point anew.</summary>
    /// <returns>False when it has none.</returns>
    public bool Reset(int point, Moment now)
    {
        _moment = now;
        return _formulas.Reset(point, in now);
    }

    /// <summary>Takes a value somebody has entered.</summary>
    /// <param name="point">A point that is entered.</param>
    /// <param name="value">The value in the property's unit; not-a-number for text.</param>
    /// <param name="text">The text; null for numbers.</param>
    /// <param name="at">When it was entered.</param>
    /// <param name="now">Now.</param>
    /// <exception cref="ArgumentException">The point is not one that is entered.</exception>
    public void Enter(int point, double value, string? text, DateTimeOffset at, Moment now)
    {
        var known = Plan.Points[point];
        if (known.Source != PointSource.Entered)
            throw new ArgumentException("The point is not one that is entered.", nameof(point));
        var isOld = known.ValidSeconds is { } seconds && (now.Utc - at).TotalSeconds > seconds;
        var sample = new Sample(
            PlanTag.NoTag,
            value,
            isOld ? StatusCode.UncertainLastUsableValue : StatusCode.Good,
            at.UtcTicks,
            isOld ? EnteredLongAgo : null,
            Text: text
        );
        Take(in sample, known.Tag, in now);
        WorkOut(in now, 0);
    }

    /// <summary>What formulas keep of what has been and has moved since it was asked last.</summary>
    /// <param name="now">Now.</param>
    /// <param name="most">At most so many; the others come the next time.</param>
    public IReadOnlyList<FormulaState> TakeFormulaStates(Moment now, int most) => _formulas.TakeMoved(in now, most);

    /// <summary>Takes up what formulas have kept in an earlier run.</summary>
    public void RestoreFormulas(IEnumerable<FormulaState> kept, Moment now)
    {
        _formulas.Restore(kept, in now);
        _formulas.QueueAll();
        WorkOut(in now, 0);
    }

    /// <summary>What each step of a point's formula gives now; null for a point without.</summary>
    public FormulaReading? StepsOf(int point, Moment now) => _formulas.StepsOf(point, in now);

    private string? ReasonOf(int point) => ValueOf(point).Reason;

    private void AgeEntered(in Moment now)
    {
        foreach (var index in Plan.Entered)
        {
            var point = Plan.Points[index];
            ref var tag = ref _tags[point.Tag];
            if (
                point.ValidSeconds is not { } seconds
                || !tag.Status.IsGood
                || now.UtcTicks - tag.SourceTicks <= seconds * TimeSpan.TicksPerSecond
            )
                continue;
            (tag.Status, tag.Reason) = (StatusCode.UncertainLastUsableValue, EnteredLongAgo);
            Output.AddTag(point.Tag);
            Evaluate(index, tag, in now);
            Record(index, in tag, tag.SourceTicks, _texts[point.Tag]);
        }
    }

    /// <summary>Most samples say again what the one before said: the tag gets younger, and everything else stays as it is, down to the
    /// limits.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static bool IsSaidAgain(in Sample sample, ref HotTag tag, long arrived)
    {
        // A raw number is equal to none while there is none; those of text are never equal, being none.
        if (tag.Raw != sample.Raw || tag.Status != sample.Status || sample.Status.IsBad || !ReferenceEquals(tag.Reason, sample.Reason))
            return false;
        tag.SourceTicks = tag.ReadTicks = sample.TimeTicks;
        tag.ArrivedTicks = arrived;
        return true;
    }

    /// <summary>Finds the tags of some samples and touches what they will need, so that the memory answers all of them at once and not one
    /// after the other.</summary>
    private void Fetch(ReadOnlySpan<Sample> samples, System.Span<int> tags)
    {
        var plan = Plan;
        for (var i = 0; i < samples.Length; i++)
        {
            var index = plan.TagIndexOf(samples[i].TagId);
            if (index >= 0 && samples[i].Element != 0)
            {
                index += samples[i].Element;
                if (index >= plan.Tags.Length || plan.Tags[index].TagId != samples[i].TagId)
                    index = -1;
            }
            tags[i] = index;
        }
        var (hotTags, hotPoints, only, touched) = (_tags, _points, plan.OnlyPoints, 0L);
        foreach (var tag in tags[..samples.Length])
            if (tag >= 0)
                touched += hotTags[tag].SourceTicks;
        for (var i = 0; i < samples.Length; i++)
        {
            // A point is looked at only when its tag says something new.
            var tag = tags[i];
            if (tag < 0 || hotTags[tag].Raw == samples[i].Raw)
                continue;
            var point = only[tag];
            if (point >= 0)
                touched += Touch(in hotPoints[point]);
        }
        _touched = touched;
    }

    /// <summary>Reads something from each line of memory a point lies in.</summary>
    private static long Touch(in HotPoint point) =>
        point.Crossed + BitConverter.DoubleToInt64Bits(point.Setup.WindowLow) + BitConverter.DoubleToInt64Bits(point.Setup.HighHighClear);

    private void Take(in Sample sample, int index, in Moment arrived)
    {
        ref var tag = ref _tags[index];
        var held = tag.SourceTicks;
        tag.SourceTicks = sample.TimeTicks;
        tag.ArrivedTicks = arrived.Ticks;
        var isNews = tag.Status != sample.Status;
        tag.Status = sample.Status;
        if (!ReferenceEquals(tag.Reason, sample.Reason))
        {
            isNews |= tag.Reason != sample.Reason;
            tag.Reason = sample.Reason;
        }
        if (!sample.Status.IsBad)
        {
            if (!tag.IsTimed)
                Time(index, arrived.Ticks);
            if (double.IsFinite(sample.Raw))
            {
                tag.ReadTicks = sample.TimeTicks;
                if (tag.Raw != sample.Raw)
                {
                    Change(index, ref tag, in arrived);
                    tag.Magnitudes = tag.Magnitudes.With(sample.Raw);
                    tag.Raw = sample.Raw;
                    isNews = true;
                }
            }
            else if (sample.Text is not null)
            {
                tag.ReadTicks = sample.TimeTicks;
                if (_texts[index] != sample.Text)
                {
                    Change(index, ref tag, in arrived);
                    _texts[index] = sample.Text;
                    isNews = true;
                }
            }
            else
            {
                (tag.Status, tag.Reason) = (StatusCode.BadSensorFailure, NotANumberReason);
                isNews = true;
            }
        }
        if (!isNews)
            return;
        Output.AddTag(index);
        var only = Plan.OnlyPoints[index];
        if (only >= 0)
        {
            Evaluate(only, tag, in arrived);
            Record(only, in tag, held, _texts[index]);
        }
        else if (only == Plan.FeedsMany)
            foreach (var point in Plan.PointsOfTag(index))
            {
                Evaluate(point, tag, in arrived);
                Record(point, in tag, held, _texts[index]);
            }
    }

    /// <summary>True lets <see cref="EngineOutput.Records"/> have the values of recorded points; somebody has to take them.</summary>
    public bool Records { get; set; }

    private void Record(int index, in HotTag tag, long held, string? text)
    {
        ref readonly var point = ref _points[index];
        if (Records && point.IsRecorded)
            Output.Records.Add(
                new(
                    index,
                    tag.SourceTicks,
                    held,
                    tag.Raw,
                    point.Value,
                    point.Status,
                    point.Status == tag.Status ? tag.Reason : null,
                    tag.Status.IsBad ? null : text
                )
            );
    }

    private void Change(int index, ref HotTag tag, in Moment arrived)
    {
        (tag.Changes, tag.ChangedTicks) = (tag.Changes + 1, arrived.UtcTicks);
        _changes[Plan.ControllerOfTag[index]]++;
    }

    /// <summary>Lets time pass: alarms whose delay is over are raised or cleared, and every tag that has had no update for three update
    /// intervals becomes Bad.</summary>
    /// <param name="now">Now. Called several times a second; after a longer pause nothing can be said of what the devices did meanwhile,
    /// and silence is counted from then on.</param>
    /// <param name="takenUntil">What arrived after this engine time has not been taken yet, so that neither a delay nor a silence can be
    /// said to have lasted longer; null when all has been taken.</param>
    public void Advance(Moment now, long? takenUntil = null)
    {
        if (_advanced != 0 && now.Ticks - _advanced > LongestAbsence)
            _heardFrom = now.Ticks;
        _advanced = now.Ticks;
        var until = Math.Min(now.Ticks, takenUntil ?? long.MaxValue);
        while (_timers.TryTake(until, out var slot, out var due))
            Fall(slot, due, in now);
        _book.Advance(now.Utc, now.Ticks);
        AgeEntered(in now);
        _silent.Clear();
        _wheel.Take(until, MostSilent, _silent);
        foreach (var index in _silent)
        {
            ref var tag = ref _tags[index];
            tag.IsTimed = false;
            if (tag.Status.IsBad)
                continue;
            if (until - Math.Max(tag.ArrivedTicks, _heardFrom) <= Plan.Tags[index].StaleAfter.Ticks)
            {
                Time(index, until);
                continue;
            }
            tag.Reason = $"stale: no update since {now.UtcOf(tag.ArrivedTicks):HH:mm:ss} UTC";
            tag.Status = StatusCode.BadNoCommunication;
            var held = tag.SourceTicks;
            tag.SourceTicks = now.UtcTicks;
            Output.AddTag(index);
            foreach (var point in Plan.PointsOfTag(index))
            {
                Evaluate(point, tag, in now);
                Record(point, in tag, held, null);
            }
        }
        if (_formulas.HasWork)
            WorkOut(in now, 0);
        _moment = now;
        _formulas.Advance(in now);
    }

    /// <summary>Looks at a tag again when it would be stale.</summary>
    private void Time(int index, long now)
    {
        ref var tag = ref _tags[index];
        tag.IsTimed = true;
        // Where nothing says how often updates come, silence says nothing.
        if (Plan.StaleTicks[index] is var after && after < long.MaxValue)
            _wheel.Add(index, Math.Max(tag.ArrivedTicks, _heardFrom) + after, now);
    }

    /// <summary>How many changes have been counted at the tags of a controller, for as long as the engine runs.</summary>
    public long ChangesOf(long controllerId) => Plan.Controllers.IndexOf(controllerId) is >= 0 and var index ? _changes[index] : 0;

    /// <summary>Does to an alarm what a person wants.</summary>
    /// <returns>Why nothing was done; null when it was.</returns>
    public string? Do(AlarmAct act, Moment now)
    {
        if (LimitOf(act.Key) is null)
            return "there is no such limit";
        _moment = now;
        return _book.Do(act, now.Utc, now.Ticks);
    }

    /// <summary>Puts back alarms of an earlier run, so that a restart neither forgets nor raises them anew.</summary>
    /// <param name="alarms">The alarms as they were kept.</param>
    /// <param name="now">When.</param>
    public void Restore(IEnumerable<Alarm> alarms, Moment now)
    {
        foreach (var alarm in alarms)
        {
            if (!HasLimit(alarm.Key))
            {
                Output.Events.Add(NoLongerWatched(alarm, now.Utc, "", null));
                continue;
            }
            _book.Restore(alarm, now.Utc, now.Ticks);
            var isGated = _gates.TryGetValue(alarm.Key, out var gate);
            if (alarm.IsSuppressed && !isGated)
                _book.Suppress(alarm.Key, false, now.Utc, now.Ticks);
            else if (alarm.IsSuppressed)
                // It counts again when its formula says so.
                _points[gate].Exceeded = _points[gate].Crossed |= 1 << (int)LimitCondition.High;
            if (!alarm.IsTrue)
                continue;
            var index = Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
            ref var point = ref _points[index];
            Output.AddPoint(index);
            point.Exceeded = point.Crossed |= (byte)(1 << (int)alarm.Key.Condition);
        }
    }

    /// <summary>Where an alarm stands; null when it is normal.</summary>
    public Alarm? AlarmOf(AlarmKey key) => _book.Of(key);

    /// <summary>The newest value of a point.</summary>
    public PointValue ValueOf(int point)
    {
        ref readonly var hot = ref _points[point];
        var tag = Plan.Points[point].Tag;
        var reason =
            hot.Status == _tags[tag].Status ? _tags[tag].Reason : Plan.Points[point].Reason(_tags[tag].Raw, _texts[tag], hot.Status);
        return new PointValue(
            hot.Value,
            hot.Status,
            TimeOf(_tags[tag].SourceTicks),
            hot.Exceeded,
            reason,
            _texts[tag],
            TimeOf(_tags[tag].ReadTicks)
        );
    }

    /// <summary>The newest reading of a tag.</summary>
    public TagReading ReadingOf(int tag) =>
        new(
            _tags[tag].Raw,
            _tags[tag].Status,
            TimeOf(_tags[tag].SourceTicks),
            _tags[tag].Reason,
            _texts[tag],
            _tags[tag].Changes,
            TimeOf(_tags[tag].ChangedTicks),
            TimeOf(_tags[tag].ReadTicks),
            _tags[tag].Magnitudes
        );

    /// <summary>The times of the tags as they go on, for whoever keeps readings: what is read again and again and stays the same gets
    /// younger without being news.</summary>
    public TagTimes Times => new(_tags);

    private static DateTimeOffset TimeOf(long ticks) => new(ticks, TimeSpan.Zero);

    /// <summary>What a sample does nearly always; everything else is said elsewhere, so that this stays short enough to be compiled in
    /// place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Evaluate(int index, in HotTag tag, in Moment at)
    {
        ref var point = ref _points[index];
        Output.AddPoint(index);
        if (point.Feeds)
            _formulas.Moved(index);
        if (tag.Status.IsBad || !point.Setup.IsPlain(tag.Raw))
        {
            EvaluateOdd(index, tag, in at);
            return;
        }
        var value = point.Setup.ToEngineering(tag.Raw);
        point.Value = value;
        if (point.Status != tag.Status)
            Become(index, ref point, tag.Status);
        var crossed = point.Setup.Exceeded(value, point.Crossed);
        if (crossed != point.Crossed)
            CrossAll(index, crossed, in at);
    }

    private void EvaluateOdd(int index, in HotTag tag, in Moment at)
    {
        ref var point = ref _points[index];
        if (tag.Status.IsBad)
        {
            GoBad(index, tag.Status, in at);
            return;
        }
        if (Plan.Points[index].Type == PropertyType.Text)
        {
            Become(index, ref point, tag.Status);
            return;
        }
        var known = Plan.Points[index];
        var result = _texts[known.Tag] is { } text ? known.OfText(text) : known.Chain.Compute(tag.Raw);
        if (result.Status.IsBad)
        {
            GoBad(index, result.Status, in at);
            return;
        }
        point.Value = result.Value;
        Become(index, ref point, tag.Status.IsGood && result.Status != StatusCode.Good ? result.Status : tag.Status);
        var crossed = point.Setup.Exceeded(point.Value, point.Crossed);
        if (crossed != point.Crossed)
            CrossAll(index, crossed, in at);
    }

    private void Become(int index, ref HotPoint point, StatusCode status)
    {
        if (index < Plan.Shown)
            GoodPoints += (status.IsGood ? 1 : 0) - (point.Status.IsGood ? 1 : 0);
        point.Status = status;
    }

    private void CrossAll(int index, byte crossed, in Moment at)
    {
        var before = _points[index].Crossed;
        for (var condition = LimitCondition.HighHigh; condition <= LimitCondition.LowLow; condition++)
        {
            var bit = 1 << (int)condition;
            if (((crossed ^ before) & bit) != 0)
                Cross(index, condition, (crossed & bit) != 0, in at);
        }
        _points[index].Crossed = crossed;
    }

    /// <summary>A bad value says nothing about the process: the last value and the alarms stay as they are, and a delay begins anew with
    /// the next good value.</summary>
    private void GoBad(int index, StatusCode status, in Moment at)
    {
        ref var point = ref _points[index];
        Become(index, ref point, status);
        if (point.Crossed == point.Exceeded)
            return;
        for (var slot = index * Conditions; slot < (index + 1) * Conditions; slot++)
            FallIfDue(slot, in at);
        ForgetDelays(index);
    }

    private void ForgetDelays(int index)
    {
        _points[index].Crossed = _points[index].Exceeded;
        for (var slot = index * Conditions; slot < (index + 1) * Conditions; slot++)
            _timers.Cancel(slot);
    }

    /// <summary>A value has crossed a limit, or come back: at once, or after the limit's delay.</summary>
    private void Cross(int index, LimitCondition condition, bool raised, in Moment at)
    {
        var slot = index * Conditions + (int)condition;
        FallIfDue(slot, in at);
        if (raised == ((_points[index].Exceeded & (1 << (int)condition)) != 0))
            _timers.Cancel(slot);
        else if (Plan.Delays.Of(index, condition, raised) is > 0 and var delay)
            _timers.Start(slot, at.Ticks + delay);
        else
            Announce(index, condition, raised, at.Utc);
    }

    /// <summary>What was beyond its limit until now, and for long enough, has been an alarm since its delay was over.</summary>
    private void FallIfDue(int slot, in Moment at)
    {
        if (_timers.DueOf(slot) is not (> 0 and var due) || due > at.Ticks)
            return;
        _timers.Cancel(slot);
        Fall(slot, due, in at);
    }

    private void Fall(int slot, long due, in Moment now)
    {
        var (index, condition) = (slot / Conditions, (LimitCondition)(slot % Conditions));
        Output.AddPoint(index);
        Announce(index, condition, (_points[index].Crossed & (1 << (int)condition)) != 0, now.UtcOf(due));
    }

    /// <summary>What waits now, by point.</summary>
    private Dictionary<int, List<(LimitCondition Condition, long Due)>> Waiting()
    {
        var waiting = new Dictionary<int, List<(LimitCondition, long)>>();
        foreach (var (slot, due) in _timers.All())
        {
            if (!waiting.TryGetValue(slot / Conditions, out var limits))
                waiting[slot / Conditions] = limits = [];
            limits.Add(((LimitCondition)(slot % Conditions), due));
        }
        return waiting;
    }

    private AlarmKey KeyOf(int index, LimitCondition condition) =>
        new(Plan.Points[index].EquipmentId, Plan.Points[index].PropertyId, condition);

    /// <summary>The alarm that a gate tells of whether its limit counts.</summary>
    private static AlarmKey KeyOfGated(long equipmentId, PlanWatch gate) =>
        gate.Limit.Level is { } level && gate.Limit.Says.From is null ? new(equipmentId, gate.PropertyId, level)
        : (gate.Limit with { IsGate = false }) is var limit
            ? new(
                equipmentId,
                limit.Id,
                limit.Level ?? (limit.Says is { Kind: LimitKind.Rate, Setpoint: < 0 } ? LimitCondition.Low : LimitCondition.High)
            )
        : default;

    private void Announce(int index, LimitCondition condition, bool raised, DateTimeOffset at)
    {
        ref var point = ref _points[index];
        var bit = (byte)(1 << (int)condition);
        point.Exceeded = (byte)(raised ? point.Exceeded | bit : point.Exceeded & ~bit);
        var known = Plan.Points[index];
        if (known.Watch is { Limit.IsGate: true } gate)
            _book.Suppress(KeyOfGated(known.EquipmentId, gate), raised, at, _moment.Ticks);
        else if (raised)
            _book.Raise(
                KeyOf(index, condition),
                at,
                ShownOf(index),
                _moment.Ticks,
                known.LimitOf(condition)?.Says is { } says && (says.Message ?? says.Capture) is not null
                    ? alarm => Filled(alarm, index, says)
                    : null,
                IsNews(index, condition)
            );
        else
            _book.Clear(KeyOf(index, condition), at, _moment.Ticks);
    }

    /// <summary>False for a limit beyond which a more urgent one stands already, unless it is always news.</summary>
    private bool IsNews(int index, LimitCondition condition)
    {
        var beyond = condition switch
        {
            LimitCondition.High => LimitCondition.HighHigh,
            LimitCondition.Low => LimitCondition.LowLow,
            _ => condition,
        };
        return beyond == condition
            || _book.Of(KeyOf(index, beyond)) is not { IsActive: true }
            || Plan.Points[index].LimitOf(condition)?.Says?.AlwaysNews == true;
    }

    /// <summary>The value people are shown: of what watches for a limit, that of the property it belongs to.</summary>
    private double ShownOf(int index) => _points[SubjectOf(index)].Value;

    private int SubjectOf(int index) => Plan.Points[index].Watch is { Subject: >= 0 and var subject } ? subject : index;

    private Alarm Filled(Alarm alarm, int index, LimitPatch says)
    {
        var (known, subject) = (Plan.Points[index], Plan.Points[SubjectOf(index)]);
        string? ValueOf(string name) =>
            name switch
            {
                "path" => known.Path,
                "place" => known.Path[..Math.Max(0, known.Path.LastIndexOf('/'))],
                "property" => known.Path[(known.Path.LastIndexOf('/') + 1)..],
                "value" => subject.Text(_points[SubjectOf(index)].Value, _texts[subject.Tag]),
                "unit" => subject.Unit?.Symbol ?? "",
                "setpoint" => says.Setpoint is { } setpoint ? subject.Text(setpoint, null) : says.From ?? "",
                "limit" => known.Watch?.Limit.Code ?? alarm.Key.Condition.Letters(),
                _ => Plan.PointNamed(known.EquipmentId, name) is >= 0 and var other
                    ? _points[other].Status.IsBad
                        ? $"{Plan.Points[other].Text(_points[other].Value, _texts[Plan.Points[other].Tag])} (Bad)"
                        : Plan.Points[other].WithUnit(_points[other].Value, _texts[Plan.Points[other].Tag])
                    : null,
            };
        return alarm with
        {
            Message = says.Message is { } message ? AlarmText.Fill(message, ValueOf) : "",
            Translations = says.Translations is { } translations ? AlarmText.Fill(translations, ValueOf) : "",
            Captured =
            [
                .. AlarmText
                    .CapturesOf(says.Capture ?? "")
                    .Select(c => KeyValuePair.Create(c.Name, c.Text ?? ValueOf(c.Property!) ?? "no value")),
            ],
        };
    }

    /// <summary>Says what has happened to an alarm.</summary>
    private void Tell(Alarm alarm, AlarmCause cause, DateTimeOffset at, string? who, string comment)
    {
        var index = Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
        var point = Plan.Points[index];
        var isOfValue = cause is AlarmCause.ConditionRaised or AlarmCause.ConditionCleared;
        Output.Events.Add(
            new AlarmEvent(
                alarm.Key,
                at,
                alarm.State,
                cause,
                isOfValue ? ShownOf(index) : alarm.RaisedValue,
                point.Path,
                point.LimitOf(alarm.Key.Condition)?.Priority ?? Limit.DefaultPriority,
                who
            )
            {
                Limit = point.Watch?.Limit.Code ?? alarm.Key.Condition.Letters(),
                Message = alarm.Message,
                Translations = alarm.Translations,
                Comment = comment,
                SourceTime = isOfValue ? TimeOf(_tags[Plan.Points[SubjectOf(index)].Tag].SourceTicks) : null,
            }
        );
    }

    private Limit? LimitOf(AlarmKey key) =>
        Plan.PointIndexOf(key.EquipmentId, key.PropertyId) is >= 0 and var point ? Plan.Points[point].LimitOf(key.Condition) : null;

    private bool HasLimit(AlarmKey key) => LimitOf(key) is not null;
}
