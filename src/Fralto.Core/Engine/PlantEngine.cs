using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Quality;
using Fralto.Core.Templates;

namespace Fralto.Core.Engine;

/// <summary>Runs a plan: samples in, values and alarm events out. Single-threaded and deterministic; time enters with the samples.</summary>
public sealed class PlantEngine
{
    /// <summary>Samples looked ahead: enough to keep the memory busy, few enough that what is fetched is still there when it is used.</summary>
    private const int Ahead = 64;

    private const int Conditions = 4;

    /// <summary>Between two calls of <see cref="Advance"/>; a longer time was not this engine's.</summary>
    private const long LongestAbsence = TimeSpan.TicksPerSecond;

    /// <summary>In place of the one point a tag feeds: it feeds none, or several, which the plan knows.</summary>
    private const int FeedsNone = -1, FeedsMany = -2;

    private const string WaitingReason = "waiting for the first reading";
    private const string NotANumberReason = "the device sent not-a-number or infinity";

    private readonly Dictionary<AlarmKey, Alarm> _alarms = [];
    private readonly Dictionary<long, DelayQueue> _queues = [];
    private long _nextDue = long.MaxValue;
    private long _touched;
    private long _advanced;
    private long _heardFrom;
    private HotPoint[] _points = [];
    private HotTag[] _tags = [];
    private string?[] _texts = [];
    private int[] _onlyPoint = [];

    // The queues of limits' delays, on-delays first, for each set of limits that has any; a point names its set by number, 0 for none.
    private List<DelayQueue?[]> _delays = [];

    // When each limit of each point is due, four to a point; 0 for one that does not wait. Empty where no limit has a delay.
    private long[] _dueAt = [];

    public PlantEngine(Plan plan) => Swap(plan, DateTimeOffset.MinValue, []);

    /// <summary>The plan that runs.</summary>
    public Plan Plan { get; private set; } = Plan.Empty;

    /// <summary>Goes up with everything that may have changed a value, a reading or an alarm.</summary>
    public long Version { get; private set; }

    /// <summary>Alarms that are not normal.</summary>
    public IReadOnlyCollection<Alarm> Alarms => _alarms.Values;

    /// <summary>
    /// Puts a new plan in place of the running one. Values, readings and alarms are carried over by what they belong to: an alarm
    /// stays as it is while its limit stays; where the limit is gone the alarm is no longer watched and the event says so.
    /// </summary>
    public void Swap(Plan plan, DateTimeOffset now, List<AlarmEvent> events)
    {
        Version++;
        var (oldPlan, oldPoints, oldTags, oldTexts, waiting) = (Plan, _points, _tags, _texts, Waiting());
        _tags = new HotTag[plan.Tags.Length];
        _texts = new string?[plan.Tags.Length];
        _onlyPoint = new int[plan.Tags.Length];
        var known = new int[plan.Tags.Length];
        for (var i = 0; i < _tags.Length; i++)
        {
            var first = oldPlan.TagIndexOf(plan.Tags[i].TagId);
            var old = first < 0 ? -1 : first + plan.Tags[i].Element;
            // What was read in another place or another way says nothing of what is read now.
            known[i] = old >= 0 && old < oldTags.Length && oldPlan.Tags[old].IsReadAs(plan.Tags[i]) ? old : -1;
            _tags[i] = known[i] >= 0 ? oldTags[old] : HotTag.Waiting;
            _texts[i] = known[i] >= 0 ? oldTexts[old] : null;
            var feeds = plan.PointsOfTag(i);
            _onlyPoint[i] = feeds.Length == 1 ? feeds[0] : feeds.Length == 0 ? FeedsNone : FeedsMany;
        }
        _points = new HotPoint[plan.Points.Length];
        Plan = plan;
        PrepareDelays();
        for (var i = 0; i < _points.Length; i++)
        {
            var point = plan.Points[i];
            var old = oldPlan.PointIndexOf(point.EquipmentId, point.PropertyId);
            var sameTag = old >= 0 && oldPlan.Points[old].Tag == known[point.Tag];
            _points[i] = new HotPoint
            {
                Delays = _points[i].Delays,
                Setup = plan.Setups[i],
                Value = sameTag ? oldPoints[old].Value : double.NaN,
                Exceeded = old >= 0 ? oldPoints[old].Exceeded : (byte)0,
                Crossed = old >= 0 ? oldPoints[old].Crossed : (byte)0,
                Status = StatusCode.BadWaitingForInitialData,
            };
            // A delay that runs goes on while its limit is the same; with another limit it begins anew.
            if (old >= 0 && _points[i].Crossed != _points[i].Exceeded)
            {
                if (!oldPlan.Points[old].Limits.SequenceEqual(point.Limits)) ForgetDelays(i);
                else
                    foreach (var (condition, due) in waiting.GetValueOrDefault(old, [])) Wait(i, condition, due, (_points[i].Crossed & (1 << (int)condition)) != 0);
            }
            Evaluate(i, _tags[point.Tag], events);
        }
        foreach (var alarm in _alarms.Values.Where(a => !HasLimit(a.Key)).ToArray())
        {
            _alarms.Remove(alarm.Key);
            var point = oldPlan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
            events.Add(point >= 0
                ? NoLongerWatched(alarm, now, oldPlan.Points[point].Path, oldPlan.Points[point].LimitOf(alarm.Key.Condition)?.Priority)
                : NoLongerWatched(alarm, now, "", null));
        }
    }

