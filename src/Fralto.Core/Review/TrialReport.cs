using System.Collections.Immutable;

namespace Fralto.Core.Review;

/// <summary>What trying a model beside the running one has shown.</summary>
/// <param name="Begun">When it began; anew with each edit.</param>
/// <param name="Until">Up to when it has been looked at.</param>
/// <param name="Compared">Values that both models have.</param>
/// <param name="Differing">How many of them have differed at some time.</param>
/// <param name="New">Values only the working model has.</param>
/// <param name="Gone">Values only the released model has.</param>
/// <param name="Values">The values that have differed, the furthest apart first; at most <see cref="TrialBook.Most"/>.</param>
/// <param name="Alarms">Alarms that stood or came not equally often; at most <see cref="TrialBook.Most"/>.</param>
/// <param name="RaisedReleased">How many alarms stood or came in the released model.</param>
/// <param name="RaisedWorking">How many alarms stood or came in the working model.</param>
public sealed record TrialReport(
    DateTimeOffset Begun,
    DateTimeOffset Until,
    int Compared,
    int Differing,
    int New,
    int Gone,
    ImmutableArray<TrialValue> Values,
    ImmutableArray<TrialAlarm> Alarms,
    int RaisedReleased,
    int RaisedWorking
)
{
    /// <summary>How long it has been tried.</summary>
    public TimeSpan Lasted => Until - Begun;
}
