using Fralto.Core.Plant;
using Fralto.StandIns.Maltings;

namespace Fralto.StandIns.Tests;

/// <summary>The demo plant as it is shipped.</summary>
internal static class ShippedModel
{
    /// <summary>The model its edits make; each of them has to be allowed.</summary>
    public static PlantModel Build()
    {
        var model = PlantModel.Empty;
        foreach (
            var edit in MaltingsModel.Edits([
                (StandInPlant.KilnPlcName, 15500),
                (StandInPlant.SteepPlcName, 15501),
                (StandInPlant.BoxEdgeName, 15502),
                (StandInPlant.SiloHubName, 15502),
                (StandInPlant.TrialPlcName, 15503),
            ])
        )
        {
            var outcome = edit(model).On(model);
            outcome.Problems.ShouldBeEmpty();
            model = model.Apply(outcome.Changes);
        }
        return model;
    }
}
