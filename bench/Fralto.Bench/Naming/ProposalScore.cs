using Fralto.Core.Bindings;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;

namespace Fralto.Bench.Naming;

/// <summary>How right the proposals for a plant are.</summary>
/// <param name="Right">Proposed, and so it is.</param>
/// <param name="Wrong">Proposed, and it is not so.</param>
/// <param name="Missed">A right tag exists and was not proposed.</param>
internal sealed record ProposalScore(int Right, int Wrong, int Missed)
{
    public double Precision => Right + Wrong == 0 ? 1 : (double)Right / (Right + Wrong);

    public double Recall => Right + Missed == 0 ? 1 : (double)Right / (Right + Missed);

    /// <summary>Binds one instance of each template by hand, and asks for the rest.</summary>
    /// <param name="plant">The plant.</param>
    /// <param name="examples">How many instances of each template are bound.</param>
    /// <param name="wrong">Told of each wrong and each missed cell.</param>
    public static ProposalScore Of(NamingPlant plant, int examples, Action<Proposal>? wrong = null)
    {
        var bound = Bound(plant, examples);
        var matrix = Proposer.Propose(new(bound));
        var (right, off, missed) = (0, 0, 0);
        foreach (var proposal in matrix.Proposals)
        {
            var truth = plant.Truth.TryGetValue((proposal.EquipmentId, proposal.PropertyId), out var tag) ? tag : (long?)null;
            if (proposal.Kind == ProposalKind.Proposed && proposal.TagId == truth)
                right++;
            else
            {
                if (proposal.Kind == ProposalKind.Proposed)
                    off++;
                if (truth is not null)
                    missed++;
                if (proposal.Kind == ProposalKind.Proposed || truth is not null)
                    wrong?.Invoke(proposal);
            }
        }
        return new(right, off, missed);
    }

    /// <summary>The plant with some instances of each template bound by hand.</summary>
    public static PlantModel Bound(NamingPlant plant, int examples)
    {
        var bound = plant.Model;
        foreach (var template in plant.Model.Templates.Values)
        {
            // A person begins with an instance that has all its tags.
            var chosen = plant
                .Model.Index.InstancesOf(template.Id)
                .OrderByDescending(e => template.Properties.Count(p => plant.Truth.ContainsKey((e.Id, p.Id))))
                .ThenBy(e => e.Id)
                .Take(examples);
            bound = bound with
            {
                Bindings = bound.Bindings.AddRange(
                    chosen.SelectMany(e =>
                        template
                            .Properties.Where(p => plant.Truth.ContainsKey((e.Id, p.Id)))
                            .Select(p => KeyValuePair.Create((e.Id, p.Id), new PropertyBinding(e.Id, p.Id, plant.Truth[(e.Id, p.Id)])))
                    )
                ),
            };
        }
        return bound;
    }
}
