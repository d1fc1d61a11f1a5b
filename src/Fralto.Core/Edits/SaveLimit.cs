using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Core.Edits;

/// <summary>Says all that a layer says of one limit.</summary>
/// <param name="Layer">The template or instance.</param>
/// <param name="PropertyId">The property.</param>
/// <param name="Code">HH, H, L, LL, or the limit's own code.</param>
/// <param name="Says">What it says from now on; null for nothing.</param>
/// <param name="IsNew">True where there must not be a limit of the code yet.</param>
public sealed record SaveLimit(long Layer, long PropertyId, string Code, LimitPatch? Says, bool IsNew = false) : Edit
{
    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        var template = model.Templates.GetValueOrDefault(Layer);
        var property = (
            template is not null ? model.Index.PropertiesOf(Layer)
            : model.Equipment.TryGetValue(Layer, out var node) ? model.Index.PropertiesOf(node)
            : []
        ).FirstOrDefault(p => p.Id == PropertyId);
        if (property is null)
            return Gone("The property");
        if (
            IsNew
            && (
                property.Facts.Others.ContainsKey(Code)
                || LimitConditions.Find(Code) is { } known && property.Facts.Limits.ContainsKey(known)
            )
        )
            return EditOutcome.Refused("Code", $"{property.Name} has a limit {Code} already.");
        var says = Says == LimitPatch.Empty ? null : Says;
        var own = LimitConditions.Find(Code) is { } level
            ? property.Own with
            {
                Limits = says is null ? property.Own.Limits.Remove(level) : property.Own.Limits.SetItem(level, says),
            }
            : property.Own with
            {
                Others = says is null ? property.Own.Others.Remove(Code) : property.Own.Others.SetItem(Code, says),
            };
        Edit edit =
            template is not null && property.DeclaredBy == Layer
                ? new SaveProperty(
                    Layer,
                    PropertyId,
                    property.Code,
                    property.Name,
                    property.Declaration.Kind,
                    property.Declaration.Type,
                    own,
                    property.Declaration.IsRequired
                )
                : PatchProperty.Exactly(Layer, PropertyId, own);
        var outcome = edit.On(model);
        return outcome.IsRefused
            ? outcome
            : EditOutcome.Changed(
                $"{(says is null ? "Take out" : IsNew ? "Add" : "Change")} {Code} of {property.Name} "
                    + $"on {template?.Name ?? model.Equipment[Layer].Name}",
                [.. outcome.Changes]
            );
    }
}
