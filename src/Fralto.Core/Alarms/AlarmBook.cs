namespace Fralto.Core.Alarms;

/// <summary>Where every alarm stands that is not normal: states, acknowledgement, latching, shelving and suppression. Single-threaded;
/// time comes with what happens.</summary>
/// <remarks>Delays are over before the book hears of a condition. Shelving runs on engine time, so that a clock that is set neither ends
/// nor prolongs it.</remarks>
public sealed class AlarmBook
{
    private readonly Dictionary<AlarmKey, Alarm> _alarms = [];
    private readonly PriorityQueue<AlarmKey, long> _timed = new();
    private readonly Dictionary<AlarmKey, long> _due = [];

    /// <summary>Called with an alarm after each step, with its cause, when it happened, who did it and what was said with it.</summary>
    public Action<Alarm, AlarmCause, DateTimeOffset, string?, string> Moved { get; init; } = (_, _, _, _, _) => { };

    /// <summary>How the alarm of a key behaves.</summary>
    public Func<AlarmKey, AlarmBehaviour> BehaviourOf { get; init; } = _ => default;

    /// <summary>Alarms that are not normal.</summary>
    public IReadOnlyCollection<Alarm> Alarms => _alarms.Values;

    /// <summary>Where an alarm stands; null when it is normal.</summary>
    public Alarm? Of(AlarmKey key) => _alarms.GetValueOrDefault(key);

    /// <summary>A condition has come.</summary>
    /// <param name="key">The alarm.</param>
    /// <param name="at">When.</param>
    /// <param name="value">The value.</param>
    /// <param name="now">Engine time, in ticks.</param>
    /// <param name="fill">Fills in what is kept of the moment: message and captured values.</param>
    /// <param name="isNews">False where a more urgent alarm has said it already: it counts as acknowledged.</param>
    public void Raise(AlarmKey key, DateTimeOffset at, double value, long now, Func<Alarm, Alarm>? fill = null, bool isNews = true)
    {
        var before = _alarms.GetValueOrDefault(key);
        var behaviour = BehaviourOf(key);
        var state = AlarmTransitions.After(before?.State ?? AlarmState.Normal, AlarmCause.ConditionRaised, behaviour, true);
        if (!isNews && state == AlarmState.Unacknowledged)
            state = AlarmState.Acknowledged;
        var raised = new Alarm(key, state, at, value)
        {
            IsTrue = !behaviour.IsMomentary,
            ClearedAt = behaviour.IsMomentary ? at : null,
            Shelving = before?.Shelving,
            Leave = before?.Leave,
            IsSuppressed = before?.IsSuppressed ?? false,
        };
        raised = fill?.Invoke(raised) ?? raised;
        if (before?.State.IsPutAway() == true)
        {
            // It is kept that the condition is there; nothing is said of it.
            _alarms[key] = raised;
            return;
        }
        // What is an event to nobody is still an event.
        Put(raised, AlarmCause.ConditionRaised, at, null, "", now);
    }

    /// <summary>A condition has gone.</summary>
    public void Clear(AlarmKey key, DateTimeOffset at, long now)
    {
        if (!_alarms.TryGetValue(key, out var before) || !before.IsTrue)
            return;
        var gone = before with { IsTrue = false, ClearedAt = at };
        if (before.State.IsPutAway())
        {
            _alarms[key] = gone;
            return;
        }
        Put(
            gone with
            {
                State = AlarmTransitions.After(before.State, AlarmCause.ConditionCleared, BehaviourOf(key)),
            },
            AlarmCause.ConditionCleared,
            at,
            null,
            "",
            now
        );
    }

    /// <summary>Its limit does not count, or counts again.</summary>
    public void Suppress(AlarmKey key, bool isSuppressed, DateTimeOffset at, long now)
    {
        var before = _alarms.GetValueOrDefault(key);
        if ((before?.IsSuppressed ?? false) == isSuppressed)
            return;
        Change(
            (before ?? Unraised(key, at)) with
            {
                IsSuppressed = isSuppressed,
            },
            isSuppressed ? AlarmCause.SuppressionBegan : AlarmCause.SuppressionEnded,
            at,
            null,
            "",
            now
        );
    }

