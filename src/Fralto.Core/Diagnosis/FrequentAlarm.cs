using Fralto.Core.Alarms;

namespace Fralto.Core.Diagnosis;

/// <summary>An alarm by how often it came.</summary>
/// <param name="Key">The alarm.</param>
/// <param name="Path">Its property.</param>
/// <param name="Limit">Code of its limit.</param>
/// <param name="Priority">1 to 4.</param>
/// <param name="Count">How often.</param>
/// <param name="Share">Percent of all alarms.</param>
/// <param name="Nature">How it comes and goes.</param>
public sealed record FrequentAlarm(AlarmKey Key, string Path, string Limit, int Priority, int Count, double Share, AlarmNature Nature);
