using Fralto.Core.Alarms;
using Fralto.Core.Limits;

namespace Fralto.Core.Tests;

[Trait("source", "ISA-18.2, IEC 62682: shelving, suppression by design, out of service (standards named in the clauses, from memory)")]
public sealed class AlarmBookTests
{
    private static readonly AlarmKey Key = new(1, 2, LimitCondition.High);
    private static readonly DateTimeOffset Noon = new(2026, 6, 1, 12, 0, 0, TimeSpan.Zero);
    private readonly List<(AlarmState State, AlarmCause Cause, string? Who)> _steps = [];
    private readonly AlarmBook _book;
    private AlarmBehaviour _behaviour;
    private long _now = 1;

    public AlarmBookTests() =>
        _book = new() { Moved = (alarm, cause, _, who, _) => _steps.Add((alarm.State, cause, who)), BehaviourOf = _ => _behaviour };

    private AlarmState State => _book.Of(Key)?.State ?? AlarmState.Normal;

    private string? Do(AlarmCause cause, string comment = "why", TimeSpan? time = null) =>
        _book.Do(new(Key, cause, "ann", comment, time, "rule"), Noon, _now);

    private void Raise() => _book.Raise(Key, Noon, 90, _now);

    private void Clear() => _book.Clear(Key, Noon, _now);

    private void After(TimeSpan time) => _book.Advance(Noon, _now += time.Ticks);

