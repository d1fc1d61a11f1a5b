namespace Fralto.Core.Proposals;

/// <summary>One thing that speaks for or against a tag.</summary>
/// <param name="Kind">What was looked at.</param>
/// <param name="Weight">For (above 0) or against (below 0), in natural log-odds.</param>
/// <param name="Words">What was found.</param>
public sealed record ScorePart(ScorePartKind Kind, double Weight, string Words);
