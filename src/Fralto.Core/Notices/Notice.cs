using Fralto.Core.Alarms;

namespace Fralto.Core.Notices;

/// <summary>What one list is to be told now.</summary>
/// <param name="List">Name of the list.</param>
/// <param name="Key">The alarm.</param>
/// <param name="Reason">Why.</param>
/// <param name="Step">The step of the alarm it is told of; of a repetition the one it was raised with.</param>
public sealed record Notice(string List, AlarmKey Key, NoticeReason Reason, AlarmEvent Step);
