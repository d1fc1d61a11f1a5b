namespace Fralto.StandIns.Mail;

/// <summary>A mail a stand-in has taken.</summary>
/// <param name="At">When.</param>
/// <param name="To">Who it is for.</param>
/// <param name="Subject">Its subject.</param>
/// <param name="Text">What it says.</param>
public sealed record ReceivedMail(DateTimeOffset At, string To, string Subject, string Text);
