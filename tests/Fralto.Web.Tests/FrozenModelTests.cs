using Fralto.Core.Plant;
using Fralto.Core.Review;
using Fralto.StandIns.Maltings;
using Fralto.Store;

namespace Fralto.Web.Tests;

/// <summary>A release is the model, byte for byte, or it is refused.</summary>
public sealed class FrozenModelTests
{
    [Fact]
    public void Every_stage_of_the_maltings_thaws_as_it_was_frozen_and_the_differences_lead_from_one_to_the_next()
    {
        var (model, last) = (PlantModel.Empty, PlantModel.Empty);
        foreach (var (_, edits) in MaltingsModel.Stages([.. Ports()], 15504, 15505))
        {
            foreach (var edit in edits)
                model = model.Apply(edit(model).On(model).Changes);
            var frozen = FrozenModel.Of(model);
            var thawed = frozen.Thaw();
            NetChanges.Between(model, thawed).IsEmpty.ShouldBeTrue();
            thawed.NextId.ShouldBe(model.NextId);
            FrozenModel.Of(thawed).Hash.ShouldBe(frozen.Hash);
            // A diff applied to the model before gives the one after.
            var net = NetChanges.Between(last, thawed);
            FrozenModel.Of(last.Apply(net.Changes)).Hash.ShouldBe(frozen.Hash);
            last = thawed;
        }
        last.Equipment.Count.ShouldBeGreaterThan(100);
    }

    [Fact]
    public void What_is_damaged_is_refused_wherever_it_is()
    {
        var model = PlantModel.Empty;
        foreach (var edit in MaltingsModel.Edits([.. Ports()]).Take(40))
            model = model.Apply(edit(model).On(model).Changes);
        var frozen = FrozenModel.Of(model);
        var random = new Random(16);
        for (var i = 0; i < 200; i++)
        {
            var bytes = frozen.Content.ToArray();
            var at = random.Next(bytes.Length);
            bytes[at] ^= (byte)(1 + random.Next(255));
            try
            {
                // What differs in nothing but how it is compressed is the same model.
                NetChanges.Between(model, (frozen with { Content = bytes }).Thaw()).IsEmpty.ShouldBeTrue($"byte {at}");
            }
            catch (StoreException)
            {
                // Refused, in words.
            }
        }
        Should.Throw<StoreException>(() => (frozen with { Content = frozen.Content[..(frozen.Content.Length / 2)] }).Thaw());
        Should.Throw<StoreException>(() => (frozen with { Hash = new string('0', 64) }).Thaw()).Message.ShouldContain("damaged");
    }

    private static IEnumerable<(string, int)> Ports() =>
        new[]
        {
            StandInPlant.KilnPlcName,
            StandInPlant.SteepPlcName,
            StandInPlant.BoxEdgeName,
            StandInPlant.SiloHubName,
            StandInPlant.TrialPlcName,
        }.Select((name, i) => (name, 15500 + i));
}
