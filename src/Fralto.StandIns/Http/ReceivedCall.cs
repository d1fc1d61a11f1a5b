namespace Fralto.StandIns.Http;

/// <summary>A call that came in.</summary>
/// <param name="At">When.</param>
/// <param name="Path">Which path was called.</param>
/// <param name="Body">What was sent.</param>
public sealed record ReceivedCall(DateTimeOffset At, string Path, string Body);
