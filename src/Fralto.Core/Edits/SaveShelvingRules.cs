using System.Collections.Immutable;
using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says how long alarms may be shelved.</summary>
/// <param name="Rules">All rules; the first one is that of limits which name none.</param>
public sealed record SaveShelvingRules(ImmutableArray<ShelvingRule> Rules) : AlarmSetupEdit
{
    private protected override string Summary => "Change the rules of shelving";

    private protected override AlarmSetup Changed(AlarmSetup setup) => setup with { Rules = Rules };
}