    private static AlarmEvent NoLongerWatched(Alarm alarm, DateTimeOffset now, string path, int? priority) =>
        new(alarm.Key, now, AlarmState.Normal, AlarmCause.NoLongerWatched, alarm.RaisedValue, path, priority ?? Limit.DefaultPriority);

    /// <summary>Takes samples in the order they come and adds what they set off to the events.</summary>
    public void Step(ReadOnlySpan<Sample> samples, List<AlarmEvent> events)
    {
        if (samples.Length > 0) Version++;
        System.Span<int> tags = stackalloc int[Ahead];
        for (var at = 0; at < samples.Length; at += Ahead)
        {
            var block = samples.Slice(at, Math.Min(Ahead, samples.Length - at));
            Fetch(block, tags);
            for (var i = 0; i < block.Length; i++) Take(in block[i], tags[i], events);
        }
    }

    /// <summary>Finds the tags of some samples and touches what they will need, so that the memory answers all of them at once and not one after the other.</summary>
    private void Fetch(ReadOnlySpan<Sample> samples, System.Span<int> tags)
    {
        var plan = Plan;
        for (var i = 0; i < samples.Length; i++)
        {
            var index = plan.TagIndexOf(samples[i].TagId);
            if (index >= 0 && samples[i].Element != 0)
            {
                index += samples[i].Element;
                if (index >= plan.Tags.Length || plan.Tags[index].TagId != samples[i].TagId) index = -1;
            }
            tags[i] = index;
        }
        var (hotTags, hotPoints, only, touched) = (_tags, _points, _onlyPoint, 0L);
        foreach (var tag in tags[..samples.Length])
        {
            if (tag < 0) continue;
            touched += hotTags[tag].TimeTicks;
            var point = only[tag];
            if (point >= 0) touched += Touch(in hotPoints[point]);
        }
        _touched = touched;
    }

    /// <summary>Reads something from each line of memory a point lies in.</summary>
    private static long Touch(in HotPoint point) => point.Crossed + BitConverter.DoubleToInt64Bits(point.Setup.WindowLow) + BitConverter.DoubleToInt64Bits(point.Setup.HighHighClear);

    private void Take(in Sample sample, int index, List<AlarmEvent> events)
    {
        if (sample.TimeTicks >= _nextDue) RunDelays(sample.TimeTicks, events);
        if (index < 0) return;
        ref var tag = ref _tags[index];
        tag.TimeTicks = sample.TimeTicks;
        tag.Status = sample.Status;
        if (!ReferenceEquals(tag.Reason, sample.Reason)) tag.Reason = sample.Reason;
        if (!sample.Status.IsBad)
        {
            tag.ReadTicks = sample.TimeTicks;
            if (double.IsFinite(sample.Raw))
            {
                if (tag.Raw != sample.Raw)
                {
                    (tag.Changes, tag.ChangedTicks) = (tag.Changes + 1, sample.TimeTicks);
                    tag.Magnitudes = tag.Magnitudes.With(sample.Raw);
                }
                tag.Raw = sample.Raw;
            }
            else if (sample.Text is not null)
            {
                if (_texts[index] != sample.Text) (tag.Changes, tag.ChangedTicks) = (tag.Changes + 1, sample.TimeTicks);
                _texts[index] = sample.Text;
            }
            else (tag.Status, tag.Reason) = (StatusCode.BadSensorFailure, NotANumberReason);
        }
        var only = _onlyPoint[index];
        if (only >= 0) Evaluate(only, tag, events);
        else if (only == FeedsMany)
            foreach (var point in Plan.PointsOfTag(index)) Evaluate(point, tag, events);
    }

