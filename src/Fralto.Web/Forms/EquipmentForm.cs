using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Web.Forms;

/// <summary>The form about the equipment that is selected together.</summary>
internal static class EquipmentForm
{
    /// <summary>The edit the form asks for.</summary>
    /// <param name="model">The model.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="ids">The selected equipment.</param>
    public static Edit Read(PlantModel model, FormReader reader, IReadOnlyCollection<long> ids) =>
        reader.Text("Act") switch
        {
            "remove" => new RemoveEquipment([.. ids]),
            "move" => ManyEdits.Move(model, ids, PlaceField.Read(reader, "Below", model)),
            "copy" => ManyEdits.Copy(
                model,
                ids,
                reader.Text("CopyBelow").Length == 0 ? null : PlaceField.Read(reader, "CopyBelow", model),
                reader.Text("CopyName"),
                reader.Text("CopyCode"),
                1,
                reader.Whole("HowMany", "how many copies"),
                withBindings: false
            ),
            "level" => ManyEdits.Level(model, ids, reader.Choice<EquipmentLevel>("Level")),
            "label" => ManyEdits.Label(model, ids, reader.Text("Labels")),
            "template" => new ChangeTemplate([.. ids], reader.Id("TemplateId")),
            _ => new RemoveEquipment([]),
        };

    /// <summary>What the form would do, in one line.</summary>
    /// <param name="model">The model.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="ids">The selected equipment.</param>
    public static string Effect(PlantModel model, FormReader reader, IReadOnlyCollection<long> ids)
    {
        var outcome = Read(model, reader, ids).On(model);
        return reader.HasProblems ? reader.State().Problems[0].Message
            : outcome.IsRefused ? outcome.Problems[0].Message
            : outcome.Summary;
    }
}
