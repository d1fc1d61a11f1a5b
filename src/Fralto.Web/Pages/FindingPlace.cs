using Fralto.Core.Diagnosis;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Runtime.Views;

namespace Fralto.Web.Pages;

/// <summary>Where a finding is mended.</summary>
public static class FindingPlace
{
    /// <summary>What a finding is of, with its instance.</summary>
    public static string NameOf(PlantModel model, ModelFinding row) =>
        row.Kind == EntityKinds.Equipment && model.Equipment.GetValueOrDefault(row.Id)?.Name is { } name && name != row.Finding.Subject
            ? $"{name} · {row.Finding.Subject}"
            : row.Finding.Subject;

    /// <summary>What findings of a code have in common: the property of a template, the controller of tags.</summary>
    public static string GroupOf(PlantModel model, ModelFinding row) =>
        row.Kind is null ? row.Finding.Subject[..Math.Max(0, row.Finding.Subject.IndexOf(' ', StringComparison.Ordinal))]
        : row.Kind == EntityKinds.Equipment && model.Equipment.GetValueOrDefault(row.Id) is { TemplateId: { } template } node
            ? $"{template} {(row.Finding.Subject == node.Name ? "" : row.Finding.Subject)}"
        : row.Kind == EntityKinds.Template ? $"{row.Kind.Id} {row.Id}"
        : $"{row.Kind.Id} {row.Id} {row.Finding.Subject}";

    /// <summary>The order of what matters alike: what the running plant shows, then what is wrong, then what is only not done
    /// yet.</summary>
    public static int RankOf(string code) =>
        code switch
        {
            RunningFindings.OutsideRange or RunningFindings.NoValue or RunningFindings.Doubtful or RunningFindings.Misfit => 0,
            Planner.Unbound
            or Planner.UnusedTag
            or Planner.NeverWorkedOut
            or FormulaFindings.AlwaysBad
            or FormulaFindings.ShortCover
            or FormulaFindings.Unused => 2,
            _ => 1,
        };

    /// <summary>The address.</summary>
    public static string Of(PlantModel model, ModelFinding row) =>
        row.Kind is null
            ? model.Controllers.Values.FirstOrDefault(c => row.Finding.Subject.StartsWith($"{c.Name} ", StringComparison.Ordinal))
                is { } controller
                ? $"/controllers?at={controller.Id}&filter={Uri.EscapeDataString(row.Finding.Subject[(controller.Name.Length + 1)..])}"
                : "/controllers"
            : row.Kind == EntityKinds.Equipment
                ? $"/plant?at={row.Id}"
                : row.Kind == EntityKinds.Template
                    ? $"/templates?at={row.Id}"
                    : row.Kind == EntityKinds.Scale
                        ? $"/scales?at={row.Id}"
                        : row.Kind == EntityKinds.StateList
                            ? $"/states?at={row.Id}"
                            : "/plant";
}
