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
            var old = oldPlan.TagIndexOf(plan.Tags[i].TagId);
            _tags[i] = old >= 0 ? oldTags[old] : HotTag.Waiting;
            var feeds = plan.PointsOfTag(i);
            _tags[i].OnlyPoint = feeds.Length == 1 ? feeds[0] : feeds.Length == 0 ? HotTag.FeedsNone : HotTag.FeedsMany;
        }
        _points = new HotPoint[plan.Points.Length];
        Plan = plan;
        for (var i = 0; i < _points.Length; i++)
        {
            var point = plan.Points[i];
            var old = oldPlan.PointIndexOf(point.EquipmentId, point.PropertyId);
            var sameTag = old >= 0 && oldPlan.Tags[oldPlan.Points[old].Tag].TagId == plan.Tags[point.Tag].TagId;
            _points[i] = new HotPoint
            {
                Setup = plan.Setups[i],
                Value = sameTag ? oldPoints[old].Value : double.NaN,
                Exceeded = old >= 0 ? oldPoints[old].Exceeded : (byte)0,
                Status = StatusCode.BadWaitingForInitialData,
            };
            Evaluate(i, _tags[point.Tag], events);
        }
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
            var index = Plan.TagIndexOf(sample.TagId);
            if (index < 0) continue;
            ref var tag = ref _tags[index];
            tag.TimeTicks = sample.TimeTicks;
            tag.Status = sample.Status;
            if (!ReferenceEquals(tag.Reason, sample.Reason)) tag.Reason = sample.Reason;
            if (!sample.Status.IsBad)
            {
                if (double.IsFinite(sample.Raw)) tag.Raw = sample.Raw;
                else (tag.Status, tag.Reason) = (StatusCode.BadSensorFailure, NotANumberReason);
            }
            if (tag.OnlyPoint >= 0) Evaluate(tag.OnlyPoint, tag, events);
            else if (tag.OnlyPoint == HotTag.FeedsMany)
                foreach (var point in Plan.PointsOfTag(index)) Evaluate(point, tag, events);
        }
    }

    /// <summary>Marks every tag Bad that has had no update for its time: three update intervals.</summary>
    public void MarkStale(DateTimeOffset now, List<AlarmEvent> events)
    {
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
            if (alarm.IsActive) _points[Plan.PointIndexOf(alarm.Key.EquipmentId, alarm.Key.PropertyId)].Exceeded |= (byte)(1 << (int)alarm.Key.Condition);
        }
    }

    /// <summary>The newest value of a point.</summary>
    public PointValue ValueOf(int point)
    {
        ref readonly var hot = ref _points[point];
        var tag = Plan.Points[point].Tag;
        var reason = hot.Status == _tags[tag].Status ? _tags[tag].Reason
            : hot.Status == StatusCode.UncertainEngineeringUnitsExceeded ? "outside the range" : null;
        return new PointValue(hot.Value, hot.Status, TimeOf(_tags[tag].TimeTicks), hot.Exceeded, reason);
    }

    /// <summary>The newest reading of a tag.</summary>
    public TagReading ReadingOf(int tag) => new(_tags[tag].Raw, _tags[tag].Status, TimeOf(_tags[tag].TimeTicks), _tags[tag].Reason);

    private static DateTimeOffset TimeOf(long ticks) => new(ticks, TimeSpan.Zero);

    private void Evaluate(int index, in HotTag tag, List<AlarmEvent> events)
    {
        ref var point = ref _points[index];
        if (tag.Status.IsBad)
        {
            // A bad value says nothing about the process: the last value and the alarms stay as they are.
            point.Status = tag.Status;
            return;
        }
        point.Value = point.Setup.ToEngineering(tag.Raw);
        point.Status = tag.Status.IsGood && !point.Setup.Range.Contains(point.Value) ? StatusCode.UncertainEngineeringUnitsExceeded : tag.Status;
        var exceeded = point.Setup.Exceeded(point.Value, point.Exceeded);
        if (exceeded == point.Exceeded) return;
        var changed = exceeded ^ point.Exceeded;
        point.Exceeded = exceeded;
        for (var condition = LimitCondition.HighHigh; condition <= LimitCondition.LowLow; condition++)
        {
            var bit = 1 << (int)condition;
            if ((changed & bit) != 0) Cross(index, condition, (exceeded & bit) != 0, point.Value, tag.TimeTicks, events);
        }
    }

    private void Cross(int index, LimitCondition condition, bool raised, double value, long ticks, List<AlarmEvent> events)
    {
        var point = Plan.Points[index];
        var (key, now) = (new AlarmKey(point.EquipmentId, point.PropertyId, condition), TimeOf(ticks));
        var cause = raised ? AlarmCause.ConditionRaised : AlarmCause.ConditionCleared;
        var before = _alarms.GetValueOrDefault(key);
        if (before is null && !raised) return;
        var next = AlarmTransitions.After(before?.State ?? AlarmState.Normal, cause);
        if (next == before?.State) return;
        Move(raised ? new Alarm(key, next, now, value) : before! with { State = next, ClearedAt = now }, cause, now, value, events);
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
        public byte Exceeded;
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
        public StatusCode Status;

        /// <summary>The point it feeds; nearly every tag feeds one, and then nothing else need be looked up.</summary>
        public int OnlyPoint;
    }
}
