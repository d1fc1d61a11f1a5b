using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Core.Diagnosis;

/// <summary>What mends a finding where only one answer is certain.</summary>
/// <param name="Words">What it does, as a button says it.</param>
/// <param name="Edit">The edit.</param>
public sealed record FindingFix(string Words, Edit Edit)
{
    /// <summary>The fix of a finding; null where a person has to decide.</summary>
    /// <param name="model">The model.</param>
    /// <param name="code">Code of the finding.</param>
    /// <param name="kind">Kind of what it is about; null for a tag.</param>
    /// <param name="id">Its id.</param>
    public static FindingFix? Of(PlantModel model, string code, EntityKind? kind, long id) =>
        code switch
        {
            Planner.MissingPart when kind == EntityKinds.Equipment => new("Add the missing parts", new AddParts([id])),
            ModelFindings.UnusedScale => new("Take the scale out", new RemoveScale(id)),
            ModelFindings.UnusedStateList => new("Take the state list out", new RemoveStateList(id)),
            ModelFindings.LabelApart => Spelled(model, kind, id),
            _ => null,
        };

    /// <summary>Spells the labels of a node or template as they are spelled most often.</summary>
    private static FindingFix? Spelled(PlantModel model, EntityKind? kind, long id)
    {
        if (kind == EntityKinds.Equipment && model.Equipment.TryGetValue(id, out var node))
        {
            var labels = node.Labels.SetItems(
                ModelFindings.LabelsApart(model).Where(l => l.Kind == kind && l.Id == id).Select(l => KeyValuePair.Create(l.Key, l.Right))
            );
            return new(
                "Spell it as elsewhere",
                new SaveEquipment(id, node.Code, node.Name, node.Level, node.ParentId, node.TemplateId, labels)
            );
        }
        if (kind == EntityKinds.Template && model.Templates.TryGetValue(id, out var template))
        {
            var labels = template.Labels.SetItems(
                ModelFindings.LabelsApart(model).Where(l => l.Kind == kind && l.Id == id).Select(l => KeyValuePair.Create(l.Key, l.Right))
            );
            return new(
                "Spell it as elsewhere",
                new SaveTemplate(id, template.Code, template.Name, template.ParentId, template.Description, template.Levels, labels)
            );
        }
        return null;
    }
}
