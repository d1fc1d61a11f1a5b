using System.Collections;
using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Core.Limits;
using Fralto.Core.Planning;

namespace Fralto.Core.Review;

/// <summary>Compares two plans that run on the same samples: which values differ and by how much, and which alarms come in one and not in
/// the other. What it keeps is bounded, however long it goes on.</summary>
public sealed class TrialBook
{
    /// <summary>The most values, and the most alarms, that are kept by name; all are counted.</summary>
    public const int Most = 500;

    /// <summary>Two numbers are the same when they are so up to rounding.</summary>
    private const double Rounding = 1e-9;

    private readonly Plan _released;
    private readonly Plan _working;
    private readonly DateTimeOffset _begun;
    private readonly int[] _workingOf;
    private readonly int[] _releasedOf;
    private readonly BitArray _differed;
    private readonly Dictionary<int, TrialValue> _values = [];
    private readonly Dictionary<AlarmKey, (int Released, int Working)> _alarms = [];
    private DateTimeOffset _until;
    private int _differing;
    private readonly int _compared;
    private int _raisedReleased;
    private int _raisedWorking;

    /// <summary>A trial that begins now.</summary>
    /// <param name="released">The plan that runs.</param>
    /// <param name="working">The plan beside it.</param>
    /// <param name="begun">When.</param>
    public TrialBook(Plan released, Plan working, DateTimeOffset begun)
    {
        (_released, _working, _begun, _until) = (released, working, begun, begun);
        _workingOf = new int[released.Shown];
        _releasedOf = new int[working.Shown];
        Array.Fill(_releasedOf, -1);
        _differed = new BitArray(released.Shown);
        for (var i = 0; i < released.Shown; i++)
        {
            var other = working.PointIndexOf(released.Points[i].EquipmentId, released.Points[i].PropertyId);
            _workingOf[i] = other;
            if (other < 0)
                continue;
            _releasedOf[other] = i;
            _compared++;
        }
    }

    /// <summary>The plan that runs.</summary>
    public Plan Released => _released;

    /// <summary>The plan beside it.</summary>
    public Plan Working => _working;

    /// <summary>Takes alarms that stand when it begins.</summary>
    public void Stand(IEnumerable<Alarm> released, IEnumerable<Alarm> working)
    {
        foreach (var alarm in released.Where(a => a.IsActive))
            Count(alarm.Key, false);
        foreach (var alarm in working.Where(a => a.IsActive))
            Count(alarm.Key, true);
    }

    /// <summary>Takes what happened to alarms.</summary>
    /// <param name="events">The events.</param>
    /// <param name="isWorking">True for those of the plan beside the running one.</param>
    public void Take(IEnumerable<AlarmEvent> events, bool isWorking)
    {
        foreach (var one in events)
            if (one.Cause == AlarmCause.ConditionRaised)
                Count(one.Key, isWorking);
    }

    /// <summary>Compares how things stand at one moment.</summary>
    /// <param name="releasedOf">The value of a point of the running plan.</param>
    /// <param name="workingOf">The value of a point of the plan beside it.</param>
    /// <param name="changedReleased">The points of the running plan that have changed since the last time; null for all.</param>
    /// <param name="changedWorking">The points of the plan beside it that have changed; null for all.</param>
    /// <param name="now">When.</param>
    public void Look(
        Func<int, PointValue> releasedOf,
        Func<int, PointValue> workingOf,
        IReadOnlyCollection<int>? changedReleased,
        IReadOnlyCollection<int>? changedWorking,
        DateTimeOffset now
    )
    {
        _until = now;
        if (changedReleased is null || changedWorking is null)
        {
            for (var i = 0; i < _workingOf.Length; i++)
                Compare(i, releasedOf, workingOf);
            return;
        }
        foreach (var i in changedReleased)
            if (i < _workingOf.Length)
                Compare(i, releasedOf, workingOf);
        foreach (var j in changedWorking)
            if (j < _releasedOf.Length && _releasedOf[j] is >= 0 and var i)
                Compare(i, releasedOf, workingOf);
    }

    /// <summary>What has been seen until now.</summary>
    public TrialReport Report() =>
        new(
            _begun,
            _until,
            _compared,
            _differing,
            _working.Shown - _compared,
            _released.Shown - _compared,
            [.. _values.Values.OrderByDescending(v => v.Share).ThenBy(v => v.Path, StringComparer.Ordinal)],
            [
                .. _alarms
                    .Where(a => a.Value.Released != a.Value.Working)
                    .Take(Most)
                    .Select(a => Named(a.Key, a.Value))
                    .OrderBy(a => a.Path, StringComparer.Ordinal)
                    .ThenBy(a => a.Limit, StringComparer.Ordinal),
            ],
            _raisedReleased,
            _raisedWorking
        );

    private void Compare(int released, Func<int, PointValue> releasedOf, Func<int, PointValue> workingOf)
    {
        var working = _workingOf[released];
        if (working < 0)
            return;
        var (one, other) = (releasedOf(released), workingOf(working));
        var (oneBad, otherBad) = (one.Status.IsBad, other.Status.IsBad);
        if (oneBad && otherBad)
            return;
        var isSame = !oneBad && !otherBad && one.Text == other.Text && IsSame(one.Value, other.Value);
        if (isSame)
            return;
        if (!_differed[released])
        {
            _differed[released] = true;
            _differing++;
        }
        var apart = oneBad || otherBad ? 0 : Math.Abs(one.Value - other.Value);
        if (_values.TryGetValue(released, out var known) ? known.Apart >= apart && !(oneBad || otherBad) : _values.Count >= Most)
            return;
        var point = _working.Points[working];
        var whole = point.Range is { Width: not 0 } range ? Math.Abs(range.Width) : Math.Max(Math.Abs(one.Value), Math.Abs(other.Value));
        _values[released] = new(
            point.EquipmentId,
            point.PropertyId,
            point.Path,
            point.Unit?.Symbol,
            oneBad || !double.IsFinite(one.Value) ? null : one.Value,
            otherBad || !double.IsFinite(other.Value) ? null : other.Value,
            double.IsFinite(apart) ? apart : 0,
            oneBad || otherBad || !(whole > 0) || !double.IsFinite(apart) ? 1 : apart / whole
        );
    }

    /// <summary>True when two numbers are the same up to rounding.</summary>
    public static bool IsSame(double one, double other) =>
        one.Equals(other) || Math.Abs(one - other) <= Rounding * Math.Max(Math.Abs(one), Math.Abs(other));

    private void Count(AlarmKey key, bool isWorking)
    {
        if (isWorking)
            _raisedWorking++;
        else
            _raisedReleased++;
        if (_alarms.TryGetValue(key, out var count))
            _alarms[key] = isWorking ? count with { Working = count.Working + 1 } : count with { Released = count.Released + 1 };
        else if (_alarms.Count < Most * 10)
            _alarms[key] = isWorking ? (0, 1) : (1, 0);
    }

    private TrialAlarm Named(AlarmKey key, (int Released, int Working) count)
    {
        var plan = _working.PointIndexOf(key.EquipmentId, key.PropertyId) >= 0 ? _working : _released;
        var index = plan.PointIndexOf(key.EquipmentId, key.PropertyId);
        var point = index >= 0 ? plan.Points[index] : null;
        return new(
            key.EquipmentId,
            point?.Watch?.PropertyId ?? key.PropertyId,
            point?.Path ?? "",
            point?.Watch?.Limit.Code ?? key.Condition.Letters(),
            count.Released,
            count.Working
        );
    }
}