    /// <summary>Lets time pass: alarms whose delay is over are raised or cleared, and every tag that has had no update for three update intervals becomes Bad.</summary>
    /// <remarks>
    /// Called a few times a second. When it was not, or when the clock was put forward or back, nothing can be said of what the devices did meanwhile:
    /// ages are counted from then on.
    /// </remarks>
    public void Advance(DateTimeOffset now, List<AlarmEvent> events)
    {
        HearFrom(now.UtcTicks);
        if (now.UtcTicks >= _nextDue) RunDelays(now.UtcTicks, events);
        for (var i = 0; i < _tags.Length; i++)
        {
            ref var tag = ref _tags[i];
            if (tag.Status.IsBad || now.UtcTicks - Math.Max(tag.TimeTicks, _heardFrom) <= Plan.Tags[i].StaleAfter.Ticks) continue;
            tag.Reason = $"stale: no update since {new DateTimeOffset(tag.TimeTicks, TimeSpan.Zero):HH:mm:ss} UTC";
            tag.Status = StatusCode.BadNoCommunication;
            Version++;
            tag.TimeTicks = now.UtcTicks;
            foreach (var point in Plan.PointsOfTag(i)) Evaluate(point, tag, events);
        }
    }

    private void HearFrom(long now)
    {
        if (now < _advanced)
        {
            for (var i = 0; i < _tags.Length; i++) (_tags[i].TimeTicks, _tags[i].ReadTicks) = (Math.Min(_tags[i].TimeTicks, now), Math.Min(_tags[i].ReadTicks, now));
            _heardFrom = Math.Min(_heardFrom, now);
        }
        else if (_advanced != 0 && now - _advanced > LongestAbsence)
        {
            _heardFrom = now;
        }
        _advanced = now;
    }

    /// <summary>Acknowledges an alarm.</summary>
    /// <returns>False when there is nothing to acknowledge.</returns>
    public bool Acknowledge(AlarmKey key, string who, DateTimeOffset now, List<AlarmEvent> events)
    {
        if (!_alarms.TryGetValue(key, out var alarm)) return false;
        var next = AlarmTransitions.After(alarm.State, AlarmCause.AcknowledgedByOperator);
        if (next == alarm.State) return false;
        Version++;
        Move(alarm with { State = next, AcknowledgedBy = who }, AlarmCause.AcknowledgedByOperator, now, alarm.RaisedValue, events, who);
        return true;
    }

