namespace Fralto.Core.Alarms;

/// <summary>That an alarm is out of service until somebody puts it back.</summary>
/// <param name="By">Who took it out.</param>
/// <param name="At">When.</param>
/// <param name="Reason">Why.</param>
public sealed record AlarmLeave(string By, DateTimeOffset At, string Reason);
