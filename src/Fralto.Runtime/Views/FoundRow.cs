using Fralto.Core.Diagnosis;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Runtime.Views;

/// <summary>A finding of the plant: what, how much it matters, and where.</summary>
/// <param name="Finding">The finding.</param>
/// <param name="Path">Path of the instance; empty for what is of no place.</param>
/// <param name="Kind">Kind of what it is about; null for a tag, which its name tells.</param>
/// <param name="Id">Its id.</param>
public sealed record FoundRow(Finding Finding, string Path, EntityKind? Kind, long Id)
{
    /// <summary>What the code means.</summary>
    public FindingKind Meaning => FindingKind.Of(Finding.Code);

    /// <summary>What tells it from all others.</summary>
    public string Key => $"{Finding.Code}.{Kind?.Id}.{Id}.{Finding.Subject}";

    /// <summary>What there is to say of a model that does not run.</summary>
    /// <param name="model">The model.</param>
    /// <param name="planned">What the planner says of it.</param>
    public static IEnumerable<FoundRow> Written(PlantModel model, FindingList planned) =>
        // What is of a template is asked of the model, which knows of which.
        planned
            .Where(f => f.Code != Planner.NameApart)
            .Select(f =>
                model.Equipment.ContainsKey(f.EquipmentId)
                    ? new FoundRow(f, model.Index.PathOf(f.EquipmentId), EntityKinds.Equipment, f.EquipmentId)
                    : new(f, "", null, 0)
            )
            .Concat(
                ModelFindings
                    .Of(model)
                    .Select(f => new FoundRow(f.Finding, f.Kind == EntityKinds.Equipment ? model.Index.PathOf(f.Id) : "", f.Kind, f.Id))
            );

    /// <summary>Everything there is to say of a plant: of its plan, of the model as it is written, and of what only running shows; errors
    /// first, then warnings, inside in the order of the plant.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="doubts">What looks wrong of bindings.</param>
    public static IReadOnlyList<FoundRow> Of(PlantModel model, EngineSnapshot snapshot, DoubtState doubts)
    {
        var running = model.Index.EquipmentInOrder.SelectMany(e =>
            FormulaFindings
                .Of(model, snapshot, e)
                .Concat(RunningFindings.Of(model, snapshot, doubts, e))
                .Select(f => new FoundRow(f, model.Index.PathOf(e.Id), EntityKinds.Equipment, e.Id))
        );
        return [.. Written(model, snapshot.Findings).Concat(running).OrderBy(f => f.Finding.Severity)];
    }
}
