using Fralto.Core.Controllers;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Proposals;

/// <summary>Which open cells to look for tags for.</summary>
/// <param name="Model">The working model.</param>
public sealed record ProposalQuestion(PlantModel Model)
{
    /// <summary>The threshold when nobody says another: a wrong proposal costs more than a missing one.</summary>
    public const double DefaultThreshold = 0.8;

    /// <summary>Only instances of these templates and of what inherits from them; null for all.</summary>
    public IReadOnlySet<long>? Templates { get; init; }

    /// <summary>Only instances below this place; null for all.</summary>
    public long? Below { get; init; }

    /// <summary>Only these instances; null for all. Rules are learned from all of them whoever is asked for.</summary>
    public IReadOnlySet<long>? Instances { get; init; }

    /// <summary>What was learned already; nothing when whoever asks keeps nothing.</summary>
    public ProposalMemory Memory { get; init; } = new();

    /// <summary>Certainty from which a tag is proposed, above 0 to 1.</summary>
    public double Threshold { get; init; } = DefaultThreshold;

    /// <summary>The raw number a tag gives now; null for one that gives none. Without it values say nothing.</summary>
    public Func<Tag, double?>? Raw { get; init; }

    /// <summary>How small and how large the raw number of a tag has been since it is read as it is now; null for one that gives
    /// none.</summary>
    public Func<Tag, Magnitudes?>? Magnitudes { get; init; }
}
