using Fralto.Core.Engine;
using Fralto.Links;
using Fralto.Store;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Keeps what formulas count, beside the engine: what has moved is written every two seconds, so that no more than that is lost
/// when Fralto is killed.</summary>
public sealed class FormulaKeeper(RunStore store, TimeProvider clock, ILogger<FormulaKeeper> logger)
{
    /// <summary>Most states written at once; more take turns.</summary>
    private const int Most = 10_000;

    private static readonly TimeSpan Every = TimeSpan.FromSeconds(2);
    private readonly Dictionary<(long, long, int), FormulaState> _waiting = [];
    private Task _writing = Task.CompletedTask;
    private long _last;

    /// <summary>What an earlier run has kept.</summary>
    public IReadOnlyList<FormulaState> Load() => store.FormulaStates();

    /// <summary>Takes what has moved, when it is time, and writes it elsewhere; called on the engine's thread.</summary>
    public void Look(PlantEngine engine)
    {
        if ((_last != 0 && clock.GetElapsedTime(_last) < Every) || !_writing.IsCompleted)
            return;
        _last = clock.GetTimestamp();
        Gather(engine);
        if (_waiting.Count == 0)
            return;
        var batch = _waiting.Values.ToArray();
        _waiting.Clear();
        _writing = Task.Run(() => Write(batch));
    }

    /// <summary>Writes all that is left; the engine stands still.</summary>
    public void Finish(PlantEngine engine)
    {
        _writing.Wait();
        Gather(engine, int.MaxValue);
        Write([.. _waiting.Values]);
    }

    private void Gather(PlantEngine engine, int most = Most)
    {
        foreach (var state in engine.TakeFormulaStates(clock.Moment(), most))
            lock (_waiting)
                _waiting[(state.EquipmentId, state.PropertyId, state.Piece)] = state;
    }

    private void Write(FormulaState[] batch)
    {
        try
        {
            if (batch.Length > 0)
                store.KeepFormulaStates(batch);
        }
        catch (StoreException e)
        {
            // The pages tell of the trouble; what is newer by then takes the place of these.
            logger.LogWarning("What formulas count could not be kept: {Trouble}", e.Message);
            lock (_waiting)
                foreach (var state in batch)
                    _waiting.TryAdd((state.EquipmentId, state.PropertyId, state.Piece), state);
        }
    }
}
