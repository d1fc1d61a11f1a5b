using Fralto.Core.Diagnosis;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Runtime.Views;

namespace Fralto.Runtime;

/// <summary>Everything there is to say of the working model. What it says as it is written follows each edit at once; what only running
/// shows is looked at anew every few seconds, since it may be over by then.</summary>
public sealed class FindingCache(ModelWorkspace workspace, PlantRuntime runtime, DoubtWatch doubts, ValueWatch watch, TimeProvider clock)
{
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(5);

    /// <summary>Nobody who asks in passing has a large plant looked through without end: it rests so many times as long as that
    /// takes.</summary>
    private const int Rest = 20;

    private readonly Lock _lock = new();
    private readonly Lock _counting = new();
    private FindingBook? _book;
    private long _head;
    private Shown? _shown;
    private Kept? _kept;
    private Task _refreshing = Task.CompletedTask;

    /// <summary>All findings, errors first, then warnings, then hints: the same list for as long as it is not worked out anew.</summary>
    public IReadOnlyList<ModelFinding> All
    {
        get
        {
            lock (_lock)
            {
                var (state, snapshot) = (workspace.State, runtime.WorkingSnapshot);
                if (_kept is { } kept && IsOf(kept, state.Model, snapshot))
                    return kept.All;
                var begin = clock.GetTimestamp();
                Follow(state);
                if (_shown is not { } shown || !ReferenceEquals(shown.Plan, snapshot.Plan) || clock.GetElapsedTime(shown.At) >= Fresh)
                    _shown = shown = new(snapshot.Plan, clock.GetTimestamp(), Running(state.Model, snapshot));
                var written = _book!.BySeverity;
                var all = new List<ModelFinding>(written.Sum(w => w.Count) + shown.Findings.Sum(f => f.Count));
                var toDo = 0;
                for (var i = 0; i < written.Length; i++)
                {
                    all.AddRange(written[i]);
                    all.AddRange(shown.Findings[i].Where(f => f.Kind is null || f.Kind.Find(state.Model, f.Id) is not null));
                    if (i != (int)FindingSeverity.Hint)
                        toDo = all.Count;
                }
                _kept = new(state.Model, snapshot.Plan, clock.GetTimestamp(), clock.GetElapsedTime(begin), toDo, all);
                return all;
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

    private void Follow(WorkspaceState state)
    {
        // Put back only when it has followed whole: one that broke off half way says nothing true of either model.
        var book = _book;
        _book = null;
        if (book is null || workspace.ChangesSince(_head, state.Head) is not { } changes)
            book = new(state.Model);
        else if (!ReferenceEquals(book.Model, state.Model))
            book.Follow(state.Model, changes);
        (_book, _head) = (book, state.Head);
    }

    /// <summary>What only running shows, point by point: nothing is looked at that does not run.</summary>
    private List<ModelFinding>[] Running(PlantModel model, EngineSnapshot snapshot)
    {
        var all = Enum.GetValues<FindingSeverity>().Select(_ => new List<ModelFinding>()).ToArray();
        foreach (var (template, finding) in RunningFindings.OfSignals(model, watch))
            all[(int)finding.Severity].Add(new(finding, EntityKinds.Template, template));
        var known = doubts.Known(model);
        for (var point = 0; point < snapshot.Plan.Shown; point++)
            foreach (
                var finding in FormulaFindings.Of(model, snapshot, point).Concat(RunningFindings.Of(model, snapshot, known, watch, point))
            )
                all[(int)finding.Severity].Add(new(finding, EntityKinds.Equipment, finding.EquipmentId));
        return all;
    }

    private bool IsOf(Kept kept, PlantModel model, EngineSnapshot snapshot, TimeSpan rest = default) =>
        ReferenceEquals(kept.Model, model)
        && ReferenceEquals(kept.Plan, snapshot.Plan)
        && clock.GetElapsedTime(kept.At) < (rest > Fresh ? rest : Fresh);

    private sealed record Kept(PlantModel Model, Plan Plan, long At, TimeSpan Took, int ToDo, IReadOnlyList<ModelFinding> All);

    private sealed record Shown(Plan Plan, long At, List<ModelFinding>[] Findings);
}
