using System.Collections.Immutable;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says in which languages the messages of alarms are written, and how long their log is kept.</summary>
/// <param name="Languages">The languages; the first is that of the messages themselves.</param>
/// <param name="LogDays">Days the log is kept.</param>
public sealed record SaveAlarmSetup(ImmutableArray<string> Languages, int LogDays) : AlarmSetupEdit
{
    private protected override string Summary => "Change the languages of messages and how long the log is kept";

    private protected override AlarmSetup Changed(AlarmSetup setup) => setup with { Languages = Languages, LogDays = LogDays };
}
