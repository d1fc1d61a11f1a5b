using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Rules;

/// <summary>What is wrong with what layers say about a property, taken together.</summary>
public static class FactRules
{
    /// <summary>Longest text of a fixed property, in characters.</summary>
    public const int LongestValue = 200;

    /// <summary>Longest description of a property, in characters.</summary>
    public const int LongestDescription = 300;

    private const double MostValid = 10 * 366 * 86400d;
    private const int MostBelow = 3;

    /// <summary>What is wrong with what a layer says about a property, by field.</summary>
    public static IEnumerable<Problem> Problems(PlantModel model, PropertyDeclaration property, PropertyPatch facts)
    {
        var unit = model.Units.Find(facts.Unit);
        if (facts.Unit is { } code && unit is null)
            yield return new("Unit", model.Units.Unknown(code));
        if (facts.Range is { IsUsable: false } range)
            yield return new("RangeHigh", $"The range {range.Low} … {range.High} is empty; low and high must differ.");
        else if (facts.Range is { } upright && upright.Low > upright.High)
            yield return new(
                "RangeHigh",
                $"The range runs from {upright.Low} down to {upright.High}; put the smaller number first. Turn the scale round instead."
            );
        if (facts.ScaleId is { } named && !model.Scales.ContainsKey(named))
            yield return new("ScaleId", "This scale no longer exists; choose another.");
        foreach (var problem in facts.Scale is null ? [] : EntityRules.Problems(model, facts.Scale))
            yield return problem;
        if (
            unit is not null
            && model.Units.Find(model.ScaleOf(facts)?.YieldedUnit) is { } yielded
            && UnitConversion.Between(yielded, unit) is null
        )
            yield return new(
                "Unit",
                $"The scale yields {yielded.Symbol} ({yielded.Quantity}), the property is in {unit.Symbol} ({unit.Quantity}); no "
                    + $"factor leads from one to the other."
            );
        if (property.Type == PropertyType.State && (facts.StateListId is not { } set || !model.StateLists.ContainsKey(set)))
            yield return new("StateListId", "Choose the state list that names its values.");
        if (
            property.Type == PropertyType.Boolean
            && facts.StateListId is { } two
            && model.StateLists.GetValueOrDefault(two) is { } its2
            && its2.States.FirstOrDefault(s => s.Value is not (0 or 1)) is { Name: not null } beyond
        )
            yield return new(
                "StateListId",
                $"{its2.Name} names {beyond.Value} ({beyond.Name}); true or false is 0 and 1 alone. Choose another list, or the type state."
            );
        if (facts.Value is { } value && (value.Length > LongestValue || value.Any(char.IsControl)))
            yield return new("Value", $"A value is one line of at most {LongestValue} characters.");
        else if (
            facts.Value is { } written
            && property.Type.ValueProblem(written, facts.StateListId is { } its ? model.StateLists.GetValueOrDefault(its) : null)
                is { } wrong
        )
            yield return new("Value", wrong);
        if (facts.Value is not null && property.Kind != PropertyKind.Fixed)
            yield return new("Value", "Only a fixed property has its value in the model.");
        if (facts.Formula is not null && property.Kind is not (PropertyKind.Calculated or PropertyKind.Command))
            yield return new("Formula", "Only a calculated property has a formula, and a command may follow one.");
        var follows = property.Kind == PropertyKind.Command && facts.Formula is not null;
        if (facts.FollowSeconds is not null && !follows)
            yield return new("FollowSeconds", "Only a command that follows a formula is given values again and again.");
        else if (facts.FollowSeconds is { } every && every is not (>= 1 and <= 86_400))
            yield return new("FollowSeconds", "A command is given a value once in 1 s to 86400 s.");
        if (facts.FollowDeadband is not null && !follows)
            yield return new("FollowDeadband", "Only a command that follows a formula has a deadband here.");
        else if (facts.FollowDeadband < 0)
            yield return new("FollowDeadband", "A deadband is 0 or more.");
        if (facts.AtStart is { } start)
        {
            if (property.Kind != PropertyKind.Command)
                yield return new("AtStart", "Only a command is given a value at a start.");
            else if (follows)
                yield return new("AtStart", "It follows a formula, also at a start; leave one of the two empty.");
            else if (
                start != PropertyPatch.LastGiven
                && property.Type.ValueProblem(start, facts.StateListId is { } list ? model.StateLists.GetValueOrDefault(list) : null)
                    is { } misfit
            )
                yield return new("AtStart", $"{misfit} Or write {PropertyPatch.LastGiven}.");
        }
        if (facts.Formula is { Length: > Formulas.Formula.Longest } longFormula)
            yield return new("Formula", $"The formula has {longFormula.Length} characters; {Formulas.Formula.Longest} is the most.");
        if (facts.ValidSeconds is not null && property.Kind != PropertyKind.Entered)
            yield return new("ValidSeconds", "Only an entered value can grow old.");
        if (facts.ValidSeconds is { } valid && valid is not (>= 1 and <= MostValid))
            yield return new("ValidSeconds", "An entered value holds for 1 s to 10 years.");
        if (facts.Description is { Length: > LongestDescription } text)
            yield return new("Description", $"The description has {text.Length} characters; {LongestDescription} is the most.");
        foreach (var problem in RecordingProblems(property, facts))
            yield return problem;
        foreach (var problem in LimitProblems(model, property, facts))
            yield return problem;
    }

