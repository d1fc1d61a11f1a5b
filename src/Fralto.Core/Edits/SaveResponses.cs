using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says what alarms set off.</summary>
/// <param name="Responses">All responses.</param>
public sealed record SaveResponses(ImmutableArray<AlarmResponse> Responses) : AlarmSetupEdit
{
    private protected override string Summary => "Change the responses";

    private protected override AlarmSetup Changed(AlarmSetup setup) => setup with { Responses = Responses };
}
