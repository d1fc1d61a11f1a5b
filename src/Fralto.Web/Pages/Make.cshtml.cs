using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>Makes a piece of equipment of tags that were selected: template, places, instance and bindings in one go.</summary>
public sealed class MakeModel : FraltoPage
{
    /// <summary>The controller of the tags.</summary>
    [BindProperty(SupportsGet = true)]
    public long At { get; set; }

    /// <summary>Ids of the tags, with dots between them.</summary>
    [BindProperty(SupportsGet = true, Name = "tags")]
    public string? Chosen { get; set; }

    /// <summary>The tags that are still there.</summary>
    public IReadOnlyList<Tag> Tags => [.. Ids.Select(id => Model.Tags.GetValueOrDefault(id)).OfType<Tag>()];

    private IEnumerable<long> Ids =>
        (Chosen ?? "")
            .Split('.', MakeEquipment.MostTags + 1)
            .Select(t => long.TryParse(t, NumberStyles.None, CultureInfo.InvariantCulture, out var id) ? id : 0)
            .Where(id => id > 0)
            .Distinct()
            .Take(MakeEquipment.MostTags);

    /// <summary>The address of the page for some tags.</summary>
    /// <param name="controller">Their controller.</param>
    /// <param name="tags">The tags.</param>
    public static string AddressOf(long controller, IEnumerable<long> tags) => $"/make?at={controller}&tags={string.Join('.', tags)}";

    public void OnGet()
    {
        var (tags, fields) = (Tags, new List<(string, object?)> { ("Place", PlaceAbove()) });
        var names = MakeEquipment.NamesOf(tags, Model.Units);
        for (var i = 0; i < tags.Count; i++)
        {
            var common = PropertyFinder.Find(Model, names[i], null, 1) is [var found] && Is(found.Name, names[i]) ? found : null;
            fields.AddRange([
                (MakeEquipment.FieldOf("Name", tags[i].Id), names[i]),
                (MakeEquipment.FieldOf("Unit", tags[i].Id), UnitField.Text(tags[i].Unit ?? common?.Unit, Model)),
                (MakeEquipment.FieldOf("RangeLow", tags[i].Id), ValueText.Plain((tags[i].Range ?? common?.Range)?.Low)),
                (MakeEquipment.FieldOf("RangeHigh", tags[i].Id), ValueText.Plain((tags[i].Range ?? common?.Range)?.High)),
            ]);
        }
        Form = FormState.Of(fields);
    }

    public IActionResult OnPost()
    {
        var reader = new FormReader(Request.Form);
        // Each field is that of its tag, so that one that has gone meanwhile is refused and gives its name to no other.
        string Field(string field, long tag) => MakeEquipment.FieldOf(field, tag);
        var properties = Ids.Select(id => new MadeProperty(
            id,
            reader.Text(Field("Name", id)),
            UnitField.Read(reader, Field("Unit", id), Model),
            reader.Ends(Field("RangeLow", id), Field("RangeHigh", id), "the range")
        ));
        return Do(
            new MakeEquipment(reader.Text("TemplateName"), reader.Text("Place"), [.. properties]),
            reader,
            outcome => RedirectToPage("/Plant", new { at = MakeEquipment.InstanceOf(outcome) }),
            Page
        );
    }

    /// <summary>The place the newest instance stands in, to begin with.</summary>
    private string PlaceAbove() =>
        Model.Equipment.Values.Where(e => e.TemplateId is not null && e.PartId is null).MaxBy(e => e.Id) is { ParentId: { } parent }
            ? string.Join(" / ", Model.Index.LineageOf(parent).Select(e => e.Name)) + " / "
            : "";

    private static bool Is(string one, string other) => one.Equals(other, StringComparison.OrdinalIgnoreCase);
}
