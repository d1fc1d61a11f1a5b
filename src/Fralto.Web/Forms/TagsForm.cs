using System.Collections.Immutable;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Web.Listings;

namespace Fralto.Web.Forms;

/// <summary>The form about the tags that are selected in a list.</summary>
internal static class TagsForm
{
    private const int MostNamed = 3;

    /// <summary>The edit the form asks for.</summary>
    /// <param name="model">The model.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="orders">The orders of the lists that are open.</param>
    public static Edit Read(PlantModel model, FormReader reader, ListingMemory orders)
    {
        var ids = Picked(reader, orders);
        var act = reader.Text("Act");
        return act == "remove"
            ? new RemoveTags(ids)
            : new ChangeTags(
                ids,
                act switch
                {
                    "rename" => new() { Rename = new(reader.Text("From"), reader.Text("To")) },
                    "unit" => new() { Unit = UnitField.Read(reader, "Unit", model) ?? "" },
                    "type" => new() { Type = reader.Choice<RawType>("Type") },
                    "order" => new() { WordOrder = reader.Choice<WordOrder>("WordOrder") },
                    "class" => new() { UpdateClass = reader.Text("UpdateClass") },
                    "description" => new() { Description = reader.Text("Description") },
                    _ => new TagPatch(),
                }
            );
    }

    /// <summary>What the form would do, in one line.</summary>
    /// <param name="model">The model.</param>
    /// <param name="reader">The posted form.</param>
    /// <param name="orders">The orders of the lists that are open.</param>
    public static string Effect(PlantModel model, FormReader reader, ListingMemory orders)
    {
        if (reader.Text("Act") == "make")
            return Picked(reader, orders).Length is > MakeEquipment.MostTags and var many
                ? $"{many} tags; {MakeEquipment.MostTags} is the most for one piece of equipment"
                : "asks what it is and where it stands, before anything is made";
        var edit = Read(model, reader, orders);
        if (edit is ChangeTags { Patch.Rename.From.Length: 0 })
            return "* stands for any text";
        var outcome = edit.On(model);
        if (reader.HasProblems)
            return reader.State().Problems[0].Message;
        if (outcome.IsRefused)
            return outcome.Problems[0].Message;
        var renamed = outcome
            .Changes.Select(c => (Before: c.Before as Tag, After: c.After as Tag))
            .Where(c => c.Before is not null && c.After is not null && c.Before.Name != c.After.Name)
            .Take(MostNamed)
            .Select(c => $"{c.Before!.Name} becomes {c.After!.Name}")
            .ToArray();
        return renamed.Length == 0
            ? outcome.Summary
            : $"{outcome.Changes.Length} get new names: {string.Join(", ", renamed)}{(outcome.Changes.Length > MostNamed ? " …" : "")}";
    }

    /// <summary>The tags the form is about; empty, and refused, when the list is no longer kept.</summary>
    public static ImmutableArray<long> Picked(FormReader reader, ListingMemory orders)
    {
        if (ListingPick.Read(reader.Text("picked", int.MaxValue)) is not { } picked)
            return [];
        if (orders.Picked<Tag>(reader.Text("list"), picked) is { } tags)
            return [.. tags.Select(t => t.Id)];
        reader.Refuse("", "The list is no longer kept as it was shown; select the tags again.");
        return [];
    }
}
