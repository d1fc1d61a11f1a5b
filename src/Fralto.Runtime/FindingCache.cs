using Fralto.Core.Plant;
using Fralto.Runtime.Views;

namespace Fralto.Runtime;

/// <summary>Everything there is to say of the plant, worked out once for as long as the model is the same and a few seconds have not
/// passed: what only running shows may be over by then.</summary>
public sealed class FindingCache(ModelWorkspace workspace, PlantRuntime runtime, TimeProvider clock)
{
    private static readonly TimeSpan Fresh = TimeSpan.FromSeconds(5);
    private readonly Lock _lock = new();
    private (PlantModel Model, object Findings, long At, IReadOnlyList<FoundRow> Rows)? _kept;

    /// <summary>All findings; the same list for as long as it is not worked out anew.</summary>
    public IReadOnlyList<FoundRow> All
    {
        get
        {
            var (model, snapshot) = (workspace.Model, runtime.WorkingSnapshot);
            lock (_lock)
            {
                if (
                    _kept is { } kept
                    && ReferenceEquals(kept.Model, model)
                    && ReferenceEquals(kept.Findings, snapshot.Findings)
                    && clock.GetElapsedTime(kept.At) < Fresh
                )
                    return kept.Rows;
                var rows = FoundRow.Of(model, snapshot);
                _kept = (model, snapshot.Findings, clock.GetTimestamp(), rows);
                return rows;
            }
        }
    }
}
