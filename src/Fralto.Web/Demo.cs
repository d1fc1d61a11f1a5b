using Fralto.Core.Plant;
using Fralto.StandIns.Maltings;
using Fralto.Store;
using Fralto.Web.Live;

namespace Fralto.Web;

/// <summary>Puts the demo plant into an empty data directory.</summary>
internal static class Demo
{
    /// <summary>Seed of the simulated maltings.</summary>
    public const ulong Seed = 20260601;

    /// <summary>Takes an earlier demo plant out.</summary>
    public static void Clear(string plantFile)
    {
        if (!File.Exists(plantFile)) return;
        foreach (var file in new[] { plantFile, plantFile + "-wal", plantFile + "-shm" }) File.Delete(file);
    }

    /// <summary>Loads the demo model once. A plant that is there already keeps what was made of it; only the stand-ins' port is brought up to date.</summary>
    public static void Load(ModelWorkspace workspace, PlantStore store, int kilnPlcPort)
    {
        if (store.Note("demo") is not null)
        {
            if (workspace.Model.Controllers.Values.FirstOrDefault(c => c.Name == StandInPlant.KilnPlcName && c.Port != kilnPlcPort) is { } moved)
                workspace.Do(new Core.Edits.SaveController(moved.Id, moved.Name, moved.Host, kilnPlcPort, moved.UnitId, (int)moved.UpdateInterval.TotalMilliseconds));
            return;
        }
        if (workspace.Model.NextId != PlantModel.Empty.NextId)
            throw new StoreException("The data directory holds a plant that is not the demo's; choose another with --data, or serve it with: fralto serve --data DIR");
        foreach (var edit in MaltingsModel.Edits(kilnPlcPort))
        {
            var outcome = workspace.Do(edit(workspace.Model));
            if (outcome.IsRefused) throw new InvalidOperationException($"The demo model is refused: {outcome.Problems[0].Message}");
        }
        store.SetNote("demo", "maltings");
    }
}
