using System.Globalization;
using System.Threading.Channels;
using Fralto.Core.Alarms;
using Fralto.Core.Engine;
using Fralto.Core.History;
using Fralto.Core.Planning;
using Fralto.Runtime.Recording;
using Fralto.StandIns.Maltings;
using Fralto.Store;

namespace Fralto.Web;

/// <summary>Gives the demo a past: the same simulation, run through the days before by an engine of its own, so that what is worked out
/// of it is there as well, and the alarms it raised, which somebody on shift has acknowledged.</summary>
public sealed class DemoPast(FraltoOptions options, PlantStore store, ModelWorkspace workspace, TimeProvider clock)
{
    private const string BegunNote = "past-begun";
    private const string MadeNote = "past-made";

    /// <summary>So many steps are made ahead of what is recorded.</summary>
    private const int Ahead = 200;

    private static readonly TimeSpan AcknowledgedAfter = TimeSpan.FromMinutes(3);

    private List<AlarmEvent> _raised = [];

    /// <summary>What is to be recorded first; null when there is nothing. What an earlier run has made of it half is taken out, unless
    /// values of the plant itself stand behind it: those are not given up for a past.</summary>
    public PastToMake? Begin()
    {
        if (options is not { IsDemo: true, PastDays: > 0 } || store.History.Note(MadeNote) is not null)
            return null;
        try
        {
            if (store.History.Note(BegunNote) is { } begun)
            {
                if (LivesSince(long.Parse(begun, CultureInfo.InvariantCulture)))
                {
                    store.History.SetNote(MadeNote, "left as it was");
                    return null;
                }
                foreach (var series in store.History.Series().Values)
                    store.History.TakeOut(series);
            }
            // The past ends here, however late its making begins: what is kept from after this moment is of the plant itself.
            var now = clock.GetUtcNow();
            now = now.AddTicks(-(now.Ticks % TimeSpan.TicksPerSecond));
            store.History.SetNote(BegunNote, now.UtcTicks.ToString(CultureInfo.InvariantCulture));
            return new(MadeBeside(now), Finish);
        }
        catch (StoreException)
        {
            // The store says what is wrong; the past is made the next time.
            return null;
        }
    }

    /// <summary>True where anything is kept that was recorded after a time.</summary>
    private bool LivesSince(long ticks)
    {
        if (store.History.LastClosed().Values.Any(last => last > ticks))
            return true;
        var samples = new List<HistorySample>();
        foreach (var (_, _, data) in store.History.OpenChunks())
            ChunkReader.Read(data, samples);
        return samples.Exists(s => s.Ticks > ticks);
    }

    private void Finish()
    {
        store.Run.KeepEarlierAlarms(_raised);
        store.History.SetNote(MadeNote, "yes");
    }

    /// <summary>What is made on one thread while the other records.</summary>
    private IEnumerable<(RecordBatch Batch, double Share)> MadeBeside(DateTimeOffset now)
    {
        using var stop = new CancellationTokenSource();
        var steps = Channel.CreateBounded<(RecordBatch, double)>(Ahead);
        var making = Task.Run(async () =>
        {
            Exception? wrong = null;
            try
            {
                foreach (var step in Make(now))
                    await steps.Writer.WriteAsync(step, stop.Token);
            }
            catch (Exception e)
            {
                wrong = e;
            }
            steps.Writer.Complete(wrong);
        });
        try
        {
            foreach (var step in steps.Reader.ReadAllAsync().ToBlockingEnumerable())
                yield return step;
        }
        finally
        {
            stop.Cancel();
            making.Wait();
        }
    }

    private IEnumerable<(RecordBatch Batch, double Share)> Make(DateTimeOffset now)
    {
        var from = now.AddDays(-options.PastDays);
        var model = workspace.Released;
        var plan = Planner.Compile(model).Plan;
        var engine = new PlantEngine(plan) { Records = true };
        var (events, raised) = (new List<AlarmEvent>(), new Queue<AlarmEvent>());
        foreach (var batch in new MaltingsPast(model, Demo.Seed).Between(from, now))
        {
            var at = batch.Arrived.Utc;
            engine.Step(batch.Samples, batch.Arrived);
            engine.Advance(batch.Arrived, null);
            while (raised.TryPeek(out var first) && at - first.Time >= AcknowledgedAfter)
                engine.Do(new(raised.Dequeue().Key, AlarmCause.AcknowledgedByOperator, ShiftAt(at)), batch.Arrived);
            foreach (var one in engine.Output.Events)
            {
                events.Add(one);
                if (one.Cause == AlarmCause.ConditionRaised)
                    raised.Enqueue(one);
            }
            engine.Output.ClearChanges();
            engine.Output.Events.Clear();
            var records = engine.Output.Records;
            engine.Output.Records = [];
            yield return (new RecordBatch(plan, records, at.UtcTicks), (at - from) / (now - from));
        }
        // What stands at the end would go on in the running plant, which begins anew: its last episode is left out.
        events.RemoveAll(e => engine.AlarmOf(e.Key) is { } alarm && alarm.State.IsStanding() && e.Time >= alarm.RaisedAt);
        _raised = events;
    }

    private static string ShiftAt(DateTimeOffset at) => at.Hour is >= 6 and < 18 ? "day shift" : "night shift";
}
