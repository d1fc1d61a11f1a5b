namespace Fralto.Core.Alarms;

/// <summary>Something a person does to an alarm.</summary>
/// <param name="Key">The alarm.</param>
/// <param name="Cause">What is done: one of the causes that a person brings about.</param>
/// <param name="Who">Who does it.</param>
/// <param name="Comment">What is said with it, or why.</param>
/// <param name="Time">How long it is shelved; null for everything else.</param>
/// <param name="Rule">Name of the rule it is shelved by.</param>
public sealed record AlarmAct(AlarmKey Key, AlarmCause Cause, string Who, string Comment = "", TimeSpan? Time = null, string Rule = "");
