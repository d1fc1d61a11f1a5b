using Fralto.Core.Bindings;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;

namespace Fralto.Bench.Naming;

/// <summary>A plant as somebody teaches it: nothing bound, one instance of each template, and one more of one of them.</summary>
/// <param name="Plant">The plant.</param>
/// <param name="Shown">The instances that are bound first, one of each template that has a tag.</param>
/// <param name="More">The one more, in another place where there is one; null where no template has a second.</param>
internal sealed record Lesson(NamingPlant Plant, IReadOnlyList<Equipment> Shown, Equipment? More)
{
    /// <summary>Chooses what a person would begin with: of the instances that have most of their tags, any; then one elsewhere.</summary>
    public static Lesson Of(NamingPlant plant, int seed)
    {
        var random = new Random(seed);
        var chosen = plant.Model.Templates.Keys.Select(t => Chosen(plant, t, random)).Where(c => c.Length > 0).ToArray();
        return new(plant, [.. chosen.Select(c => c[0])], chosen.Where(c => c.Length > 1).Select(c => c[1]).FirstOrDefault());
    }

    /// <summary>What is proposed where nothing is bound.</summary>
    public ProposalMatrix Untaught() => Proposer.Propose(new(Plant.Model));

    /// <summary>What is proposed with one example of each template.</summary>
    public ProposalMatrix Taught() => Proposer.Propose(new(Bound(Shown)));

    /// <summary>What is proposed with the one more; null where there is none.</summary>
    public ProposalMatrix? TaughtMore() => More is null ? null : Proposer.Propose(new(Bound([.. Shown, More])));

    /// <summary>How many cells that were proposed rightly no longer are: 0 where it is no more than one, or one in a hundred.</summary>
    public int LostBy(ProposalMatrix before, ProposalMatrix after)
    {
        var right = after.Proposals.Where(IsRight).Select(p => (p.EquipmentId, p.PropertyId)).ToHashSet();
        var others = before.Proposals.Where(p => p.EquipmentId != More!.Id).ToArray();
        var gone = others.Count(p => IsRight(p) && !right.Contains((p.EquipmentId, p.PropertyId)));
        return gone > Math.Max(1, others.Length / 100) ? gone : 0;
    }

    /// <summary>Whether a tag is proposed, and it is the right one.</summary>
    public bool IsRight(Proposal p) =>
        p.Kind == ProposalKind.Proposed && Plant.Truth.TryGetValue((p.EquipmentId, p.PropertyId), out var tag) && tag == p.TagId;

    /// <summary>How right it is.</summary>
    public ProposalScore ScoreOf(ProposalMatrix matrix) =>
        new(
            matrix.Proposals.Count(IsRight),
            matrix.Proposals.Count(p => p.Kind == ProposalKind.Proposed && !IsRight(p)),
            matrix.Proposals.Count(p => Plant.Truth.ContainsKey((p.EquipmentId, p.PropertyId)) && !IsRight(p))
        );

    private static Equipment[] Chosen(NamingPlant plant, long template, Random random)
    {
        var most = plant
            .Model.Index.InstancesOf(template)
            .GroupBy(e => plant.Model.Templates[template].Properties.Count(p => plant.Truth.ContainsKey((e.Id, p.Id))))
            .Where(g => g.Key > 0)
            .MaxBy(g => g.Key)
            ?.OrderBy(_ => random.Next())
            .ToArray();
        if (most is null)
            return [];
        var elsewhere = most.Skip(1).FirstOrDefault(e => e.ParentId != most[0].ParentId) ?? most.Skip(1).FirstOrDefault();
        return elsewhere is null ? [most[0]] : [most[0], elsewhere];
    }

    private PlantModel Bound(IEnumerable<Equipment> chosen) =>
        Plant.Model with
        {
            Bindings = Plant.Model.Bindings.AddRange(
                chosen.SelectMany(e =>
                    Plant
                        .Model.Templates[e.TemplateId!.Value]
                        .Properties.Where(p => Plant.Truth.ContainsKey((e.Id, p.Id)))
                        .Select(p => KeyValuePair.Create((e.Id, p.Id), new PropertyBinding(e.Id, p.Id, Plant.Truth[(e.Id, p.Id)])))
                )
            ),
        };
}
