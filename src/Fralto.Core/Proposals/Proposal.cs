using System.Collections.Immutable;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>What Fralto makes of one open cell.</summary>
/// <param name="EquipmentId">The instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Kind">Proposed, held back or open.</param>
/// <param name="TagId">The tag that fits best; null when none is worth naming.</param>
/// <param name="Slice">The part of the tag; null for all of it.</param>
/// <param name="Certainty">0 to 1: how sure the tag is the right one.</param>
/// <param name="Parts">What speaks for and against it, the weightiest first.</param>
/// <param name="Reason">Why it is held back or open; null for a proposal.</param>
public sealed record Proposal(
    long EquipmentId,
    long PropertyId,
    ProposalKind Kind,
    long? TagId,
    Slice? Slice,
    double Certainty,
    ImmutableArray<ScorePart> Parts,
    string? Reason
);
