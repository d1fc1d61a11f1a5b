using System.Globalization;
using Fralto.Core.Commands;
using Fralto.Core.Controllers;
using Fralto.Links;
using Fralto.Store;

namespace Fralto.Runtime;

/// <summary>Gives commands to controllers and notes what came of each.</summary>
public sealed class CommandWriter(ModelWorkspace workspace, PlantRuntime runtime, RunStore store, TimeProvider clock)
{
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(10);

    /// <summary>Writes a property and waits until it reads back.</summary>
    /// <param name="order">What to write.</param>
    /// <param name="before">The value before, in words.</param>
    /// <param name="actor">Who wants it.</param>
    public Task<WriteResult> GiveAsync(CommandOrder order, string before, Actor actor) =>
        WriteAsync(order.Write, order.Path, before, order.Text, actor);

    /// <summary>Writes a tag its raw value and waits until it reads back.</summary>
    public Task<WriteResult> GiveAsync(TagWrite write, string before, Actor actor) =>
        WriteAsync(write, $"{workspace.Model.Controllers[write.Tag.ControllerId].Name} {write.Tag.Name}", before, Raw(write), actor);

    private async Task<WriteResult> WriteAsync(TagWrite write, string target, string before, string wanted, Actor actor)
    {
        if (!actor.May(ActorRights.Command))
            return WriteResult.Refused($"nothing was sent: {actor.Lacks(ActorRights.Command)}");
        long entry;
        try
        {
            // Noted before it is sent: nothing is done to a plant that nobody could read of afterwards.
            entry = store.AppendCommand(new(clock.GetUtcNow(), actor.Name, target, before, wanted, Raw(write), CommandEntry.Sending, ""));
        }
        catch (StoreException e)
        {
            return WriteResult.Refused($"nothing was sent, since it could not be noted: {e.Message}");
        }
        using var limit = new CancellationTokenSource(Longest);
        WriteResult result;
        try
        {
            result = await runtime.Links.WriteAsync(write, limit.Token);
        }
        catch (OperationCanceledException)
        {
            result = WriteResult.NotConfirmed($"the controller did not come round to it within {Longest.TotalSeconds:0} s");
        }
        var outcome = result.Outcome switch
        {
            WriteOutcome.Confirmed => "confirmed",
            WriteOutcome.Refused => "refused",
            _ => "not confirmed",
        };
        try
        {
            store.EndCommand(entry, outcome, result.Reason);
            return result;
        }
        catch (StoreException e)
        {
            var unnoted = $"what came of it could not be noted: {e.Message}";
            return result with { Reason = result.Reason.Length > 0 ? $"{result.Reason}; {unnoted}" : unnoted };
        }
    }

    private static string Raw(TagWrite write) => write.Text ?? write.Raw.ToString("R", CultureInfo.InvariantCulture);
}
