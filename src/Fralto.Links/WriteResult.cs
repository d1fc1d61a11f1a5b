namespace Fralto.Links;

/// <summary>What became of a written value, and why.</summary>
/// <param name="Outcome">Confirmed, refused or not confirmed.</param>
/// <param name="Reason">Why it is not confirmed, in words; empty when it is.</param>
public sealed record WriteResult(WriteOutcome Outcome, string Reason = "")
{
    public static readonly WriteResult Confirmed = new(WriteOutcome.Confirmed);

    public static WriteResult Refused(string reason) => new(WriteOutcome.Refused, reason);

    public static WriteResult NotConfirmed(string reason) => new(WriteOutcome.NotConfirmed, reason);
}