    [Fact]
    public void What_is_shelved_comes_back_by_itself_as_the_condition_stands()
    {
        Raise();
        Do(AlarmCause.AcknowledgedByOperator).ShouldBeNull();
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromMinutes(15)).ShouldBeNull();
        After(TimeSpan.FromMinutes(14));
        State.ShouldBe(AlarmState.Shelved);
        After(TimeSpan.FromMinutes(1));
        // It is news again, whoever had seen it before.
        (State, _book.Of(Key)!.AcknowledgedBy).ShouldBe((AlarmState.Unacknowledged, null));
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromMinutes(15));
        Clear();
        (State, _book.Of(Key)!.IsTrue).ShouldBe((AlarmState.Shelved, false));
        After(TimeSpan.FromMinutes(15));
        State.ShouldBe(AlarmState.Normal);
        _steps[^1].Cause.ShouldBe(AlarmCause.ShelvingEnded);
        _book.Alarms.ShouldBeEmpty();
    }

    [Fact]
    public void Shelving_again_counts_from_then_and_what_rises_meanwhile_says_nothing()
    {
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromMinutes(10)).ShouldBeNull();
        After(TimeSpan.FromMinutes(9));
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromMinutes(10)).ShouldBeNull();
        var told = _steps.Count;
        Raise();
        _steps.Count.ShouldBe(told);
        After(TimeSpan.FromMinutes(9));
        State.ShouldBe(AlarmState.Shelved);
        Do(AlarmCause.UnshelvedByOperator).ShouldBeNull();
        State.ShouldBe(AlarmState.Unacknowledged);
        After(TimeSpan.FromMinutes(5));
        State.ShouldBe(AlarmState.Unacknowledged);
    }

    [Fact]
    public void Of_several_ways_to_be_put_away_the_last_to_end_counts()
    {
        Raise();
        _book.Suppress(Key, true, Noon, _now);
        State.ShouldBe(AlarmState.SuppressedByDesign);
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromHours(1));
        _book.Suppress(Key, false, Noon, _now);
        State.ShouldBe(AlarmState.Shelved);
        Do(AlarmCause.TakenOutOfService).ShouldBeNull();
        State.ShouldBe(AlarmState.OutOfService);
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromHours(1)).ShouldBe("it is out of service");
        After(TimeSpan.FromHours(2));
        State.ShouldBe(AlarmState.OutOfService);
        _book.Suppress(Key, true, Noon, _now);
        Do(AlarmCause.PutBackInService).ShouldBeNull();
        State.ShouldBe(AlarmState.SuppressedByDesign);
        _book.Suppress(Key, false, Noon, _now);
        State.ShouldBe(AlarmState.Unacknowledged);
    }

    [Fact]
    public void What_cannot_be_done_says_why_and_does_nothing()
    {
        Do(AlarmCause.AcknowledgedByOperator).ShouldBe("it is gone");
        Do(AlarmCause.ResetByOperator).ShouldBe("it is not latched");
        Do(AlarmCause.ShelvedByOperator).ShouldBe("say how long");
        Do(AlarmCause.UnshelvedByOperator).ShouldBe("it is not shelved");
        Do(AlarmCause.PutBackInService).ShouldBe("it is not out of service");
        Do(AlarmCause.TakenOutOfService, "").ShouldBe("say why");
        _steps.ShouldBeEmpty();
        Raise();
        Do(AlarmCause.AcknowledgedByOperator).ShouldBeNull();
        Do(AlarmCause.AcknowledgedByOperator).ShouldBe("ann has acknowledged it already");
        Do(AlarmCause.ResetByOperator).ShouldBe("its condition is still there");
    }

    [Fact]
    public void What_is_latched_stays_until_it_is_reset()
    {
        _behaviour = new(IsLatched: true);
        Raise();
        Clear();
        State.ShouldBe(AlarmState.LatchedUnacknowledged);
        Do(AlarmCause.ResetByOperator).ShouldBe("acknowledge it first");
        Do(AlarmCause.AcknowledgedByOperator);
        State.ShouldBe(AlarmState.LatchedAcknowledged);
        Do(AlarmCause.ResetByOperator).ShouldBeNull();
        State.ShouldBe(AlarmState.Normal);
    }

    [Fact]
    public void What_clears_by_itself_does_so_once_its_condition_has_gone()
    {
        _behaviour = new(ClearsAfter: TimeSpan.TicksPerMinute);
        Raise();
        After(TimeSpan.FromMinutes(5));
        State.ShouldBe(AlarmState.Unacknowledged);
        Clear();
        After(TimeSpan.FromSeconds(59));
        State.ShouldBe(AlarmState.ReturnedUnacknowledged);
        // It comes again, and the time counts from its end.
        Raise();
        After(TimeSpan.FromSeconds(2));
        Clear();
        After(TimeSpan.FromSeconds(59));
        State.ShouldBe(AlarmState.ReturnedUnacknowledged);
        After(TimeSpan.FromSeconds(1));
        State.ShouldBe(AlarmState.Normal);
    }

    [Fact]
    public void What_an_earlier_run_has_kept_goes_on()
    {
        Raise();
        Do(AlarmCause.ShelvedByOperator, time: TimeSpan.FromMinutes(30));
        var kept = _book.Of(Key)!;
        var next = new AlarmBook();
        next.Restore(kept, Noon.AddMinutes(20), 5);
        next.Advance(Noon.AddMinutes(29), 5 + TimeSpan.FromMinutes(9).Ticks);
        next.Of(Key)!.State.ShouldBe(AlarmState.Shelved);
        next.Advance(Noon.AddMinutes(30), 5 + TimeSpan.FromMinutes(10).Ticks);
        next.Of(Key)!.State.ShouldBe(AlarmState.Unacknowledged);
    }

    /// <summary>Anything in any order: the book never says what cannot be.</summary>
    [Fact]
    public void Whatever_happens_the_book_holds_together()
    {
        for (var seed = 0; seed < 300; seed++)
        {
            var random = new Random(seed);
            AlarmState before = AlarmState.Normal;
            var (isTrue, isSuppressed) = (false, false);
            _behaviour = new(random.Next(4) == 0, random.Next(3) == 0, false, random.Next(2) * TimeSpan.TicksPerMinute);
            var behaviour = _behaviour;
            var book = new AlarmBook { BehaviourOf = _ => behaviour };
            var now = 1L;
            for (var step = 0; step < 60; step++)
            {
                switch (random.Next(8))
                {
                    case 0:
                        book.Raise(Key, Noon, 1, now);
                        isTrue = true;
                        break;
                    case 1:
                        book.Clear(Key, Noon, now);
                        isTrue = false;
                        break;
                    case 2:
                        book.Suppress(Key, isSuppressed = !isSuppressed, Noon, now);
                        break;
                    case 3:
                        book.Advance(Noon, now += random.Next(90) * TimeSpan.TicksPerSecond);
                        break;
                    default:
                        var cause = new[]
                        {
                            AlarmCause.AcknowledgedByOperator,
                            AlarmCause.ResetByOperator,
                            AlarmCause.ShelvedByOperator,
                            AlarmCause.UnshelvedByOperator,
                            AlarmCause.TakenOutOfService,
                            AlarmCause.PutBackInService,
                        }[random.Next(6)];
                        book.Do(new(Key, cause, "ann", "why", TimeSpan.FromSeconds(1 + random.Next(100))), Noon, now);
                        break;
                }
                var alarm = book.Of(Key);
                before = alarm?.State ?? AlarmState.Normal;
                (alarm?.IsTrue ?? false).ShouldBe(isTrue, $"seed {seed} step {step}");
                (alarm?.IsSuppressed ?? false).ShouldBe(isSuppressed);
                // What is there is never normal, and is put away exactly while something says so.
                (before == AlarmState.Normal).ShouldBe(alarm is null);
                before.IsPutAway().ShouldBe(alarm is { Leave: not null } or { Shelving: not null } or { IsSuppressed: true });
                if (!before.IsPutAway())
                    (before is AlarmState.Unacknowledged or AlarmState.Acknowledged).ShouldBe(isTrue);
                if (behaviour.NeedsNoAcknowledgement)
                    before.IsUnacknowledged().ShouldBeFalse();
            }
        }
    }
}
