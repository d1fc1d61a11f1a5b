using Fralto.Core.Exchange;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Web;

/// <summary>Checks a model in a file without starting anything: fralto check model.json.</summary>
internal static class ModelCheck
{
    private const int MostWarnings = 200;

    /// <returns>0 when the model is whole, 1 when anything is wrong with it, 2 when the file cannot be read.</returns>
    public static int Run(string file, TextWriter output, TextWriter errors)
    {
        byte[] bytes;
        try
        {
            bytes = File.ReadAllBytes(file);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            errors.WriteLine($"{file} cannot be read: {e.Message}");
            return 2;
        }
        var document = ModelFormat.Read(bytes, out var problem);
        var outcome = document is null ? null : new ReplaceModel(document).On(PlantModel.Empty);
        var problems = problem is null ? outcome!.Problems : [problem];
        foreach (var wrong in problems)
            output.WriteLine($"error {wrong.Field}: {wrong.Message}");
        if (!problems.IsEmpty)
        {
            output.WriteLine($"{file}: {problems.Length} {(problems.Length == 1 ? "error" : "errors")}");
            return 1;
        }
        var model = PlantModel.Empty.Apply(outcome!.Changes);
        var warnings = Planner.Compile(model).Findings.Where(f => f.Severity == FindingSeverity.Warning).ToArray();
        foreach (var warning in warnings.Take(MostWarnings))
            output.WriteLine(
                $"warning {warning.Code} "
                    + $"{(warning.EquipmentId == 0 ? "" : model.Index.PathOf(warning.EquipmentId) + ": ")}{warning.Message}"
            );
        if (warnings.Length > MostWarnings)
            output.WriteLine($"… and {warnings.Length - MostWarnings} more warnings");
        output.WriteLine(
            $"{file}: whole; {model.Templates.Count} templates, {model.Equipment.Count} pieces of equipment, {model.Bindings.Count} "
                + $"bindings, {warnings.Length} warnings"
        );
        return 0;
    }
}
