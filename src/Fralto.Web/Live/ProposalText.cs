using System.Globalization;
using Fralto.Core.Proposals;

namespace Fralto.Web.Live;

/// <summary>Proposals as text.</summary>
public static class ProposalText
{
    /// <summary>A certainty with two decimals, cut and not rounded: nothing is wholly certain.</summary>
    public static string Sure(double certainty) => (Math.Floor(certainty * 100) / 100).ToString("0.00", CultureInfo.InvariantCulture);

    /// <summary>A proposal in one line: why it is held back or open, or what speaks most for it.</summary>
    public static string? Briefly(Proposal proposal) =>
        proposal.Kind == ProposalKind.Proposed
            ? $"certainty {Sure(proposal.Certainty)}: {string.Join("; ", proposal.Parts.Take(3).Select(p => p.Words))}"
            : proposal.Reason;
}