    private static IEnumerable<Problem> RecordingProblems(PropertyDeclaration property, PropertyPatch facts)
    {
        if (facts.Recording is not { } says)
            yield break;
        if (property.Kind == PropertyKind.Fixed)
            yield return new("Record", "A fixed property has no values of its own to record.");
        if ((says.Deadband ?? says.DeadbandPercent) is not null && !property.Type.IsNumeric())
            yield return new("RecordDeadband", "Only numbers have a deadband; everything else is recorded when it changes.");
        if (says is { Deadband: not null, DeadbandPercent: not null })
            yield return new("RecordDeadband", "A deadband is in the unit or in percent of the range, one of the two.");
        if (says.Deadband is { } deadband && !(deadband >= 0 && double.IsFinite(deadband)))
            yield return new("RecordDeadband", "A deadband is 0 or more.");
        if (says.DeadbandPercent is { } percent && !(percent is >= 0 and <= 100))
            yield return new("RecordDeadband", "A deadband is 0 to 100 % of the range.");
        if (says.DeadbandPercent > 0 && facts.Range is null)
            yield return new("RecordDeadband", "A deadband in percent needs a range to be a percent of.");
        if (says.Every is { } every && !(every is >= 0 and <= RecordingRule.LongestEvery))
            yield return new("RecordEvery", $"The interval is 0 (none) to {RecordingRule.LongestEvery} s.");
        if (says.OnChange == false && !(says.Every > 0))
            yield return new("RecordEvery", "What is not recorded on change needs an interval.");
        if (says.KeepDays is { } days && !(days is >= 0.01 and <= RecordingRule.MostDays))
            yield return new("KeepDays", $"Values are kept 0.01 to {RecordingRule.MostDays} days.");
        if (says.KeepSummedDays is { } summed && !(summed is >= 0.01 and <= RecordingRule.MostDays))
            yield return new("KeepSummedDays", $"What is summed up is kept 0.01 to {RecordingRule.MostDays} days.");
        if (says.KeepCount is { } count && count < 1)
            yield return new("KeepCount", "At least one value is kept.");
        if (says.While is { } condition && (condition.Length > Naming.LongestCode * 2 || condition.Any(char.IsControl)))
            yield return new("RecordWhile", "Name a property of the instance by its code, or one and its value: Phase=3.");
    }

    private static IEnumerable<Problem> LimitProblems(PlantModel model, PropertyDeclaration property, PropertyPatch facts)
    {
        var resolved = new ResolvedProperty(property, 0, facts, facts);
        if ((resolved.Limits.Length > 0 || facts.Limits.Values.Any(l => l.From is not null)) && !property.Type.IsNumeric())
            yield return new("HighHighSetpoint", "Levels belong to numbers.");
        foreach (var (condition, field, message) in LimitRules.Problems(resolved.Limits, model.RangeOf(facts)))
            yield return new($"{condition}{field}", message);
        foreach (var (condition, patch) in facts.Limits)
            if (
                patch.Setpoint is null
                && patch.From is null
                && (patch.Deadband ?? patch.Priority ?? patch.OnDelay ?? patch.OffDelay) is not null
            )
                yield return new(
                    $"{condition}Setpoint",
                    $"{condition.Letters()} has a deadband, delay or priority but no setpoint; give it one, or clear the row."
                );
        foreach (var (condition, patch) in facts.Limits)
        {
            if (patch.Kind is not null)
                yield return new($"{condition}Kind", $"{condition.Letters()} is a level; a limit of another kind has a code of its own.");
            if (patch is { Setpoint: not null, From: not null })
                yield return new(
                    $"{condition}From",
                    $"{condition.Letters()} has a number and a property as its setpoint; leave one empty."
                );
            foreach (var (field, message) in LimitRules.Problems(condition.Letters(), patch))
                yield return new($"{condition}{field}", message);
        }
        foreach (var (code, patch) in facts.Others)
        {
            var isLevel = LimitConditions.Find(code) is not null;
            var codeWrong = isLevel ? $"{code} is a level; give the limit another code." : Naming.CodeProblem(code);
            if (codeWrong is not null)
                yield return new(LimitFormulaRules.FieldOf(code, "Code"), codeWrong);
            foreach (var (field, message) in LimitRules.ProblemsOfOther(code, patch, property.Type.IsNumeric(), model.RangeOf(facts)))
                yield return new(LimitFormulaRules.FieldOf(code, field), message);
        }
    }

    /// <summary>What a template's property would make wrong in descendants and instances that say something of their own about
    /// it.</summary>
    /// <param name="model">The model as it would be.</param>
    /// <param name="layerId">The template; an instance has nothing below it.</param>
    /// <param name="propertyId">The property.</param>
    public static IEnumerable<Problem> BelowProblems(PlantModel model, long layerId, long propertyId) =>
        model
            .Index.FamilyOf(layerId)
            .SelectMany(template =>
                template.Id != layerId && template.Patches.ContainsKey(propertyId)
                    ? ProblemsAt(model, template.Name, model.Index.PropertiesOf(template.Id), propertyId)
                    : []
            )
            .Concat(
                model
                    .Index.FamilyOf(layerId)
                    .SelectMany(t => model.Index.InstancesOf(t.Id))
                    .Where(e => e.Patches.ContainsKey(propertyId))
                    .SelectMany(e => ProblemsAt(model, model.Index.PathOf(e.Id), model.Index.PropertiesOf(e), propertyId))
            )
            .Take(MostBelow);

    private static IEnumerable<Problem> ProblemsAt(
        PlantModel model,
        string where,
        IEnumerable<ResolvedProperty> properties,
        long propertyId
    )
    {
        var property = properties.First(p => p.Id == propertyId);
        return Problems(model, property.Declaration, property.Facts)
            .Select(p => new Problem("", $"{where} says something of its own: {p.Message}"));
    }
}
