using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Core.Rules;

/// <summary>Finds the instances a formula takes together.</summary>
internal static class SetMembers
{
    /// <summary>The instances of a set's template and its descendants below a place that have its labels, in plant order.</summary>
    public static Equipment[] Of(PlantModel model, Equipment place, SetUse use)
    {
        if (FormulaNames.Of(model, place).TemplateOf(use.Template) is not { } template)
            return [];
        var family = model.Index.FamilyOf(template.Id).Select(t => t.Id).ToHashSet();
        return
        [
            .. model
                .Index.Below(place.Id)
                .Skip(1)
                .Where(e => e.TemplateId is { } its && family.Contains(its))
                .Where(e =>
                    use.Labels.IsEmpty
                    || model.Index.LabelsOf(e) is var labels && use.Labels.All(l => labels.GetValueOrDefault(l.Key) == l.Value)
                ),
        ];
    }
}
