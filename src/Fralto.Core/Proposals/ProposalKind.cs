namespace Fralto.Core.Proposals;

/// <summary>What became of an open cell of the matrix.</summary>
public enum ProposalKind
{
    /// <summary>No tag fits well enough.</summary>
    Open,

    /// <summary>A tag is proposed.</summary>
    Proposed,

    /// <summary>A tag looks right but something speaks against it; a person has to decide.</summary>
    Clash,
}
