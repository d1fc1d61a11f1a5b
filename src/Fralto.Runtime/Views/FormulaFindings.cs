using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Quality;

namespace Fralto.Runtime.Views;

/// <summary>What only running shows of formulas.</summary>
public static class FormulaFindings
{
    /// <summary>A formula has not had a value since it runs.</summary>
    public const string AlwaysBad = "FR114";

    /// <summary>A window is longer than what it has covered since it began.</summary>
    public const string ShortCover = "FR115";

    /// <summary>What is worked out or entered is taken by no formula and has no limit: only people look at it.</summary>
    public const string Unused = "FR116";

    /// <summary>What is to be said of the formulas of an instance.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="node">The instance.</param>
    public static IEnumerable<Finding> Of(PlantModel model, EngineSnapshot snapshot, Equipment node) =>
        node.TemplateId is not { } template
            ? []
            // What could be better comes after what is wrong.
            : model
                .Index.PropertiesOf(template)
                .Select(p => snapshot.Plan.PointIndexOf(node.Id, p.Id))
                .Where(i => i >= 0)
                .SelectMany(i => Of(model, snapshot, i))
                .OrderBy(f => f.Code == Unused);

    /// <summary>What is to be said of one point.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="point">The point.</param>
    public static IEnumerable<Finding> Of(PlantModel model, EngineSnapshot snapshot, int point)
    {
        var known = snapshot.Plan.Points[point];
        if (snapshot.Plan.FormulaOf(point) is >= 0 and var formula && snapshot.Plan.Formulas[formula].Program is { } program)
        {
            var value = snapshot.ValueOf(point);
            if (
                value.Status.IsBad
                && double.IsNaN(value.Value)
                && value.Text is null
                && value.Status != StatusCode.BadWaitingForInitialData
            )
                yield return new(
                    AlwaysBad,
                    FindingSeverity.Warning,
                    known.EquipmentId,
                    RunningFindings.NameOf(model, known),
                    $"has had no value yet: {value.Reason}"
                );
            else if (value.Status.IsUncertain && program.HasWindow && value.Reason is { } reason)
                yield return new(ShortCover, FindingSeverity.Hint, known.EquipmentId, RunningFindings.NameOf(model, known), reason);
        }
        if (
            known.Source is PointSource.Formula or PointSource.Entered
            && snapshot.Plan.DependentsOf(point).Length == 0
            && known.Limits.IsEmpty
        )
            yield return new(
                Unused,
                FindingSeverity.Hint,
                known.EquipmentId,
                RunningFindings.NameOf(model, known),
                "is taken by no formula and has no limit"
            );
    }
}