    /// <summary>Does what a person wants.</summary>
    /// <param name="act">What.</param>
    /// <param name="at">When.</param>
    /// <param name="now">Engine time, in ticks.</param>
    /// <returns>Why nothing was done; null when it was.</returns>
    public string? Do(AlarmAct act, DateTimeOffset at, long now)
    {
        var before = _alarms.GetValueOrDefault(act.Key);
        switch (act.Cause)
        {
            case AlarmCause.AcknowledgedByOperator:
                if (before is null)
                    return "it is gone";
                if (!before.State.IsUnacknowledged())
                    return before.AcknowledgedBy is { } who ? $"{who} has acknowledged it already" : "there is nothing to acknowledge";
                Put(
                    before with
                    {
                        State = AlarmTransitions.After(before.State, act.Cause, BehaviourOf(act.Key)),
                        AcknowledgedBy = act.Who,
                        AcknowledgedAt = at,
                        Comment = act.Comment,
                    },
                    act.Cause,
                    at,
                    act.Who,
                    act.Comment,
                    now
                );
                return null;
            case AlarmCause.ResetByOperator:
                if (before is null || !before.State.IsLatched())
                    return before is { IsTrue: true } ? "its condition is still there" : "it is not latched";
                if (before.State == AlarmState.LatchedUnacknowledged)
                    return "acknowledge it first";
                Put(before with { State = AlarmState.Normal }, act.Cause, at, act.Who, act.Comment, now);
                return null;
            case AlarmCause.ShelvedByOperator:
                if (act.Time is not { } time || time <= TimeSpan.Zero)
                    return "say how long";
                if (before?.Leave is not null)
                    return "it is out of service";
                Change(
                    (before ?? Unraised(act.Key, at)) with
                    {
                        Shelving = new(act.Who, at, at + time, act.Rule, act.Comment),
                    },
                    act.Cause,
                    at,
                    act.Who,
                    act.Comment,
                    now,
                    isSaidAgain: true
                );
                Time(act.Key, now + time.Ticks);
                return null;
            case AlarmCause.UnshelvedByOperator:
                if (before?.Shelving is null)
                    return "it is not shelved";
                Change(before with { Shelving = null }, act.Cause, at, act.Who, act.Comment, now);
                return null;
            case AlarmCause.TakenOutOfService:
                if (before?.Leave is not null)
                    return "it is out of service already";
                if (act.Comment.Length == 0)
                    return "say why";
                Change(
                    (before ?? Unraised(act.Key, at)) with
                    {
                        Shelving = null,
                        Leave = new(act.Who, at, act.Comment),
                    },
                    act.Cause,
                    at,
                    act.Who,
                    act.Comment,
                    now
                );
                return null;
            case AlarmCause.PutBackInService:
                if (before?.Leave is null)
                    return "it is not out of service";
                Change(before with { Leave = null }, act.Cause, at, act.Who, act.Comment, now);
                return null;
            default:
                throw new ArgumentException($"{act.Cause} is not done by a person.", nameof(act));
        }
    }

    /// <summary>Lets time pass: what is shelved comes back, and what clears by itself clears.</summary>
    /// <param name="at">The time on the wall.</param>
    /// <param name="now">Engine time, in ticks.</param>
    public void Advance(DateTimeOffset at, long now)
    {
        while (_timed.TryPeek(out var key, out var due) && due <= now)
        {
            _timed.Dequeue();
            if (_due.GetValueOrDefault(key) != due)
                continue;
            _due.Remove(key);
            if (!_alarms.TryGetValue(key, out var alarm))
                continue;
            if (alarm.Shelving is not null)
                Change(alarm with { Shelving = null }, AlarmCause.ShelvingEnded, at, null, "", now);
            else if (AlarmTransitions.After(alarm.State, AlarmCause.ClearedByTime) is var next && next != alarm.State)
                Put(alarm with { State = next }, AlarmCause.ClearedByTime, at, null, "", now);
        }
    }

    /// <summary>There is no such limit any more.</summary>
    public void Forget(AlarmKey key)
    {
        _alarms.Remove(key);
        _due.Remove(key);
    }

    /// <summary>Puts back an alarm of an earlier run, as it was kept.</summary>
    /// <param name="alarm">The alarm.</param>
    /// <param name="at">The time on the wall.</param>
    /// <param name="now">Engine time, in ticks.</param>
    public void Restore(Alarm alarm, DateTimeOffset at, long now)
    {
        _alarms[alarm.Key] = alarm;
        if (alarm.Shelving is { } shelving)
            Time(alarm.Key, now + (shelving.Until - at).Ticks);
        else
            TimeClearing(alarm, now);
    }

    private static Alarm Unraised(AlarmKey key, DateTimeOffset at) => new(key, AlarmState.Normal, at, double.NaN);

    /// <summary>Puts an alarm away or brings it back, by all that is said of it now.</summary>
    private void Change(Alarm alarm, AlarmCause cause, DateTimeOffset at, string? who, string comment, long now, bool isSaidAgain = false)
    {
        var away =
            alarm.Leave is not null ? AlarmState.OutOfService
            : alarm.Shelving is not null ? AlarmState.Shelved
            : alarm.IsSuppressed ? AlarmState.SuppressedByDesign
            : (AlarmState?)null;
        var state = away ?? AlarmTransitions.After(alarm.State, cause, BehaviourOf(alarm.Key), alarm.IsTrue);
        // What is put away in two ways moves when the last of them ends.
        if (state == alarm.State && away is not null && !isSaidAgain)
        {
            _alarms[alarm.Key] = alarm;
            return;
        }
        var isBack = alarm.State.IsPutAway() && away is null;
        Put(
            alarm with
            {
                State = state,
                // What comes back is news, whoever had seen it before.
                AcknowledgedBy = isBack ? null : alarm.AcknowledgedBy,
                AcknowledgedAt = isBack ? null : alarm.AcknowledgedAt,
            },
            cause,
            at,
            who,
            comment,
            now
        );
    }

    private void Put(Alarm alarm, AlarmCause cause, DateTimeOffset at, string? who, string comment, long now)
    {
        if (alarm.State == AlarmState.Normal)
            Forget(alarm.Key);
        else
        {
            _alarms[alarm.Key] = alarm;
            if (alarm.Shelving is null)
                TimeClearing(alarm, now);
        }
        Moved(alarm, cause, at, who, comment);
    }

    private void TimeClearing(Alarm alarm, long now)
    {
        if (alarm.State.IsStanding() && !alarm.IsTrue && BehaviourOf(alarm.Key).ClearsAfter is > 0 and var after)
            Time(alarm.Key, now + after);
        else
            _due.Remove(alarm.Key);
    }

    private void Time(AlarmKey key, long due)
    {
        _due[key] = due;
        _timed.Enqueue(key, due);
    }
}
