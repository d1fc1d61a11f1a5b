using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Takes a part off the template that declares it. What instances have of it stays as equipment of its own, or goes
/// along.</summary>
/// <param name="TemplateId">The template.</param>
/// <param name="PartId">The part.</param>
/// <param name="WithInstances">True takes out what instances have of the part, with everything below it.</param>
public sealed record RemovePart(long TemplateId, long PartId, bool WithInstances) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Templates.TryGetValue(TemplateId, out var template))
            return Gone("The template");
        if (template.Parts.FirstOrDefault(p => p.Id == PartId) is not { } part)
            return Gone("The part");
        var made = model
            .Index.FamilyOf(part.TemplateId)
            .SelectMany(t => model.Index.InstancesOf(t.Id))
            .Where(e => e.PartId == PartId)
            .ToArray();
        var change = new ModelChange(template, template with { Parts = template.Parts.Remove(part) });
        if (!WithInstances)
            return EditOutcome.Changed(
                $"Take the part {part.Name} off {template.Name}; {Count(made.Length, "node")} made from it stay",
                [.. made.Select(e => new ModelChange(e, e with { PartId = null })), change]
            );
        var gone = RemoveEquipment.Of(model, made.Select(e => e.Id));
        if (RemoveEquipment.Told(model, gone.Changes) is { } told)
            return EditOutcome.Refused("", told);
        return EditOutcome.Changed($"Take the part {part.Name} off {template.Name} with {gone.Words}", [.. gone.Changes, change]);
    }
}
