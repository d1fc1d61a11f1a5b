namespace Fralto.Core.Alarms;

/// <summary>That an alarm is put away by an operator, for a time.</summary>
/// <param name="By">Who.</param>
/// <param name="At">When.</param>
/// <param name="Until">When it comes back by itself.</param>
/// <param name="Rule">Name of the rule it goes by.</param>
/// <param name="Comment">Why.</param>
public sealed record AlarmShelving(string By, DateTimeOffset At, DateTimeOffset Until, string Rule, string Comment);
