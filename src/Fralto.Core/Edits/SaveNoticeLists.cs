using System.Collections.Immutable;
using Fralto.Core.Notices;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says who is told of alarms.</summary>
/// <param name="Lists">All lists.</param>
public sealed record SaveNoticeLists(ImmutableArray<NoticeList> Lists) : AlarmSetupEdit
{
    private protected override string Summary => "Change who is told of alarms";

    private protected override AlarmSetup Changed(AlarmSetup setup) => setup with { Lists = Lists };
}
