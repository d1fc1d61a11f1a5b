using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Runtime.Views;

namespace Fralto.Runtime;

/// <summary>Everything there is to say of the working model, worked out once for as long as it is the same and a few seconds have not
/// passed: what only running shows may be over by then.</summary>
public sealed class FindingCache(ModelWorkspace workspace, PlantRuntime runtime, DoubtWatch doubts, TimeProvider clock)
{
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(5);
    private readonly Lock _lock = new();
    private readonly Lock _counting = new();
    private Kept? _kept;
    private Task _refreshing = Task.CompletedTask;

    /// <summary>All findings; the same list for as long as it is not worked out anew.</summary>
    public IReadOnlyList<FoundRow> All
    {
        get
        {
            lock (_lock)
            {
                var (model, snapshot) = (workspace.Model, runtime.WorkingSnapshot);
                if (_kept is { } kept && IsOf(kept, model, snapshot))
                    return kept.Rows;
                var rows = FoundRow.Of(model, snapshot, doubts.Known(model));
                _kept = new(model, snapshot.Findings, clock.GetTimestamp(), rows);
                return rows;
            }
        }
    }

    /// <summary>The findings as they were worked out last; null before the first time. Whoever asks does not wait: when they are of
    /// yesterday they are worked out beside.</summary>
    public IReadOnlyList<FoundRow>? Known
    {
        get
        {
            var kept = Volatile.Read(ref _kept);
            if (kept is null || !IsOf(kept, workspace.Model, runtime.WorkingSnapshot))
                lock (_counting)
                    if (_refreshing.IsCompleted)
                        _refreshing = Task.Run(() => All);
            return kept?.Rows;
        }
    }

    private bool IsOf(Kept kept, PlantModel model, EngineSnapshot snapshot) =>
        ReferenceEquals(kept.Model, model) && ReferenceEquals(kept.Findings, snapshot.Findings) && clock.GetElapsedTime(kept.At) < Fresh;

    private sealed record Kept(PlantModel Model, FindingList Findings, long At, IReadOnlyList<FoundRow> Rows);
}
