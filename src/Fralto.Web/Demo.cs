using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.StandIns.Maltings;
using Fralto.Store;

namespace Fralto.Web;

/// <summary>Puts the demo plant into an empty data directory.</summary>
internal static class Demo
{
    /// <summary>Seed of the simulated maltings.</summary>
    public const ulong Seed = 20260601;

    /// <summary>Loads the demo model once. A plant that is there already keeps what was made of it; only the stand-ins' ports are brought
    /// up to date.</summary>
    public static void Load(ModelWorkspace workspace, PlantStore store, StandInPlant standIns)
    {
        var ports = standIns.Controllers;
        if (store.Run.Note("demo") is not null)
        {
            foreach (var (name, port) in ports)
                if (
                    workspace.Model.Controllers.Values.FirstOrDefault(c => c.Name == name) is { } known
                    && known.Connection.AtPort(port) is { } connection
                    && connection != known.Connection
                )
                    workspace.Do(new SaveController(known.Id, known.Name, connection, known.UpdateInterval.TotalMilliseconds), Actor.Local);
            var pager = MaltingsLimits.Responses(standIns.PagerPort).Responses[0];
            if (
                workspace.Model.Responses.FirstOrDefault(r => r.Name == pager.Name && r.Kind == pager.Kind) is { } kept
                && kept.Target.StartsWith("http://127.0.0.1:", StringComparison.Ordinal)
                && kept.Target != pager.Target
            )
                workspace.Do(new SaveResponses(workspace.Model.Responses.Replace(kept, kept with { Target = pager.Target })), Actor.Local);
            if (workspace.Model.AlarmSetup.Mail is { Host: "127.0.0.1" } mail && mail.Port != standIns.MailPort)
                workspace.Do(new SaveMailServer(mail with { Port = standIns.MailPort }), Actor.Local);
            return;
        }
        if (workspace.Model.NextId != PlantModel.Empty.NextId)
            throw new StoreException(
                "The data directory holds a plant that is not the demo's; choose another with --data, or serve it with: fralto serve "
                    + "--data DIR"
            );
        foreach (var edit in MaltingsModel.Edits(ports, standIns.PagerPort, standIns.MailPort))
        {
            var outcome = workspace.Do(edit(workspace.Model), Actor.Local);
            if (outcome.IsRefused)
                throw new InvalidOperationException($"The demo model is refused: {outcome.Problems[0].Message}");
        }
        store.Run.SetNote("demo", "maltings");
    }
}
