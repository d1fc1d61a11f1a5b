using Fralto.Core.Alarms;
using Fralto.Core.Limits;
using Fralto.Core.Notices;
using Fralto.Core.Rules;

namespace Fralto.Core.Tests;

public sealed class NoticeBookTests
{
    private static readonly DateTimeOffset Start = new(2026, 6, 1, 8, 0, 0, TimeSpan.Zero);
    private static readonly AlarmKey Key = new(7, 3, LimitCondition.High);

    private static readonly NoticeList Shift = new("Shift", ["shift@maltings.test"])
    {
        RepeatAfter = TimeSpan.FromMinutes(10),
        Repeats = 2,
        EscalateAfter = TimeSpan.FromMinutes(15),
        EscalateTo = "On call",
        TellsReturn = true,
    };

    private static readonly NoticeList OnCall = new("On call", ["oncall@maltings.test"]) { OnlyEscalated = true };

    private readonly List<string> _told = [];
    private NoticeBook _book = new([]);
    private DateTimeOffset _now = Start;

    [Fact]
    public void A_list_is_told_once_again_and_the_next_one_while_nobody_acknowledges()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        Run(60);
        _told.ShouldBe(["0 Shift Raised", "10 Shift Repeated", "15 On call Escalated", "20 Shift Repeated"]);
    }

    [Fact]
    public void Nobody_is_told_further_once_it_is_acknowledged_and_those_who_were_hear_of_the_return()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        Run(5);
        Step(AlarmCause.AcknowledgedByOperator, AlarmState.Acknowledged);
        Run(30);
        Step(AlarmCause.ConditionCleared, AlarmState.Normal);
        Run(40);
        _told.ShouldBe(["0 Shift Raised", "30 Shift Returned"]);
        _book.Count.ShouldBe(0);
    }

    [Fact]
    public void Shelving_is_quiet_and_what_stands_after_it_goes_on()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        Run(5);
        Step(AlarmCause.ShelvedByOperator, AlarmState.Shelved);
        Run(40);
        _told.ShouldBe(["0 Shift Raised"]);
        Step(AlarmCause.ShelvingEnded, AlarmState.Unacknowledged);
        Run(41);
        _told.ShouldBe(["0 Shift Raised", "40 Shift Repeated", "40 On call Escalated"]);
    }

    [Fact]
    public void What_begins_and_ends_while_it_is_shelved_is_told_nobody()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.Shelved);
        Step(AlarmCause.ConditionCleared, AlarmState.Shelved);
        Run(5);
        Step(AlarmCause.ShelvingEnded, AlarmState.Normal);
        Run(60);
        _told.ShouldBeEmpty();
        Step(AlarmCause.ConditionRaised, AlarmState.Shelved);
        Step(AlarmCause.ShelvingEnded, AlarmState.Unacknowledged);
        Run(61);
        _told.ShouldBe(["60 Shift Raised"]);
    }

    [Fact]
    public void An_alarm_that_comes_and_goes_is_told_once_until_somebody_acknowledges()
    {
        for (var minute = 0; minute < 8; minute++)
        {
            Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
            Run(minute + 0.4);
            Step(AlarmCause.ConditionCleared, AlarmState.ReturnedUnacknowledged);
            Run(minute + 1);
        }
        _told.Count(t => t.EndsWith("Raised", StringComparison.Ordinal)).ShouldBe(1);
        Step(AlarmCause.AcknowledgedByOperator, AlarmState.Normal);
        Run(9);
        Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        Run(10);
        _told.Count(t => t.EndsWith("Raised", StringComparison.Ordinal)).ShouldBe(2);
    }

    [Fact]
    public void An_event_and_what_nobody_acknowledges_are_told_once()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.ReturnedUnacknowledged);
        Run(60);
        _told.ShouldBe(["0 Shift Raised"]);
        Step(AlarmCause.AcknowledgedByOperator, AlarmState.Normal);
        Run(61);
        Step(AlarmCause.ConditionRaised, AlarmState.Normal);
        Run(90);
        _told.ShouldBe(["0 Shift Raised", "61 Shift Raised"]);
        Step(AlarmCause.ConditionRaised, AlarmState.Acknowledged);
        Run(150);
        _told.Count.ShouldBe(3);
    }

    [Fact]
    public void A_restart_at_any_moment_tells_the_same()
    {
        Step(AlarmCause.ConditionRaised, AlarmState.Unacknowledged);
        var kept = new Dictionary<(AlarmKey, string), NoticeState>();
        for (var minute = 0; minute <= 60; minute++)
        {
            Run(minute);
            foreach (var (key, state) in _book.TakeChanges())
                if (state is null)
                    kept.Remove(key);
                else
                    kept[key] = state;
            _book = new(kept.Values);
        }
        _told.ShouldBe(["0 Shift Raised", "10 Shift Repeated", "15 On call Escalated", "20 Shift Repeated"]);
    }

    [Fact]
    public void Any_order_of_steps_tells_nobody_while_it_is_put_away_or_seen_and_never_more_often_than_it_may()
    {
        for (var seed = 0; seed < 300; seed++)
        {
            var random = new Random(seed);
            (_book, _now) = (new([]), Start);
            _told.Clear();
            var (state, isTrue, behaviour) = (AlarmState.Normal, false, new AlarmBehaviour(IsLatched: seed % 3 == 0));
            var raises = 0;
            for (var step = 0; step < 60; step++)
            {
                var cause = (AlarmCause)random.Next((int)AlarmCause.ResponseDone);
                if (cause is AlarmCause.ConditionRaised or AlarmCause.ConditionCleared)
                    isTrue = cause == AlarmCause.ConditionRaised;
                var next = AlarmTransitions.After(state, cause, behaviour, isTrue);
                if (next != state)
                {
                    raises += next == AlarmState.Unacknowledged ? 1 : 0;
                    Step(cause, state = next);
                }
                var before = _told.Count;
                Run((_now - Start).TotalMinutes + random.Next(1, 12));
                foreach (var told in _told.Skip(before + 1))
                    (
                        told.EndsWith("Repeated", StringComparison.Ordinal)
                        || told.EndsWith("Escalated", StringComparison.Ordinal) && state == AlarmState.Unacknowledged
                    ).ShouldBeTrue($"seed {seed}: {told} in {state}");
            }
            _told.Count(t => t.EndsWith("Shift Raised", StringComparison.Ordinal)).ShouldBeLessThanOrEqualTo(raises, $"seed {seed}");
            _told.Count(t => t.EndsWith("Returned", StringComparison.Ordinal)).ShouldBeLessThanOrEqualTo(raises, $"seed {seed}");
        }
    }

    [Theory]
    [InlineData("2026-06-01 21:59", false)] // a Monday
    [InlineData("2026-06-01 22:00", true)]
    [InlineData("2026-06-02 05:59", true)]
    [InlineData("2026-06-02 06:00", false)]
    [InlineData("2026-06-02 22:00", false)]
    [InlineData("2026-06-01 05:00", false)] // the night of Sunday
    public void Hours_over_midnight_belong_to_the_day_on_which_they_begin(string at, bool isOn) =>
        new NoticeList("Night", ["n@maltings.test"])
        {
            From = new(22, 0),
            Until = new(6, 0),
            Days = [DayOfWeek.Monday],
        }
            .IsOnDuty(DateTime.Parse(at, System.Globalization.CultureInfo.InvariantCulture))
            .ShouldBe(isOn);

    [Fact]
    public void A_mail_says_the_most_urgent_first_in_the_language_of_its_list_and_counts_what_it_leaves_out()
    {
        var notices = Enumerable
            .Range(0, 100)
            .Select(i => new Notice(
                "Shift",
                new(i, 3, LimitCondition.High),
                NoticeReason.Raised,
                Of(AlarmCause.ConditionRaised, AlarmState.Unacknowledged, i == 70 ? 1 : 3) with
                {
                    Message = "Too hot\r\nBcc: all@maltings.test",
                    Translations = "de = Zu heiß",
                    Path = $"House/KLN{i}/AirOn\r\nX: y",
                }
            ))
            .ToArray();
        NoticeMail MailOf(params Notice[] of) =>
            NoticeMail.Of(
                Shift with
                {
                    Language = "de",
                },
                of,
                _ => "91 °C",
                _ => new LimitPatch { Action = "Open the damper", RespondSeconds = 600 },
                at => at.UtcDateTime
            );
        var mail = MailOf(notices);
        mail.Subject.ShouldStartWith("100 alarms, first priority 1: House/KLN70/AirOn");
        mail.Subject.ShouldNotContain('\n');
        mail.Text.ShouldStartWith("Priority 1: House/KLN70/AirOn");
        mail.Text.ShouldContain("Zu heiß");
        mail.Text.ShouldNotContain("Too hot");
        mail.Text.ShouldContain("What to do: Open the damper");
        mail.Text.ShouldContain("And 60 more");
        MailOf(notices[0] with { Reason = NoticeReason.Returned }).Text.ShouldNotContain("What to do");
    }

    private static AlarmEvent Of(AlarmCause cause, AlarmState state, int priority = 2) =>
        new(Key, Start, state, cause, 91, "House/KLN2/AirOn", priority) { Limit = "H" };

    private void Step(AlarmCause cause, AlarmState state) => _book.Take(Of(cause, state), [Shift]);

    /// <summary>Asks every six seconds until so many minutes have passed.</summary>
    private void Run(double minutes)
    {
        for (; _now <= Start.AddMinutes(minutes); _now = _now.AddSeconds(6))
            foreach (var notice in _book.Due(_now, name => new[] { Shift, OnCall }.FirstOrDefault(l => l.Name == name), _ => true))
                _told.Add($"{Math.Floor((_now - Start).TotalMinutes)} {notice.List} {notice.Reason}");
    }
}
