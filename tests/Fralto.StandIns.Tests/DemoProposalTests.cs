using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Fralto.StandIns.Maltings;

namespace Fralto.StandIns.Tests;

/// <summary>What Fralto proposes for the demo plant, without values.</summary>
public sealed class DemoProposalTests
{
    private static readonly PlantModel Demo = ShippedModel.Build();

    private static PlantModel Without(Func<Equipment, bool> which)
    {
        var cells = Demo.Bindings.Keys.Where(k => which(Demo.Equipment[k.EquipmentId])).ToArray();
        return Demo.Apply(new UnbindMany([.. cells]).On(Demo).Changes);
    }

    private static void Same(PlantModel open, string below, int atLeast)
    {
        var matrix = Proposer.Propose(new(open) { Below = open.Index.Find(below)!.Id });
        foreach (
            var p in matrix.Proposals.Where(p =>
                p.Kind == ProposalKind.Proposed && Demo.Bindings.ContainsKey((p.EquipmentId, p.PropertyId))
            )
        )
            Demo.Bindings[(p.EquipmentId, p.PropertyId)].TagId.ShouldBe(p.TagId!.Value, Tell(open, matrix));
        matrix
            .Proposals.Count(p => p.Kind == ProposalKind.Proposed && Demo.Bindings.ContainsKey((p.EquipmentId, p.PropertyId)))
            .ShouldBeGreaterThanOrEqualTo(atLeast, Tell(open, matrix));
    }

    private static string Tell(PlantModel model, ProposalMatrix matrix) =>
        string.Join(
            "\n",
            matrix.Proposals.Select(p =>
                $"{p.Kind} {model.Index.PathOf(p.EquipmentId)} "
                + $"{model.Index.PropertiesOf(model.Equipment[p.EquipmentId]).First(x => x.Id == p.PropertyId).Name}: "
                + $"{(p.TagId is { } t ? model.Tags[t].Name + p.Slice : "-")} {p.Certainty} {p.Reason} "
                + $"[{string.Join("; ", p.Parts.Select(x => $"{x.Weight:0.0} {x.Words}"))}]"
            )
        );

    [Fact]
    public void One_kiln_leads_to_the_others() =>
        Same(
            Without(e =>
                Demo.Index.PathOf(e.Id) is var p
                && p.Contains("/KLN", StringComparison.Ordinal)
                && !p.Contains("/KLN1", StringComparison.Ordinal)
            ),
            "Corvane/TarnQuay/Kilning",
            29
        );

    [Fact]
    public void The_pilot_plant_is_proposed_from_what_Tarn_Quay_is_called()
    {
        var matrix = Proposer.Propose(new(Demo) { Below = Demo.Index.Find("Corvane/Ashholt")!.Id });
        matrix
            .Proposals.Where(p => p.Kind == ProposalKind.Proposed)
            .ShouldAllBe(p => Demo.Controllers[Demo.Tags[p.TagId!.Value].ControllerId].Name == StandInPlant.TrialPlcName);
        matrix.Proposals.Count(p => p.Kind == ProposalKind.Proposed).ShouldBeGreaterThan(22, Tell(Demo, matrix));
    }
}
