using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The plant as level columns, and the sheet of the selected node.</summary>
public sealed class PlantPageModel : FraltoPage
{
    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public PlantQuery Query { get; set; } = new();

    /// <summary>What is shown of it.</summary>
    public PlantView View { get; private set; } = null!;

    /// <summary>The properties all selected nodes have, with what is said of them where they agree.</summary>
    public IReadOnlyList<SharedProperty> Shared { get; private set; } = [];

    /// <summary>The open one of the shared properties; null when none is open.</summary>
    public SharedProperty? SharedProperty =>
        Query.Property is { } id
            ? Shared.FirstOrDefault(p => p.Property.Id == id && p.Property.Declaration.Kind != PropertyKind.Fixed)
            : null;

    /// <summary>The fields of what is said here about the open property: by the selected instance, or by all that are selected.</summary>
    public FactFields Facts =>
        SharedProperty is { } shared
            ? new(Model, Form, shared.Inherited, IsLayer: true) { Mixed = shared.Mixed }
            : new(Model, Form, View.Inherited, IsLayer: true) { Layer = View.Selected?.Id, PropertyId = View.OpenProperty?.Id };

    public override LiveScope Scope => View.Selected is { } selected ? new(LiveScopeKind.Place, selected.Id) : base.Scope;

    public void OnGet() => Show();

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Naming.Suggest(name);
        var labels = Labels.Read(reader.Text("Labels"), out var problem);
        if (problem is not null)
            reader.Refuse("Labels", problem);
        var edit = new SaveEquipment(
            reader.Id("Id"),
            code,
            name,
            reader.Choice<EquipmentLevel>("Level"),
            reader.Id("ParentId"),
            reader.Id("TemplateId"),
            labels
        );
        return Do(
            edit,
            reader,
            outcome => RedirectToPage(new { at = ((Equipment)outcome.Changes[0].After!).Id }),
            () => Again(edit.Id is null ? "add" : "change")
        );
    }

    public IActionResult OnPostSeries()
    {
        var reader = new FormReader(Request.Form);
        return Do(
            ReadSeries(reader),
            reader,
            outcome => RedirectToPage(new { at = ((Equipment)outcome.Changes[0].After!).Id }),
            () => Again("series")
        );
    }

    /// <summary>All names and codes the series form would make, or what is wrong with it.</summary>
    public IActionResult OnPostSeriesPreview()
    {
        var reader = new FormReader(Request.Form);
        var edit = ReadSeries(reader);
        var problems = reader.HasProblems ? reader.State().Problems : edit.On(Model).Problems;
        return Partial("_SeriesPreview", new SeriesPreview([.. edit.Pattern.Members], [.. problems.Select(p => p.Message).Distinct()]));
    }

    public IActionResult OnPostCopy()
    {
        var reader = new FormReader(Request.Form);
        var below = PlaceField.Read(reader, "Below", Model);
        return Do(
            new CopyEquipment(Query.At ?? 0, below, reader.Text("Code"), reader.Text("Name"), reader.Text("WithBindings") == "yes"),
            reader,
            outcome => RedirectToPage(new { at = ((Equipment)outcome.Changes[0].After!).Id }),
            () => Again("copy")
        );
    }

    public IActionResult OnPostMove()
    {
        var reader = new FormReader(Request.Form);
        var below = PlaceField.Read(reader, "Below", Model);
        return Do(new MoveEquipment(Query.At ?? 0, below), reader, _ => RedirectToPage(new { at = Query.At }), () => Again("move"));
    }

    /// <summary>Drops a node on another: before a sibling, else below it.</summary>
    public IActionResult OnPostDrop(long id, long onto)
    {
        if (MoveEquipment.Onto(Model, id, onto) is not { } move)
            return NotFound();
        Query.At = id;
        return Place(move);
    }

    /// <summary>Moves a node one up or down among its siblings.</summary>
    public IActionResult OnPostNudge(long id, bool up)
    {
        if (!Model.Equipment.ContainsKey(id))
            return NotFound();
        Query.At = id;
        return MoveEquipment.ByOne(Model, id, up) is { } move ? Place(move) : RedirectToPage(new { at = id });
    }

    public IActionResult OnPostRemove(long id)
    {
        var above = Model.Equipment.GetValueOrDefault(id)?.ParentId;
        return Do(new RemoveEquipment(id), new FormReader(Request.Form), _ => RedirectToPage(new { at = above }), () => Again(null));
    }

    /// <summary>What the form about all selected would do, without doing it.</summary>
    public IActionResult OnPostEffect()
    {
        Show();
        return Content(EquipmentForm.Effect(Model, new FormReader(Request.Form), [.. View.Many.Select(e => e.Id)]));
    }

    /// <summary>Does to all selected what the form says.</summary>
    public IActionResult OnPostMany()
    {
        Show();
        var reader = new FormReader(Request.Form);
        long[] ids = [.. View.Many.Select(e => e.Id)];
        var above = View.Selected?.ParentId;
        return Do(
            EquipmentForm.Read(Model, reader, ids),
            reader,
            _ =>
                reader.Text("Act") == "remove"
                    ? RedirectToPage(new { at = above })
                    : RedirectToPage(new { at = Query.At, with = Query.With }),
            () =>
            {
                Refusal = string.Join(" ", Form.Problems.Take(5).Select(p => p.Message));
                return Again(null);
            }
        );
    }

    /// <summary>Sets a fixed property of all selected instances, or lets it go back to the template.</summary>
    public IActionResult OnPostValue(long propertyId, string? back)
    {
        Show();
        var reader = new FormReader(Request.Form);
        var edit = new PatchProperty(
            [.. View.Many.Select(e => e.Id)],
            propertyId,
            back is null ? new() { Value = reader.Text("Value") } : PropertyPatch.Empty,
            [PatchField.Value]
        );
        return Do(edit, reader, _ => RedirectToPage(new { at = Query.At, with = Query.With }), () => Again($"value-{propertyId}"));
    }

    /// <summary>Sets what was changed in the form for all selected instances; a field left as it was stays as each of them has
    /// it.</summary>
    public IActionResult OnPostOverride(long propertyId, string? back)
    {
        Query.Property = propertyId;
        Show();
        var reader = new FormReader(Request.Form);
        var edit =
            SharedProperty is not { } shared ? OverrideOfOne(reader, propertyId, back is not null)
            : back is null ? shared.EditOf(Model, reader)
            : new PatchProperty(shared.Layers, propertyId, PropertyPatch.Empty, PropertyPatch.AllFields);
        return Do(
            edit,
            reader,
            _ =>
                RedirectToPage(
                    new
                    {
                        at = Query.At,
                        with = Query.With,
                        property = propertyId,
                    }
                ),
            () => Again(null)
        );
    }

    public IActionResult OnPostAddParts(long id) =>
        Do(new AddParts([id]), new FormReader(Request.Form), _ => RedirectToPage(new { at = id }), () => Again(null));

    private PatchProperty OverrideOfOne(FormReader reader, long propertyId, bool isBack)
    {
        var property = View.Selected is { TemplateId: { } template }
            ? Model.Index.PropertiesOf(template).FirstOrDefault(p => p.Id == propertyId)
            : null;
        return PatchProperty.Exactly(
            Query.At ?? 0,
            propertyId,
            property is null || isBack
                ? PropertyPatch.Empty
                : FactFields
                    .Read(Model, reader, property.Declaration.Kind, property.Declaration.Type, property.Facts)
                    .KeepingLimitsOf(View.Selected!.Patches.GetValueOrDefault(propertyId) ?? PropertyPatch.Empty)
        );
    }

    private IActionResult Place(MoveEquipment edit) =>
        Do(
            edit,
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = edit.Id }),
            () =>
            {
                Refusal = string.Join(" ", Form.Problems.Select(p => p.Message));
                return Again(null);
            }
        );

    private static AddSeries ReadSeries(FormReader reader) =>
        new(
            reader.Id("ParentId"),
            reader.Choice<EquipmentLevel>("Level"),
            reader.Id("TemplateId"),
            new(
                reader.Text("Name"),
                reader.Text("Code"),
                reader.Whole("Start", "the first number"),
                reader.Whole("Step", "the step"),
                reader.Whole("Count", "how many"),
                reader.Whole("Digits", "the digits")
            )
        );

    private PageResult Again(string? open)
    {
        Query.Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Model.Equipment.IsEmpty)
            Query.Open = "add";
        View = PlantView.Of(Model, Snapshot, Query.At, Query.With, Query.Property, Query.Open == "add", Runtime.Snapshot);
        if (View.Many.Count > 1)
            Shared = SharedProperty.Of(Model, View.Many);
        if (keepForm)
            return;
        Form = Query.Open switch
        {
            "change" when View.Selected is { } e => FormState.Of(
                ("Id", e.Id),
                ("Name", e.Name),
                ("Code", e.Code),
                ("Level", e.Level),
                ("ParentId", e.ParentId),
                ("TemplateId", e.TemplateId),
                ("Labels", Labels.Text(e.Labels))
            ),
            "add" => FormState.Of(("ParentId", View.Selected?.Id), ("Level", View.LevelToBegin)),
            "series" => FormState.Of(
                ("ParentId", View.Selected?.Id),
                ("Level", View.LevelToBegin),
                ("Start", 1),
                ("Step", 1),
                ("Count", 4),
                ("Digits", 1)
            ),
            "copy" when View.Selected is { } e => FormState.Of(
                ("Name", $"{e.Name} copy"),
                ("Code", $"{e.Code}-copy"),
                ("Below", View.PathAbove),
                ("WithBindings", "no")
            ),
            "move" when View.Selected is { } e => FormState.Of(("Below", View.PathAbove)),
            _ when View.Many.Count > 1 && SharedProperty is { } shared => FormState.Of(
                shared.Fields.Select(f => (f.Key, (object?)f.Value))
            ),
            _ when View.OpenProperty is { } p => FormState.Of(FactFields.Of(p.Own, Model)),
            _ => FormState.Empty,
        };
    }
}
