namespace Fralto.Core.Diagnosis;

/// <summary>More alarms than anybody can act on: it begins when more than 10 come
/// within ten minutes, and ends when fewer than 5 have.</summary>
/// <param name="Begin">Time of the first of them.</param>
/// <param name="End">When it ended; the end of what was looked at where it went on.</param>
/// <param name="Alarms">Alarms in it.</param>
/// <param name="Most">Most of them within ten minutes.</param>
/// <param name="FirstPath">Property of the first.</param>
/// <param name="FirstLimit">Code of its limit.</param>
public sealed record AlarmFlood(DateTimeOffset Begin, DateTimeOffset End, int Alarms, int Most, string FirstPath, string FirstLimit);
