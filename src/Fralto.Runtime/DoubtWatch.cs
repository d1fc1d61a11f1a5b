using Fralto.Core.Plant;
using Fralto.Core.Proposals;
using Fralto.Core.Quality;
using Microsoft.Extensions.Logging;

namespace Fralto.Runtime;

/// <summary>Looks for bindings that look wrong, beside the pages: a page shows what is known when it is asked for, and is never kept
/// waiting by a large plant.</summary>
/// <remarks>What follows from the model alone is worked out again only where it changed; values are looked at again while somebody asks,
/// every few seconds.</remarks>
public sealed class DoubtWatch(PlantRuntime runtime, ProposalMemory memory, TimeProvider clock, ILogger<DoubtWatch> logger)
{
    /// <summary>A small plant is looked through within this; a page waits no longer.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromMilliseconds(40);

    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(5);

    /// <summary>What took long is not done again sooner than so many times as long.</summary>
    private const double Rest = 5;

    private readonly Lock _lock = new();
    private readonly SteadyDoubts _steady = new();
    private (PlantModel Model, CheckList List)? _list;
    private DoubtState _state = DoubtState.None;
    private Task _looking = Task.CompletedTask;
    private DateTimeOffset _again;

    /// <summary>The bindings of a model, listed, with what is known to look wrong marked.</summary>
    public CheckList ListOf(PlantModel model)
    {
        lock (_lock)
        {
            if (_list is not { } known || !ReferenceEquals(known.Model, model))
                _list = known = (model, CheckList.Of(model).Marked(_state.Doubts));
            return known.List;
        }
    }

    /// <summary>What looks wrong, as far as it is known by now; has it looked at again beside when that is old.</summary>
    /// <param name="model">The model.</param>
    public DoubtState Known(PlantModel model)
    {
        _ = LookAsync(model);
        return Volatile.Read(ref _state);
    }

    /// <summary>What looks wrong, as far as it is known; looks again when that is old.</summary>
    public async Task<DoubtState> LookAsync(PlantModel model)
    {
        Task looking;
        lock (_lock)
        {
            if (_looking.IsCompleted && (!ReferenceEquals(_state.Model, model) || clock.GetUtcNow() >= _again))
                _looking = Task.Factory.StartNew(
                    () => Look(model),
                    CancellationToken.None,
                    TaskCreationOptions.LongRunning,
                    TaskScheduler.Default
                );
            looking = _looking;
        }
        await Task.WhenAny(looking, Task.Delay(Patience, clock));
        return Volatile.Read(ref _state) with { IsLooking = !looking.IsCompleted };
    }

    private static string ReasonOf(StatusCode status, string? reason) => status == StatusCode.Good ? "" : reason ?? status.Name;

    private void Look(PlantModel model)
    {
        try
        {
            var (begin, snapshot, look) = (clock.GetTimestamp(), runtime.WorkingSnapshot, new BindingDoubts(model, memory));
            LiveReading? Live((long EquipmentId, long PropertyId) cell) =>
                snapshot.Find(cell.EquipmentId, cell.PropertyId) is { } found
                    ? new LiveReading(found.Value.Value, found.Value.Status, ReasonOf(found.Value.Status, found.Value.Reason))
                    : null;
            var doubts = new List<BindingDoubt>();
            foreach (var (template, steady) in _steady.Of(model, look))
            {
                doubts.AddRange(steady);
                doubts.AddRange(look.Moving(template, Live));
            }
            var byCell = doubts.GroupBy(d => (d.EquipmentId, d.PropertyId)).ToDictionary(g => g.Key, g => g.OrderBy(d => d.Kind).ToArray());
            var took = clock.GetElapsedTime(begin);
            var list = ListOf(model).Marked(byCell);
            lock (_lock)
            {
                if (_list is { } known && ReferenceEquals(known.Model, model))
                    _list = (model, list);
                Volatile.Write(ref _state, new(model, byCell, clock.GetUtcNow(), false));
                _again = clock.GetUtcNow() + (took * Rest > Fresh ? took * Rest : Fresh);
            }
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // What was known stays; the next who asks has it looked at again.
            logger.LogError(e, "Bindings could not be looked through");
            lock (_lock)
                _again = clock.GetUtcNow() + Fresh;
        }
    }
}
