using System.Collections.Immutable;

namespace Fralto.Core.Proposals;

/// <summary>All open cells that were asked for, and the rules behind the answer.</summary>
/// <param name="Proposals">One for each open cell.</param>
/// <param name="Rules">The best rule of each property and face.</param>
public sealed record ProposalMatrix(ImmutableArray<Proposal> Proposals, ImmutableArray<LearnedRule> Rules)
{
    /// <summary>No proposal.</summary>
    public static readonly ProposalMatrix Empty = new([], []);
}
