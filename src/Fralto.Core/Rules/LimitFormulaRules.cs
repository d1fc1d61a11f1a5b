using Fralto.Core.Basics;
using Fralto.Core.Formulas;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>What is wrong with limits that are worked out by formulas, and in which numbers they run.</summary>
public static class LimitFormulaRules
{
    private const double SecondsPerMinute = 60;

    /// <summary>What is wrong with the limits of a property as a template or an instance has them.</summary>
    /// <param name="model">The model as it would be.</param>
    /// <param name="layer">The template or instance that has the property.</param>
    /// <param name="property">The property, with all that its layers say.</param>
    public static IEnumerable<Problem> Problems(PlantModel model, long layer, ResolvedProperty property)
    {
        var watched = LimitFormula.Of(property).ToArray();
        var said = property
            .Facts.Limits.Select(l => (Code: l.Key.Letters(), l.Value))
            .Concat(property.Facts.Others.Select(o => (o.Key, o.Value)));
        if (watched.Length == 0 && said.All(s => s.Value is { Message: null, Capture: null, Translations: null }))
            yield break;
        var names = model.Equipment.TryGetValue(layer, out var instance) ? FormulaNames.Of(model, instance) : FormulaNames.Of(model, layer);
        var isCode = FormulaNames.Codes(model);
        foreach (var limit in watched)
        {
            var (program, problems) = FormulaCompiler.Compile(Formula.Read(limit.Text, model.Units, isCode), names, null);
            var wrong = program is null ? problems[0].Words : Misfit(limit, program, model.Units.Find(property.Facts.Unit));
            if (wrong is not null)
                yield return new(
                    FieldOf(limit.Code, limit.IsGate ? nameof(LimitPatch.CountsWhile) : nameof(LimitPatch.From)),
                    $"{limit.Code}: {wrong}"
                );
        }
        foreach (var (code, says) in said)
        {
            foreach (
                var (field, name) in AlarmText
                    .PlaceholdersOf(says.Message ?? "")
                    .Select(n => (nameof(LimitPatch.Message), n))
                    .Concat(AlarmText.PlaceholdersOf(says.Translations ?? "").Select(n => (nameof(LimitPatch.Translations), n)))
            )
                if (!AlarmText.Known.Contains(name) && !IsReference(name))
                    yield return new(
                        FieldOf(code, field),
                        $"{code}: {{{name}}} names nothing here. Known are "
                            + $"{string.Join(", ", AlarmText.Known.Select(k => $"{{{k}}}"))} and the codes of properties."
                    );
            foreach (var (_, _, name) in AlarmText.CapturesOf(says.Capture ?? ""))
                if (name is not null && !IsReference(name))
                    yield return new(
                        FieldOf(code, nameof(LimitPatch.Capture)),
                        $"{code}: there is no property {name} to capture; a fixed text is written key = value."
                    );
        }

        bool IsReference(string text) =>
            Formula.Read(text, model.Units, isCode) is { Problem: null } formula
            && formula.References.Take(2).ToArray() is [var only]
            && only.At == 0
            && only.End == text.Length
            && names.Find(only.Reference) is not null;
    }

    /// <summary>The name of a field of a limit, as problems call it.</summary>
    /// <param name="code">Code of the limit.</param>
    /// <param name="field">The field.</param>
    public static string FieldOf(string code, string field) =>
        LimitConditions.Find(code) is { } level ? $"{level}{field}" : $"Others.{code}.{field}";

    /// <summary>Why a formula cannot be the condition of a limit; null when it can.</summary>
    /// <param name="limit">The limit.</param>
    /// <param name="program">Its formula.</param>
    /// <param name="unit">The property's unit; null for none.</param>
    public static string? Misfit(LimitFormula limit, FormulaProgram program, Unit? unit)
    {
        var isTruth = program.Result.Kind == FormulaKind.Truth;
        if (limit.Scale == LimitScale.Truth)
            return isTruth ? null : "the formula is not true or false; compare it with something, as in Level > 3 m.";
        if (program.Result.Kind != FormulaKind.Number)
            return "it compares numbers, and this is none.";
        if (limit.Scale == LimitScale.Seconds)
            return null;
        var wanted = unit is null ? Measure.One : Measure.Of(unit);
        if (limit.Scale == LimitScale.UnitPerMinute)
            wanted = wanted.Times(Measure.Second, -1);
        return program.Result.Measure.Dimension == wanted.Dimension
            ? null
            : $"it is measured in {program.Result.Measure.Product()}, which does not go with {unit?.Symbol ?? "a bare number"}.";
    }

    /// <summary>The limit in the numbers its formula yields.</summary>
    /// <param name="limit">The limit.</param>
    /// <param name="program">Its formula.</param>
    /// <param name="unit">The property's unit; null for none.</param>
    public static Limit InUnitOf(LimitFormula limit, FormulaProgram program, Unit? unit)
    {
        var own = program.Result.Measure.Factor;
        var factor = limit.Scale switch
        {
            LimitScale.Unit => (unit?.Factor ?? 1) / own,
            LimitScale.UnitPerMinute => (unit?.Factor ?? 1) / SecondsPerMinute / own,
            LimitScale.Seconds => 1 / own,
            _ => 1,
        };
        return limit.Limit with { Setpoint = limit.Limit.Setpoint * factor, Deadband = limit.Limit.Deadband * factor };
    }
}