    /// <summary>Puts back alarms of an earlier run, so that a restart neither forgets nor raises them anew.</summary>
    /// <param name="alarms">The alarms as they were kept.</param>
    /// <param name="now">When.</param>
    /// <param name="events">Where is added which of them are no longer watched: their limits went after they were kept.</param>
    public void Restore(IEnumerable<Alarm> alarms, DateTimeOffset now, List<AlarmEvent> events)
    {
        Version++;
        foreach (var alarm in alarms)
        {
            if (!HasLimit(alarm.Key))
            {
                events.Add(NoLongerWatched(alarm, now, "", null));
                continue;
            }
            _alarms[alarm.Key] = alarm;
            if (!alarm.IsActive) continue;
            ref var point = ref _points[Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)];
            point.Exceeded = point.Crossed |= (byte)(1 << (int)alarm.Key.Condition);
        }
    }

    /// <summary>Where an alarm stands; null when it is normal.</summary>
    public Alarm? AlarmOf(AlarmKey key) => _alarms.GetValueOrDefault(key);

    /// <summary>The newest value of a point.</summary>
    public PointValue ValueOf(int point)
    {
        ref readonly var hot = ref _points[point];
        var tag = Plan.Points[point].Tag;
        var reason = hot.Status == _tags[tag].Status ? _tags[tag].Reason : Plan.Points[point].Chain.Reason(_tags[tag].Raw, hot.Status);
        return new PointValue(hot.Value, hot.Status, TimeOf(_tags[tag].TimeTicks), hot.Exceeded, reason, _texts[tag], TimeOf(_tags[tag].ReadTicks));
    }

    /// <summary>The newest reading of a tag.</summary>
    public TagReading ReadingOf(int tag) => new(_tags[tag].Raw, _tags[tag].Status, TimeOf(_tags[tag].TimeTicks), _tags[tag].Reason, _texts[tag], _tags[tag].Changes, TimeOf(_tags[tag].ChangedTicks), TimeOf(_tags[tag].ReadTicks), _tags[tag].Magnitudes);

    private static DateTimeOffset TimeOf(long ticks) => new(ticks, TimeSpan.Zero);

    /// <summary>What a sample does nearly always; everything else is said elsewhere, so that this stays short enough to be compiled in place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private void Evaluate(int index, in HotTag tag, List<AlarmEvent> events)
    {
        ref var point = ref _points[index];
        if (tag.Status.IsBad || !point.Setup.IsPlain(tag.Raw))
        {
            EvaluateOdd(index, tag, events);
            return;
        }
        var value = point.Setup.ToEngineering(tag.Raw);
        point.Value = value;
        point.Status = tag.Status;
        var crossed = point.Setup.Exceeded(value, point.Crossed);
        if (crossed != point.Crossed) CrossAll(index, crossed, tag.TimeTicks, events);
    }

    private void EvaluateOdd(int index, in HotTag tag, List<AlarmEvent> events)
    {
        ref var point = ref _points[index];
        if (tag.Status.IsBad)
        {
            GoBad(index, tag.Status);
            return;
        }
        if (Plan.Points[index].Type == PropertyType.Text)
        {
            point.Status = tag.Status;
            return;
        }
        var result = Plan.Points[index].Chain.Compute(tag.Raw);
        if (result.Status.IsBad)
        {
            GoBad(index, result.Status);
            return;
        }
        point.Value = result.Value;
        point.Status = tag.Status.IsGood && result.Status != StatusCode.Good ? result.Status : tag.Status;
        var crossed = point.Setup.Exceeded(point.Value, point.Crossed);
        if (crossed != point.Crossed) CrossAll(index, crossed, tag.TimeTicks, events);
    }

    private void CrossAll(int index, byte crossed, long ticks, List<AlarmEvent> events)
    {
        var changed = crossed ^ _points[index].Crossed;
        _points[index].Crossed = crossed;
        for (var condition = LimitCondition.HighHigh; condition <= LimitCondition.LowLow; condition++)
        {
            var bit = 1 << (int)condition;
            if ((changed & bit) != 0) Cross(index, condition, (crossed & bit) != 0, ticks, events);
        }
    }

    /// <summary>A bad value says nothing about the process: the last value and the alarms stay as they are, and a delay begins anew with the next good value.</summary>
    private void GoBad(int index, StatusCode status)
    {
        ref var point = ref _points[index];
        point.Status = status;
        if (point.Crossed != point.Exceeded) ForgetDelays(index);
    }

    private void ForgetDelays(int index)
    {
        _points[index].Crossed = _points[index].Exceeded;
        if (_dueAt.Length > 0) _dueAt.AsSpan(index * Conditions, Conditions).Clear();
    }

    /// <summary>A value has crossed a limit, or come back: at once, or after the limit's delay.</summary>
    private void Cross(int index, LimitCondition condition, bool raised, long ticks, List<AlarmEvent> events)
    {
        if (raised == ((_points[index].Exceeded & (1 << (int)condition)) != 0)) _dueAt[index * Conditions + (int)condition] = 0;
        else if (QueueOf(index, condition, raised) is { } queue) Wait(index, condition, ticks + queue.Delay, raised);
        else Announce(index, condition, raised, ticks, events);
    }

    private void Wait(int index, LimitCondition condition, long due, bool raised)
    {
        if (QueueOf(index, condition, raised) is not { } queue) return;
        var slot = index * Conditions + (int)condition;
        _dueAt[slot] = due;
        queue.Waiting.Enqueue((slot, due));
        _nextDue = Math.Min(_nextDue, due);
    }

    private void RunDelays(long now, List<AlarmEvent> events)
    {
        _nextDue = long.MaxValue;
        foreach (var queue in _queues.Values)
        {
            while (queue.Waiting.TryPeek(out var first) && (first.Due <= now || _dueAt[first.Slot] != first.Due))
            {
                queue.Waiting.Dequeue();
                if (_dueAt[first.Slot] != first.Due) continue;
                _dueAt[first.Slot] = 0;
                var (index, condition) = (first.Slot / Conditions, (LimitCondition)(first.Slot % Conditions));
                Announce(index, condition, (_points[index].Crossed & (1 << (int)condition)) != 0, first.Due, events);
                Version++;
            }
            if (queue.Waiting.TryPeek(out var next)) _nextDue = Math.Min(_nextDue, next.Due);
        }
    }

    /// <summary>What waits now, by point.</summary>
    private Dictionary<int, List<(LimitCondition Condition, long Due)>> Waiting()
    {
        var waiting = new Dictionary<int, List<(LimitCondition, long)>>();
        for (var slot = 0; slot < _dueAt.Length; slot++)
        {
            if (_dueAt[slot] == 0) continue;
            if (!waiting.TryGetValue(slot / Conditions, out var limits)) waiting[slot / Conditions] = limits = [];
            limits.Add(((LimitCondition)(slot % Conditions), _dueAt[slot]));
        }
        return waiting;
    }

    private void PrepareDelays()
    {
        _queues.Clear();
        _nextDue = long.MaxValue;
        var shared = new Dictionary<ImmutableArray<Limit>, ushort>();
        _delays = [[]];
        for (var i = 0; i < _points.Length; i++)
        {
            var limits = Plan.Points[i].Limits;
            if (limits.All(l => l is { OnDelay: 0, OffDelay: 0 })) continue;
            if (!shared.TryGetValue(limits, out var set)) shared[limits] = set = SetOf(limits);
            _points[i].Delays = set;
        }
        _dueAt = Plan.Points.Any(p => !p.Limits.IsEmpty) ? new long[_points.Length * Conditions] : [];
    }

    /// <summary>The number of a set of delays; sets that say the same share it, so that there are never more than numbers.</summary>
    private ushort SetOf(ImmutableArray<Limit> limits)
    {
        var queues = new DelayQueue?[2 * Conditions];
        foreach (var limit in limits)
        {
            queues[(int)limit.Condition] = QueueOf(limit.OnDelay);
            queues[Conditions + (int)limit.Condition] = QueueOf(limit.OffDelay);
        }
        var known = _delays.FindIndex(1, d => d.AsSpan().SequenceEqual(queues));
        if (known > 0) return (ushort)known;
        _delays.Add(queues);
        return checked((ushort)(_delays.Count - 1));
    }

    private DelayQueue? QueueOf(int index, LimitCondition condition, bool raised) =>
        _points[index].Delays is > 0 and var set ? _delays[set][(raised ? 0 : Conditions) + (int)condition] : null;

    private DelayQueue? QueueOf(double seconds)
    {
        var ticks = (long)(seconds * TimeSpan.TicksPerSecond);
        if (ticks == 0) return null;
        if (!_queues.TryGetValue(ticks, out var queue)) _queues[ticks] = queue = new(ticks);
        return queue;
    }

    private AlarmKey KeyOf(int index, LimitCondition condition) => new(Plan.Points[index].EquipmentId, Plan.Points[index].PropertyId, condition);

    private void Announce(int index, LimitCondition condition, bool raised, long ticks, List<AlarmEvent> events)
    {
        ref var point = ref _points[index];
        var bit = (byte)(1 << (int)condition);
        point.Exceeded = (byte)(raised ? point.Exceeded | bit : point.Exceeded & ~bit);
        var (key, now) = (KeyOf(index, condition), TimeOf(ticks));
        var cause = raised ? AlarmCause.ConditionRaised : AlarmCause.ConditionCleared;
        var before = _alarms.GetValueOrDefault(key);
        if (before is null && !raised) return;
        var next = AlarmTransitions.After(before?.State ?? AlarmState.Normal, cause);
        if (next == before?.State) return;
        Move(raised ? new Alarm(key, next, now, point.Value) : before! with { State = next, ClearedAt = now }, cause, now, point.Value, events);
    }

    private void Move(Alarm alarm, AlarmCause cause, DateTimeOffset now, double value, List<AlarmEvent> events, string? who = null)
    {
        if (alarm.State == AlarmState.Normal) _alarms.Remove(alarm.Key);
        else _alarms[alarm.Key] = alarm;
        var point = Plan.Points[Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)];
        events.Add(new AlarmEvent(alarm.Key, now, alarm.State, cause, value, point.Path, point.LimitOf(alarm.Key.Condition)?.Priority ?? Limit.DefaultPriority, who));
    }

    private bool HasLimit(AlarmKey key)
    {
        var point = Plan.PointIndexOf(key.EquipmentId, key.PropertyId);
        return point >= 0 && Plan.Points[point].LimitOf(key.Condition) is not null;
    }

    private struct HotPoint
    {
        public PointSetup Setup;
        public double Value;
        public StatusCode Status;

        /// <summary>Limits that are an alarm.</summary>
        public byte Exceeded;

        /// <summary>Limits the value is beyond, whether or not their delay has passed.</summary>
        public byte Crossed;

        /// <summary>Which set of delays its limits have; 0 for none.</summary>
        public ushort Delays;
    }

    private struct HotTag
    {
        public static readonly HotTag Waiting = new() { Raw = double.NaN, Status = StatusCode.BadWaitingForInitialData, Reason = WaitingReason, Magnitudes = Magnitudes.None };

        public double Raw;
        public long TimeTicks;
        public string? Reason;
        public StatusCode Status;
        public int Changes;
        public long ChangedTicks;
        public long ReadTicks;
        public Magnitudes Magnitudes;
    }
}
