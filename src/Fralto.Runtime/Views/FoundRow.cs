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
    /// <param name="watch">What values have been.</param>
    public static IReadOnlyList<FoundRow> Of(PlantModel model, EngineSnapshot snapshot, DoubtState doubts, ValueWatch watch)
    {
        var rows = Written(model, snapshot.Findings)
            .Concat(RunningFindings.OfSignals(model, watch).Select(f => new FoundRow(f.Finding, "", EntityKinds.Template, f.TemplateId)))
            .Concat(Running(model, snapshot, doubts, watch));
        var bySeverity = Enum.GetValues<FindingSeverity>().Select(_ => new List<FoundRow>()).ToArray();
        foreach (var row in rows)
            bySeverity[(int)row.Finding.Severity].Add(row);
        return [.. bySeverity.SelectMany(r => r)];
    }

    /// <summary>What only running shows, point by point: nothing is looked at that does not run.</summary>
    private static IEnumerable<FoundRow> Running(PlantModel model, EngineSnapshot snapshot, DoubtState doubts, ValueWatch watch)
    {
        for (var point = 0; point < snapshot.Plan.Shown; point++)
            foreach (
                var finding in FormulaFindings.Of(model, snapshot, point).Concat(RunningFindings.Of(model, snapshot, doubts, watch, point))
            )
                if (model.Equipment.ContainsKey(finding.EquipmentId))
                    yield return new(finding, model.Index.PathOf(finding.EquipmentId), EntityKinds.Equipment, finding.EquipmentId);
    }
}
