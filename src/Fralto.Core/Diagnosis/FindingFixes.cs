using Fralto.Core.Edits;
using Fralto.Core.Planning;
using Fralto.Core.Plant;

namespace Fralto.Core.Diagnosis;

/// <summary>What mends the findings of a model, where only one answer is certain.</summary>
/// <param name="model">The model.</param>
public sealed class FindingFixes(PlantModel model)
{
    // Looked for once, however many findings are asked about.
    private readonly Lazy<ILookup<(EntityKind, long), KeyValuePair<string, string>>> _labels = new(() =>
        ModelFindings.LabelsApart(model).ToLookup(l => (l.Kind, l.Id), l => KeyValuePair.Create(l.Key, l.Right))
    );

    /// <summary>The fix of a finding; null where a person has to decide.</summary>
    /// <param name="code">Code of the finding.</param>
    /// <param name="kind">Kind of what it is about; null for a tag.</param>
    /// <param name="id">Its id.</param>
    public FindingFix? Of(string code, EntityKind? kind, long id) =>
        code switch
        {
            Planner.MissingPart when kind == EntityKinds.Equipment => new("Add the missing parts", new AddParts([id])),
            ModelFindings.UnusedScale => new("Take the scale out", new RemoveScale(id)),
            ModelFindings.UnusedStateList => new("Take the state list out", new RemoveStateList(id)),
            ModelFindings.LabelApart when Spelled(kind, id) is { } edit => new("Spell it as elsewhere", edit),
            _ => null,
        };

    /// <summary>Spells the labels of a node or template as they are spelled most often.</summary>
    private Edit? Spelled(EntityKind? kind, long id) =>
        kind == EntityKinds.Equipment && model.Equipment.TryGetValue(id, out var node)
            ? new SaveEquipment(
                id,
                node.Code,
                node.Name,
                node.Level,
                node.ParentId,
                node.TemplateId,
                node.Labels.SetItems(_labels.Value[(kind, id)])
            )
        : kind == EntityKinds.Template && model.Templates.TryGetValue(id, out var template)
            ? new SaveTemplate(
                id,
                template.Code,
                template.Name,
                template.ParentId,
                template.Description,
                template.Levels,
                template.Labels.SetItems(_labels.Value[(kind, id)])
            )
        : null;
}
