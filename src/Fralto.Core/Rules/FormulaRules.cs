using System.Collections.Immutable;
using Fralto.Core.Formulas;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Rules;

/// <summary>What is wrong with the formulas of a model.</summary>
public static class FormulaRules
{
    private const int MostPath = 12;

    /// <summary>The formula of a property as a template or an instance has it; with what is wrong, in the order of the text.</summary>
    /// <param name="model">The model.</param>
    /// <param name="names">What its names stand for.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    public static (FormulaProgram? Program, ImmutableArray<FormulaProblem> Problems) Compile(
        PlantModel model,
        IFormulaNames names,
        ResolvedProperty property
    ) =>
        FormulaCompiler.Compile(
            Formula.Read(property.Facts.Formula ?? "", model.Units, FormulaNames.Codes(model)),
            names,
            FormulaNames.TargetOf(model, property)
        );

    /// <summary>Why the formula of a property cannot be as it is; null when it can, or when it has none.</summary>
    /// <param name="model">The model as it would be.</param>
    /// <param name="layer">The template or instance that has the property.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    public static FormulaProblem? Problem(PlantModel model, long layer, ResolvedProperty property)
    {
        if (property.Facts.Formula is null)
            return null;
        var names = model.Equipment.TryGetValue(layer, out var instance) ? FormulaNames.Of(model, instance) : FormulaNames.Of(model, layer);
        var (program, problems) = Compile(model, names, property);
        if (program is null)
            return problems[0];
        if (property.Declaration.Kind == PropertyKind.Command)
            return program.HasState
                ? new(
                    0,
                    property.Facts.Formula.Length,
                    "A command follows what is now; give what counts, waits or looks back a calculated property of its own, "
                        + "and follow that."
                )
                : null;
        return Cycle(model, names, property) is { } cycle ? new(0, property.Facts.Formula.Length, cycle) : null;
    }

    /// <summary>The way on which a property would be worked out of itself, in words; null when there is none.</summary>
    public static string? Cycle(PlantModel model, FormulaNames names, ResolvedProperty property)
    {
        var path = new List<string>();
        return Leads(model, names, property, property.Id, path, [])
            ? $"It would be worked out of itself: {property.Code} ← {string.Join(" ← ", path.Take(MostPath))}."
            : null;
    }

    private static bool Leads(
        PlantModel model,
        FormulaNames names,
        ResolvedProperty from,
        long to,
        List<string> path,
        HashSet<(long, string)> seen
    )
    {
        if (from.Declaration.Kind != PropertyKind.Calculated || from.Facts.Formula is not { } text)
            return false;
        var formula = Formula.Read(text, model.Units, FormulaNames.Codes(model));
        foreach (var (reference, _, _) in formula.References)
        {
            if (names.Find(reference) is not { } found || !seen.Add((found.Property.Id, $"{reference}")))
                continue;
            path.Add($"{reference}");
            // A reference to the same property of another instance is no circle by itself: only the plan can tell.
            if (found.Property.Id == to && reference.Place == ReferencePlace.Own && !reference.Path.Contains('.', StringComparison.Ordinal))
                return true;
            if (
                reference.Place == ReferencePlace.Own
                && !reference.Path.Contains('.', StringComparison.Ordinal)
                && Leads(model, names, found.Property, to, path, seen)
            )
                return true;
            path.RemoveAt(path.Count - 1);
        }
        return false;
    }
}
