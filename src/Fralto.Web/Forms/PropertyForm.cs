using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Formulas;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Web.Forms;

/// <summary>The form of a template's property.</summary>
public static class PropertyForm
{
    /// <summary>The edit the form asks for: where the property is declared it is saved, in a descendant it is refined.</summary>
    /// <param name="model">The model.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="templateId">The template whose form it is.</param>
    /// <param name="id">The property; null for a new one.</param>
    public static Edit Read(PlantModel model, FormReader reader, long templateId, long? id)
    {
        var (kind, type) = (reader.Choice<PropertyKind>("Kind"), reader.Choice<PropertyType>("Type"));
        var known = id is { } property
            ? model.Templates.GetValueOrDefault(templateId) is { } at
                ? model.Index.PropertiesOf(at.Id).FirstOrDefault(p => p.Id == property)
                : null
            : null;
        if (known is not null && known.DeclaredBy != templateId)
            return PatchProperty.Exactly(
                templateId,
                known.Id,
                FactFields
                    .Read(
                        model,
                        reader,
                        known.Declaration.Kind,
                        known.Declaration.Type,
                        model.Index.PropertiesOf(model.Templates[templateId].ParentId!.Value).First(p => p.Id == known.Id).Facts
                    )
                    .KeepingLimitsOf(known.Own)
            );
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Naming.Suggest(name);
        var edit = new SaveProperty(
            templateId,
            id,
            code,
            name,
            kind,
            type,
            FactFields.Read(model, reader, kind, type, PropertyPatch.Empty).KeepingLimitsOf(known?.Own ?? PropertyPatch.Empty),
            !reader.Text("Required").Equals("no", StringComparison.Ordinal)
        );
        return
            id is null
            && kind == PropertyKind.Calculated
            && edit.Facts.Formula is { } formula
            && WindowSet.Of(formula) is { Count: > 0 } windows
            ? new Several(
                [
                    .. windows.Select(w =>
                        edit with
                        {
                            Name = $"{name} {w.Length}",
                            Code = Naming.Suggest($"{code} {w.Length}"),
                            Facts = edit.Facts with { Formula = w.Formula },
                        }
                    ),
                ],
                $"Declare {name} over {string.Join(", ", windows.Select(w => w.Length))}"
            )
            : edit;
    }
}
