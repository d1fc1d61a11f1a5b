using Fralto.Core.Limits;
using Fralto.Core.Planning;
using Fralto.Core.Quality;

namespace Fralto.Core.Engine;

/// <summary>Runs a plan: samples in, values and alarm events out. Single-threaded and deterministic; time enters with the samples.</summary>
public sealed class PlantEngine
{
    private const string WaitingReason = "waiting for the first reading";
    private const string NotANumberReason = "the device sent not-a-number or infinity";

    private readonly Dictionary<AlarmKey, Alarm> _alarms = [];
    private readonly Dictionary<AlarmKey, long> _pending = [];
    private long _nextDue = long.MaxValue;
    private HotPoint[] _points = [];
    private HotTag[] _tags = [];

    public PlantEngine(Plan plan) => Swap(plan, DateTimeOffset.MinValue, []);

    /// <summary>The plan that runs.</summary>
    public Plan Plan { get; private set; } = Plan.Empty;

    /// <summary>Goes up with everything that may have changed a value, a reading or an alarm.</summary>
    public long Version { get; private set; }

    /// <summary>Alarms that are not normal.</summary>
    public IReadOnlyCollection<Alarm> Alarms => _alarms.Values;

    /// <summary>
    /// Puts a new plan in place of the running one. Values, readings and alarms are carried over by what they belong to: an alarm
    /// stays as it is while its limit stays; where the limit is gone the alarm goes with it and the event says so.
    /// </summary>
    public void Swap(Plan plan, DateTimeOffset now, List<AlarmEvent> events)
    {
        Version++;
        var (oldPlan, oldPoints, oldTags) = (Plan, _points, _tags);
        _tags = new HotTag[plan.Tags.Length];
        for (var i = 0; i < _tags.Length; i++)
        {
            var first = oldPlan.TagIndexOf(plan.Tags[i].TagId);
            var old = first < 0 ? -1 : first + plan.Tags[i].Element;
            _tags[i] = old >= 0 && old < oldTags.Length && oldPlan.Tags[old].TagId == plan.Tags[i].TagId ? oldTags[old] : HotTag.Waiting;
            var feeds = plan.PointsOfTag(i);
            _tags[i].OnlyPoint = feeds.Length == 1 ? feeds[0] : feeds.Length == 0 ? HotTag.FeedsNone : HotTag.FeedsMany;
        }
        _points = new HotPoint[plan.Points.Length];
        Plan = plan;
        for (var i = 0; i < _points.Length; i++)
        {
            var point = plan.Points[i];
            var old = oldPlan.PointIndexOf(point.EquipmentId, point.PropertyId);
            var sameTag = old >= 0 && oldPlan.Tags[oldPlan.Points[old].Tag] is var was && (was.TagId, was.Element) == (plan.Tags[point.Tag].TagId, plan.Tags[point.Tag].Element);
            _points[i] = new HotPoint
            {
                Setup = plan.Setups[i],
                Value = sameTag ? oldPoints[old].Value : double.NaN,
                Exceeded = old >= 0 ? oldPoints[old].Exceeded : (byte)0,
                Crossed = old >= 0 ? oldPoints[old].Crossed : (byte)0,
                Status = StatusCode.BadWaitingForInitialData,
            };
            // A delay that runs goes on while its limit is the same; with another limit it begins anew.
            if (old >= 0 && _points[i].Crossed != _points[i].Exceeded && !oldPlan.Points[old].Limits.SequenceEqual(point.Limits)) ForgetPending(i);
            Evaluate(i, _tags[point.Tag], events);
        }
        foreach (var key in _pending.Keys.Where(k => !HasLimit(k)).ToArray()) _pending.Remove(key);
        foreach (var alarm in _alarms.Values.Where(a => !HasLimit(a.Key)).ToArray())
        {
            _alarms.Remove(alarm.Key);
            var point = oldPlan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId);
            var path = point >= 0 ? oldPlan.Points[point].Path : "";
            var priority = point >= 0 ? oldPlan.Points[point].LimitOf(alarm.Key.Condition)?.Priority ?? Limit.DefaultPriority : Limit.DefaultPriority;
            events.Add(new AlarmEvent(alarm.Key, now, AlarmState.Normal, AlarmCause.ConditionCleared, alarm.RaisedValue, path, priority));
        }
    }

    /// <summary>Takes samples in the order they come and adds what they set off to the events.</summary>
    public void Step(ReadOnlySpan<Sample> samples, List<AlarmEvent> events)
    {
        if (samples.Length > 0) Version++;
        foreach (ref readonly var sample in samples)
        {
            if (sample.TimeTicks >= _nextDue) RunDelays(sample.TimeTicks, events);
            var index = Plan.TagIndexOf(sample.TagId);
            if (index < 0) continue;
            if (sample.Element != 0)
            {
                index += sample.Element;
                if (index >= _tags.Length || Plan.Tags[index].TagId != sample.TagId) continue;
            }
            ref var tag = ref _tags[index];
            tag.TimeTicks = sample.TimeTicks;
            tag.Status = sample.Status;
            if (!ReferenceEquals(tag.Reason, sample.Reason)) tag.Reason = sample.Reason;
            if (!sample.Status.IsBad)
            {
                if (double.IsFinite(sample.Raw)) tag.Raw = sample.Raw;
                else if (sample.Text is not null) tag.Text = sample.Text;
                else (tag.Status, tag.Reason) = (StatusCode.BadSensorFailure, NotANumberReason);
            }
            if (tag.OnlyPoint >= 0) Evaluate(tag.OnlyPoint, tag, events);
            else if (tag.OnlyPoint == HotTag.FeedsMany)
                foreach (var point in Plan.PointsOfTag(index)) Evaluate(point, tag, events);
        }
    }

    /// <summary>Lets time pass: alarms whose delay is over are raised or cleared, and every tag that has had no update for three update intervals becomes Bad.</summary>
    public void Advance(DateTimeOffset now, List<AlarmEvent> events)
    {
        if (now.UtcTicks >= _nextDue) RunDelays(now.UtcTicks, events);
        for (var i = 0; i < _tags.Length; i++)
        {
            ref var tag = ref _tags[i];
            if (tag.Status.IsBad || now.UtcTicks - tag.TimeTicks <= Plan.Tags[i].StaleAfter.Ticks) continue;
            tag.Reason = $"stale: no update since {new DateTimeOffset(tag.TimeTicks, TimeSpan.Zero):HH:mm:ss} UTC";
            tag.Status = StatusCode.BadNoCommunication;
            Version++;
            tag.TimeTicks = now.UtcTicks;
            foreach (var point in Plan.PointsOfTag(i)) Evaluate(point, tag, events);
        }
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
    public void Restore(IEnumerable<Alarm> alarms)
    {
        Version++;
        foreach (var alarm in alarms.Where(a => HasLimit(a.Key)))
        {
            _alarms[alarm.Key] = alarm;
            if (!alarm.IsActive) continue;
            ref var point = ref _points[Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)];
            point.Exceeded = point.Crossed |= (byte)(1 << (int)alarm.Key.Condition);
        }
    }

    /// <summary>The newest value of a point.</summary>
    public PointValue ValueOf(int point)
    {
        ref readonly var hot = ref _points[point];
        var tag = Plan.Points[point].Tag;
        var reason = hot.Status == _tags[tag].Status ? _tags[tag].Reason : Plan.Points[point].Chain.Reason(_tags[tag].Raw, hot.Status);
        return new PointValue(hot.Value, hot.Status, TimeOf(_tags[tag].TimeTicks), hot.Exceeded, reason, _tags[tag].Text);
    }

    /// <summary>The newest reading of a tag.</summary>
    public TagReading ReadingOf(int tag) => new(_tags[tag].Raw, _tags[tag].Status, TimeOf(_tags[tag].TimeTicks), _tags[tag].Reason, _tags[tag].Text);

    private static DateTimeOffset TimeOf(long ticks) => new(ticks, TimeSpan.Zero);

    private void Evaluate(int index, in HotTag tag, List<AlarmEvent> events)
    {
        ref var point = ref _points[index];
        if (tag.Status.IsBad)
        {
            GoBad(index, tag.Status);
            return;
        }
        if (point.Setup.IsPlain(tag.Raw))
        {
            point.Value = point.Setup.ToEngineering(tag.Raw);
            point.Status = tag.Status;
        }
        else if (tag.Text is not null)
        {
            point.Status = tag.Status;
            return;
        }
        else
        {
            var result = Plan.Points[index].Chain.Compute(tag.Raw);
            if (result.Status.IsBad)
            {
                GoBad(index, result.Status);
                return;
            }
            point.Value = result.Value;
            point.Status = tag.Status.IsGood ? result.Status : tag.Status;
        }
        var crossed = point.Setup.Exceeded(point.Value, point.Crossed);
        if (crossed == point.Crossed) return;
        var changed = crossed ^ point.Crossed;
        point.Crossed = crossed;
        for (var condition = LimitCondition.HighHigh; condition <= LimitCondition.LowLow; condition++)
        {
            var bit = 1 << (int)condition;
            if ((changed & bit) != 0) Cross(index, condition, (crossed & bit) != 0, tag.TimeTicks, events);
        }
    }

    /// <summary>A bad value says nothing about the process: the last value and the alarms stay as they are, and a delay begins anew with the next good value.</summary>
    private void GoBad(int index, StatusCode status)
    {
        ref var point = ref _points[index];
        point.Status = status;
        if (point.Crossed != point.Exceeded) ForgetPending(index);
    }

    private void ForgetPending(int index)
    {
        ref var point = ref _points[index];
        point.Crossed = point.Exceeded;
        foreach (var limit in Plan.Points[index].Limits) _pending.Remove(KeyOf(index, limit.Condition));
    }

    /// <summary>A value has crossed a limit, or come back: at once, or after the limit's delay.</summary>
    private void Cross(int index, LimitCondition condition, bool raised, long ticks, List<AlarmEvent> events)
    {
        var key = KeyOf(index, condition);
        if (raised == ((_points[index].Exceeded & (1 << (int)condition)) != 0))
        {
            _pending.Remove(key);
            return;
        }
        var limit = Plan.Points[index].LimitOf(condition) ?? default;
        var delay = (long)((raised ? limit.OnDelay : limit.OffDelay) * TimeSpan.TicksPerSecond);
        if (delay == 0)
        {
            Announce(index, condition, raised, ticks, events);
            return;
        }
        _pending[key] = ticks + delay;
        _nextDue = Math.Min(_nextDue, ticks + delay);
    }

    private void RunDelays(long now, List<AlarmEvent> events)
    {
        foreach (var (key, due) in _pending.Where(p => p.Value <= now).OrderBy(p => p.Value).ToArray())
        {
            _pending.Remove(key);
            var index = Plan.PointIndexOf(key.EquipmentId, key.PropertyId);
            Announce(index, key.Condition, (_points[index].Crossed & (1 << (int)key.Condition)) != 0, due, events);
            Version++;
        }
        _nextDue = _pending.Count == 0 ? long.MaxValue : _pending.Values.Min();
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
    }

    private struct HotTag
    {
        /// <summary>In place of a point: the tag feeds nothing.</summary>
        public const int FeedsNone = -1;

        /// <summary>In place of a point: ask the plan which points the tag feeds.</summary>
        public const int FeedsMany = -2;

        public static readonly HotTag Waiting = new() { Raw = double.NaN, Status = StatusCode.BadWaitingForInitialData, Reason = WaitingReason };

        public double Raw;
        public long TimeTicks;
        public string? Reason;
        public string? Text;
        public StatusCode Status;

        /// <summary>The point it feeds; nearly every tag feeds one, and then nothing else need be looked up.</summary>
        public int OnlyPoint;
    }
}
