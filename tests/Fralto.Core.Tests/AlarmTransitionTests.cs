using Fralto.Core.Alarms;

namespace Fralto.Core.Tests;

[Trait("source", "ANSI/ISA-18.2-2016 and IEC 62682:2014, alarm state transition diagram (letters from memory)")]
public sealed class AlarmTransitionTests
{
    private static readonly AlarmBehaviour Latched = new(IsLatched: true);
    private static readonly AlarmBehaviour Unseen = new(NeedsNoAcknowledgement: true);
    private static readonly AlarmBehaviour Event = new(IsMomentary: true);

    // A row a state A to I, a column a cause; a lower-case letter is the latched alarm's way, . stays. What is brought back goes to B
    // while the condition is there (second letter), else to A.
    private const string Causes = "raise clear ack none reset time shelve unshelve ended suppress unsuppress out in done failed";

    private static readonly string[] Cells =
    [
        "A  B   .    .  A  .  .  G  .   .   H  .   I  .  .  .",
        "B  .   D/E  C  A  .  .  G  .   .   H  .   I  .  .  .",
        "C  .   A/F  .  A  .  .  G  .   .   H  .   I  .  .  .",
        "D  B   .    A  A  .  A  G  .   .   H  .   I  .  .  .",
        "E  B   .    F  A  .  A  G  .   .   H  .   I  .  .  .",
        "F  B   .    .  A  A  A  G  .   .   H  .   I  .  .  .",
        "G  .   .    .  A  .  .  .  A+B A+B .  .   I  .  .  .",
        "H  .   .    .  A  .  .  G  .   .   .  A+B I  .  .  .",
        "I  .   .    .  A  .  .  .  .   .   .  .   .  A+B  .  .",
    ];

    [Fact]
    public void Every_cell_is_as_the_standard_says()
    {
        AlarmCause[] order =
        [
            AlarmCause.ConditionRaised,
            AlarmCause.ConditionCleared,
            AlarmCause.AcknowledgedByOperator,
            AlarmCause.NoLongerWatched,
            AlarmCause.ResetByOperator,
            AlarmCause.ClearedByTime,
            AlarmCause.ShelvedByOperator,
            AlarmCause.UnshelvedByOperator,
            AlarmCause.ShelvingEnded,
            AlarmCause.SuppressionBegan,
            AlarmCause.SuppressionEnded,
            AlarmCause.TakenOutOfService,
            AlarmCause.PutBackInService,
            AlarmCause.ResponseDone,
            AlarmCause.ResponseFailed,
        ];
        order.Order().ShouldBe(Enum.GetValues<AlarmCause>());
        order.Length.ShouldBe(Causes.Split(' ').Length);
        var walked = 0;
        foreach (var row in Cells)
        {
            var cells = row.Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var from = StateOf(cells[0][0], default);
            cells.Length.ShouldBe(order.Length + 1);
            for (var c = 0; c < order.Length; c++, walked++)
            {
                var cell = cells[c + 1];
                var (lasting, latched) = cell.Split('/') is [var l, var k] ? (l, k) : (cell, cell);
                AlarmTransitions.After(from, order[c]).ShouldBe(StateOf(lasting[0], from), $"{cells[0]} {order[c]}");
                AlarmTransitions.After(from, order[c], Latched).ShouldBe(StateOf(latched[0], from), $"{cells[0]} {order[c]} latched");
                AlarmTransitions
                    .After(from, order[c], default, isTrue: true)
                    .ShouldBe(cell.Contains('+', StringComparison.Ordinal) ? StateOf(cell[2], from) : StateOf(lasting[0], from));
            }
        }
        walked.ShouldBe(9 * 15);
    }

    [Fact]
    public void What_nobody_acknowledges_is_never_waiting_for_it()
    {
        foreach (var state in AlarmStates.All.Where(s => !s.IsUnacknowledged()))
        foreach (var cause in Enum.GetValues<AlarmCause>())
        foreach (var isTrue in new[] { false, true })
            AlarmTransitions.After(state, cause, Unseen, isTrue).IsUnacknowledged().ShouldBeFalse();
    }

    [Fact]
    public void An_event_has_gone_at_once_and_waits_to_be_seen()
    {
        AlarmTransitions.After(AlarmState.Normal, AlarmCause.ConditionRaised, Event).ShouldBe(AlarmState.ReturnedUnacknowledged);
        AlarmTransitions.After(AlarmState.ReturnedUnacknowledged, AlarmCause.AcknowledgedByOperator, Event).ShouldBe(AlarmState.Normal);
        AlarmTransitions
            .After(AlarmState.Normal, AlarmCause.ConditionRaised, Event with { NeedsNoAcknowledgement = true })
            .ShouldBe(AlarmState.Normal);
        // Brought back it is no news: it happened while nobody was to be told.
        AlarmTransitions.After(AlarmState.Shelved, AlarmCause.ShelvingEnded, Event, isTrue: true).ShouldBe(AlarmState.Normal);
    }

    private static AlarmState StateOf(char letter, AlarmState stays) => letter == '.' ? stays : (AlarmState)(letter - 'A');
}
