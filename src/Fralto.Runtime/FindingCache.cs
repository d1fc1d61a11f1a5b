using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Runtime.Views;

namespace Fralto.Runtime;

/// <summary>Everything there is to say of the working model, worked out once for as long as it is the same and a few seconds have not
/// passed: what only running shows may be over by then.</summary>
public sealed class FindingCache(ModelWorkspace workspace, PlantRuntime runtime, DoubtWatch doubts, ValueWatch watch, TimeProvider clock)
{
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(5);

    /// <summary>Nobody who asks in passing has a large plant looked through without end: it rests so many times as long as that
    /// takes.</summary>
    private const int Rest = 20;

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
                var begin = clock.GetTimestamp();
                var rows = FoundRow.Of(model, snapshot, doubts.Known(model), watch);
                var toDo = rows.Count(r => r.Finding.Severity != FindingSeverity.Hint);
                _kept = new(model, snapshot.Findings, clock.GetTimestamp(), clock.GetElapsedTime(begin), toDo, rows);
                return rows;
            }
        }
    }

    /// <summary>How many errors and warnings there were when it was looked at last; null before the first time. Whoever asks does not
    /// wait: what is of yesterday is worked out anew beside.</summary>
    public int? KnownToDo
    {
        get
        {
            var kept = Volatile.Read(ref _kept);
            if (kept is null || !IsOf(kept, workspace.Model, runtime.WorkingSnapshot, kept.Took * Rest))
                lock (_counting)
                    if (_refreshing.IsCompleted)
                        _refreshing = Task.Run(() => All);
            return kept?.ToDo;
        }
    }

    private bool IsOf(Kept kept, PlantModel model, EngineSnapshot snapshot, TimeSpan rest = default) =>
        ReferenceEquals(kept.Model, model)
        && ReferenceEquals(kept.Findings, snapshot.Findings)
        && clock.GetElapsedTime(kept.At) < (rest > Fresh ? rest : Fresh);

    private sealed record Kept(PlantModel Model, FindingList Findings, long At, TimeSpan Took, int ToDo, IReadOnlyList<FoundRow> Rows);
}
