using Fralto.Core.Engine;
using Fralto.Core.Planning;
using Fralto.Runtime.Recording;
using Fralto.StandIns.Maltings;
using Fralto.Store;

namespace Fralto.Web;

/// <summary>Gives the demo a past: the same simulation, run through the days before by an engine of its own, so that what is worked out
/// of it is
/// there as well.</summary>
public sealed class DemoPast(FraltoOptions options, PlantStore store, ModelWorkspace workspace, TimeProvider clock)
{
    private const string MadeNote = "past-made";

    /// <summary>What is to be recorded first; null when there is nothing.</summary>
    public Func<IEnumerable<(RecordBatch Batch, double Share)>>? Batches =>
        options is { IsDemo: true, PastDays: > 0 } && store.History.Note(MadeNote) is null ? Make : null;

    private IEnumerable<(RecordBatch Batch, double Share)> Make()
    {
        var now = clock.GetUtcNow();
        now = now.AddTicks(-(now.Ticks % TimeSpan.TicksPerSecond));
        var from = now.AddDays(-options.PastDays);
        var model = workspace.Released;
        var plan = Planner.Compile(model).Plan;
        var engine = new PlantEngine(plan) { Records = true };
        foreach (var batch in MaltingsPast.Of(model, Demo.Seed, from, now))
        {
            engine.Step(batch.Samples, batch.Arrived);
            engine.Advance(batch.Arrived, null);
            engine.Output.ClearChanges();
            engine.Output.Events.Clear();
            var records = engine.Output.Records;
            engine.Output.Records = [];
            yield return (new RecordBatch(plan, records, batch.Arrived.Utc.UtcTicks), (batch.Arrived.Utc - from) / (now - from));
        }
        store.History.SetNote(MadeNote, "yes");
    }
}
