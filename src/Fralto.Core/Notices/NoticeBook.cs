using Fralto.Core.Alarms;

namespace Fralto.Core.Notices;

/// <summary>Who is to be told of which alarm, and when: first, again, further, and of the return. It tells nobody itself and knows no
/// clock; it is driven by the steps of alarms and by the time it is asked at.</summary>
/// <remarks>Again and further only while the condition is there and nobody has acknowledged it; never while the alarm is shelved, out of
/// service or suppressed. An alarm that comes back before anybody has acknowledged it is not news.</remarks>
public sealed class NoticeBook
{
    private readonly Dictionary<AlarmKey, Dictionary<string, NoticeState>> _states = [];
    private readonly HashSet<(AlarmKey Key, string List)> _changed = [];

    /// <summary>Begins with what was kept.</summary>
    public NoticeBook(IEnumerable<NoticeState> kept)
    {
        foreach (var state in kept)
            Put(state);
    }

    /// <summary>How many tellings stand.</summary>
    public int Count => _states.Values.Sum(s => s.Count);

    /// <summary>Takes a step of an alarm.</summary>
    /// <param name="step">The step.</param>
    /// <param name="lists">The lists that are told of it: their place, label, priority and hours fit.</param>
    public void Take(AlarmEvent step, IEnumerable<NoticeList> lists)
    {
        if (step.Cause is AlarmCause.ResponseDone or AlarmCause.ResponseFailed)
            return;
        foreach (var state in Of(step.Key))
            // What ends while nobody may be told of it has been nothing.
            if (state is { Told: 0, IsQuiet: true } && step.State == AlarmState.Normal)
                Drop(state);
            else
                Keep(Moved(state, step));
        // An event is raised and has gone at once; one that nobody acknowledges is acknowledged from the beginning.
        if (step.State == AlarmState.Unacknowledged || step.Cause == AlarmCause.ConditionRaised && !step.State.IsPutAway())
            foreach (var list in lists)
                if (!list.OnlyEscalated && Find(step.Key, list.Name) is not { IsSeen: false, IsOver: false })
                    Keep(Moved(new(step.Key, list.Name, step), step));
    }

    /// <summary>What is to be told now; it counts as told.</summary>
    /// <param name="now">The time.</param>
    /// <param name="listOf">The list of a name; null for one that is gone.</param>
    /// <param name="isOnDuty">Whether a list is told at this time.</param>
    public IReadOnlyList<Notice> Due(DateTimeOffset now, Func<string, NoticeList?> listOf, Func<NoticeList, bool> isOnDuty)
    {
        var due = new List<Notice>();
        foreach (var state in _states.Values.SelectMany(s => s.Values).ToArray())
            if (listOf(state.List) is { } list)
                Look(state, list, now, listOf, isOnDuty, due);
            else
                Drop(state);
        return due;
    }

    /// <summary>What has changed since this was asked last: the new state of a telling, or null for one that is over.</summary>
    public IReadOnlyDictionary<(AlarmKey Key, string List), NoticeState?> TakeChanges()
    {
        var changes = _changed.ToDictionary(c => c, c => Find(c.Key, c.List));
        _changed.Clear();
        return changes;
    }

    /// <summary>Forgets what is told of alarms that are gone without a step, as after a change of the model.</summary>
    /// <param name="stands">Whether an alarm is not normal.</param>
    public void Forget(Func<AlarmKey, bool> stands)
    {
        foreach (var state in _states.Values.SelectMany(s => s.Values).Where(s => s.Told > 0 && s.Gone is null && !stands(s.Key)).ToArray())
            Drop(state);
    }

    private static NoticeState Moved(NoticeState state, AlarmEvent step)
    {
        var isThere = step.State is AlarmState.Unacknowledged or AlarmState.Acknowledged;
        var hasGone = state.IsThere && !isThere && !step.State.IsPutAway() && step.Cause != AlarmCause.ConditionRaised;
        return state with
        {
            IsQuiet = step.State.IsPutAway(),
            IsThere = step.State.IsPutAway() ? state.IsThere : isThere,
            IsSeen = state.IsSeen || step.State is AlarmState.Acknowledged or AlarmState.LatchedAcknowledged or AlarmState.Normal,
            IsOver = step.State == AlarmState.Normal,
            Gone =
                isThere ? null
                : hasGone ? step
                : state.Gone,
        };
    }

    private void Look(
        NoticeState state,
        NoticeList list,
        DateTimeOffset now,
        Func<string, NoticeList?> listOf,
        Func<NoticeList, bool> isOnDuty,
        List<Notice> due
    )
    {
        var before = state;
        if (state is { Told: 0, IsQuiet: false })
        {
            due.Add(new(list.Name, state.Key, state.IsEscalated ? NoticeReason.Escalated : NoticeReason.Raised, state.Step));
            state = state with { Told = 1, FirstAt = now, LastAt = now };
        }
        else if (
            state is { Told: > 0, IsQuiet: false, IsThere: true, IsSeen: false }
            && list.RepeatAfter is { } again
            && state.Told <= list.Repeats
            && now >= state.LastAt + again
            && isOnDuty(list)
        )
        {
            due.Add(new(list.Name, state.Key, NoticeReason.Repeated, state.Step));
            state = state with { Told = state.Told + 1, LastAt = now };
        }
        if (
            state is { IsQuiet: false, IsThere: true, IsSeen: false, IsHandedOn: false }
            && list.EscalateAfter is { } wait
            && now >= state.FirstAt + wait
            && listOf(list.EscalateTo ?? "") is { } further
        )
        {
            state = state with { IsHandedOn = true };
            if (Find(state.Key, further.Name) is null)
            {
                var handedOn = new NoticeState(state.Key, further.Name, state.Step) { IsEscalated = true };
                Keep(handedOn);
                Look(handedOn, further, now, listOf, isOnDuty, due);
            }
        }
        if (state is { Gone: { } gone, IsQuiet: false })
        {
            if (list.TellsReturn && state.Told > 0)
                due.Add(new(list.Name, state.Key, NoticeReason.Returned, gone));
            state = state with { Gone = null };
        }
        if (state.IsOver)
            Drop(state);
        else if (!ReferenceEquals(state, before))
            Keep(state);
    }

    private NoticeState[] Of(AlarmKey key) => _states.TryGetValue(key, out var known) ? [.. known.Values] : [];

    private NoticeState? Find(AlarmKey key, string list) => _states.TryGetValue(key, out var known) ? known.GetValueOrDefault(list) : null;

    private void Put(NoticeState state)
    {
        if (!_states.TryGetValue(state.Key, out var known))
            _states[state.Key] = known = [];
        known[state.List] = state;
    }

    private void Keep(NoticeState state)
    {
        if (Find(state.Key, state.List) == state)
            return;
        Put(state);
        _changed.Add((state.Key, state.List));
    }

    private void Drop(NoticeState state)
    {
        if (_states.TryGetValue(state.Key, out var known) && known.Remove(state.List) && known.Count == 0)
            _states.Remove(state.Key);
        _changed.Add((state.Key, state.List));
    }
}
