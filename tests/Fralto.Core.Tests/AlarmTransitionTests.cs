using Fralto.Core.Limits;

namespace Fralto.Core.Tests;

[Trait("source", "ANSI/ISA-18.2-2016, alarm state transition diagram (letters from memory)")]
public sealed class AlarmTransitionTests
{
    [Theory]
    [InlineData(AlarmState.Normal, AlarmCause.ConditionRaised, AlarmState.Unacknowledged)] // A to B
    [InlineData(AlarmState.Unacknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.Acknowledged)] // B to C
    [InlineData(AlarmState.Acknowledged, AlarmCause.ConditionCleared, AlarmState.Normal)] // C to A
    [InlineData(AlarmState.Unacknowledged, AlarmCause.ConditionCleared, AlarmState.ReturnedUnacknowledged)] // B to D
    [InlineData(AlarmState.ReturnedUnacknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.Normal)] // D to A
    [InlineData(AlarmState.ReturnedUnacknowledged, AlarmCause.ConditionRaised, AlarmState.Unacknowledged)] // D to B
    [InlineData(AlarmState.Normal, AlarmCause.AcknowledgedByOperator, AlarmState.Normal)]
    [InlineData(AlarmState.Acknowledged, AlarmCause.AcknowledgedByOperator, AlarmState.Acknowledged)]
    [InlineData(AlarmState.Acknowledged, AlarmCause.ConditionRaised, AlarmState.Acknowledged)]
    [InlineData(AlarmState.Unacknowledged, AlarmCause.NoLongerWatched, AlarmState.Normal)]
    [InlineData(AlarmState.ReturnedUnacknowledged, AlarmCause.NoLongerWatched, AlarmState.Normal)]
    [InlineData(AlarmState.Normal, AlarmCause.NoLongerWatched, AlarmState.Normal)]
    public void A_cause_moves_an_alarm_as_the_standard_says(AlarmState from, AlarmCause cause, AlarmState to) =>
        AlarmTransitions.After(from, cause).ShouldBe(to);
}
