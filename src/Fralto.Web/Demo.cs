using Fralto.Core.Controllers;
using Fralto.Core.Diagnosis;
using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Review;
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
            var before = workspace.State;
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
            // Where the stand-ins listen is true at once; what else is unreleased stays so.
            var moved = NetChanges.Between(before.Model, workspace.Model);
            if (!before.IsAutomatic && !moved.IsEmpty)
                Release(
                    workspace,
                    "The stand-ins listen at other ports",
                    before.IsUnreleased ? Moved(before.Released, moved) : workspace.Model
                );
            return;
        }
        if (workspace.Model.NextId != PlantModel.Empty.NextId)
            throw new StoreException(
                "The data directory holds a plant that is not the demo's; choose another with --data, or serve it with: fralto serve "
                    + "--data DIR"
            );
        foreach (var (note, edits) in MaltingsModel.Stages(ports, standIns.PagerPort, standIns.MailPort))
        {
            foreach (var edit in edits)
            {
                var outcome = workspace.Do(edit(workspace.Model), Actor.Local);
                if (outcome.IsRefused)
                    throw new InvalidOperationException($"The demo model is refused: {outcome.Problems[0].Message}");
            }
            Release(workspace, note, workspace.Model);
        }
        store.Run.SetNote("demo", "maltings");
    }

    /// <summary>A model with controllers and what alarms share as they are now.</summary>
    private static PlantModel Moved(PlantModel model, NetChanges moved) =>
        model.Apply(
            moved
                .Changes.Where(c => c.After is Controller or AlarmSetup && model.Current(c.After!) is not null)
                .Select(c => new ModelChange(
                    model.Current(c.After!),
                    c.After is Controller now && model.Current(now) is Controller was ? was with { Connection = now.Connection } : c.After
                ))
        );

    /// <summary>Puts a model to work before the plant runs.</summary>
    private static void Release(ModelWorkspace workspace, string note, PlantModel model)
    {
        var (state, frozen) = (workspace.State, FrozenModel.Of(model));
        var found = new FindingBook(model).BySeverity;
        var changes =
            state.Number == 0 ? EntityKinds.All.Sum(k => k.All(model).Count())
            : ReferenceEquals(model, state.Model) ? state.Changes.Count
            : 0;
        workspace.Release(
            new(
                state.Number + 1,
                TimeProvider.System.GetUtcNow(),
                Actor.Local.Name,
                note,
                ReferenceEquals(model, state.Model) ? state.Head : 0,
                frozen.Hash,
                changes,
                found[(int)FindingSeverity.Error].Count,
                found[(int)FindingSeverity.Warning].Count,
                found[(int)FindingSeverity.Hint].Count
            ),
            model,
            frozen
        );
    }
}
