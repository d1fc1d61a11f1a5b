using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Templates;
using Fralto.Runtime.Views;
using Fralto.Web.Forms;
using Fralto.Web.Listings;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The family of templates, the sheet of one, and the ruler of one of its properties.</summary>
public sealed class TemplatesModel(Fralto.Runtime.Recording.Trends trends) : ListingPage
{
    /// <summary>What the address asks for.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public TemplatesQuery Query { get; set; } = new();

    /// <summary>What is shown of it.</summary>
    public TemplateView View { get; private set; } = null!;

    /// <summary>The ruler of the selected property.</summary>
    public RulerView? Ruler { get; private set; }

    /// <summary>The fields of the property's facts.</summary>
    public FactFields Facts =>
        new(Model, Form, View.Inherited, IsLayer: View.SelectedProperty is not null && !View.IsOwn)
        {
            Layer = View.Selected?.Id,
            PropertyId = View.SelectedProperty?.Id,
        };

    public override LiveScope Scope => View.Selected is { } selected ? new(LiveScopeKind.Template, selected.Id) : base.Scope;

    /// <inheritdoc/>
    protected override string ListingName => PropertyListing.Name;

    /// <inheritdoc/>
    protected override IListing? MakeListing()
    {
        View ??= TemplateView.Of(Model, Query.At, Query.Property, Query.Open == "template", Query.Open == "property");
        var said = ListingRequest.Read(Request.Query).Text();
        return View.Selected is { } at
            ? PropertyListing.Of(Model, View, at, said.Length > 0 ? $"{said}&" : "", id => ReleasedText.Of(Workspace.State, at.Id, id))
            : null;
    }

    public void OnGet() => Show();

    /// <summary>Properties like the one that is typed: those of the plant first, then common ones.</summary>
    public IActionResult OnGetSuggest(string? q) =>
        Partial(
            "_PropertyOptions",
            (Model, PropertyFinder.Find(Model, q is { Length: <= LongestSearch } ? q : "", Query.At, MostSuggested))
        );

    private const int MostSuggested = 20;
    private const int LongestSearch = 80;

    public IActionResult OnPostSave()
    {
        var reader = new FormReader(Request.Form);
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Naming.Suggest(name);
        var labels = Labels.Read(reader.Text("Labels"), out var problem);
        if (problem is not null)
            reader.Refuse("Labels", problem);
        var edit = new SaveTemplate(
            reader.Id("Id"),
            code,
            name,
            reader.Id("ParentId"),
            reader.Text("Description"),
            [.. reader.Choices<EquipmentLevel>("Levels")],
            labels
        );
        return Do(
            edit,
            reader,
            outcome => RedirectToPage(new { at = IdOf(outcome) }),
            () => Again(edit.Id is null ? "template" : "change")
        );
    }

    /// <summary>Copies the template as another, or chosen properties of it to one there is.</summary>
    public IActionResult OnPostCopy(long?[]? take)
    {
        var reader = new FormReader(Request.Form);
        var (at, to) = (Query.At ?? 0, reader.Id("ToId"));
        var (name, code) = (reader.Text("Name"), reader.Text("Code"));
        return Do(
            to is { } other
                ? ManyEdits.Properties(Model, at, [.. (take ?? []).OfType<long>()], other)
                : ManyEdits.Template(Model, at, code.Length > 0 ? code : Naming.Suggest(name), name),
            reader,
            outcome => RedirectToPage(new { at = to ?? ((Template)outcome.Changes[0].After!).Id }),
            () =>
            {
                Refusal ??= string.Join(" ", Form.Problems.Take(5).Select(p => p.Message));
                return Again("copy");
            }
        );
    }

    public IActionResult OnPostRemove(long id, bool all) =>
        Do(new RemoveTemplate(id, all), new FormReader(Request.Form), _ => RedirectToPage(new { }), () => Again("remove"));

    public IActionResult OnPostPart()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("PartId");
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : SeriesPattern.SuggestCode(name);
        var edit = new SavePart(
            Query.At ?? 0,
            id,
            code,
            name,
            reader.Id("PartTemplateId"),
            reader.Choice<EquipmentLevel>("Level"),
            reader.Whole("HowMany", "how many"),
            reader.Text("WithInstances") == "yes"
        );
        return Do(
            edit,
            reader,
            _ => RedirectToPage(new { at = Query.At }),
            () =>
            {
                Query.Part = id;
                return Again("part");
            }
        );
    }

    public IActionResult OnPostRemovePart(long partId, bool all) =>
        Do(
            new RemovePart(Query.At ?? 0, partId, all),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = Query.At }),
            () => Again(null)
        );

    /// <summary>Gives every instance the parts it lacks.</summary>
    public IActionResult OnPostAddParts() =>
        Do(
            AddParts.ForAllOf(Model, Query.At ?? 0),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = Query.At }),
            () => Again(null)
        );

    public IActionResult OnPostProperty()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("PropertyId");
        return Do(
            PropertyForm.Read(Model, reader, Query.At ?? 0, id),
            reader,
            outcome =>
                reader.Text("Then") == "another"
                    ? RedirectToPage(new { at = Query.At, open = "property" })
                    : RedirectToPage(new { at = Query.At, property = id ?? ((Template)outcome.Changes[^1].After!).Properties[^1].Id }),
            () =>
            {
                Query.Property = id;
                return Again(id is null ? "property" : null);
            }
        );
    }

    /// <summary>How far the form as it stands would reach, without making the edit.</summary>
    public IActionResult OnPostEffect()
    {
        var reader = new FormReader(Request.Form);
        if (reader.Id("PropertyId") is not { } id)
            return Content("");
        var outcome = PropertyForm.Read(Model, reader, Query.At ?? 0, id).On(Model);
        if (reader.HasProblems || outcome.IsRefused)
            return Content("cannot be saved as it stands");
        return Content(EditEffect.Of(Model, outcome, Query.At ?? 0, id).Words);
    }

    public IActionResult OnPostMoveProperty(long propertyId, long targetId)
    {
        Query.Property = propertyId;
        return Do(
            new MoveProperty(Query.At ?? 0, propertyId, targetId),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = targetId, property = propertyId }),
            () => Again(null)
        );
    }

    public IActionResult OnPostRemoveProperty(long propertyId) =>
        Do(
            new RemoveProperty(Query.At ?? 0, propertyId),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = Query.At }),
            () => Again(null)
        );

    private PageResult Again(string? open)
    {
        Query.Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Model.Templates.IsEmpty)
            Query.Open = "template";
        View = TemplateView.Of(Model, Query.At, Query.Property, Query.Open == "template", Query.Open == "property");
        if (View.Selected is { } selected)
        {
            Query.At = selected.Id;
            if (View.SelectedProperty is { } property)
                Ruler = RulerView.Of(Model, Snapshot, selected, property, property.Facts, trends);
        }
        if (!keepForm)
            Form = FormFor();
    }

    private FormState FormFor() =>
        Query.Open switch
        {
            "change" when View.Selected is { } t => FormState.Of(
                ("Id", t.Id),
                ("Name", t.Name),
                ("Code", t.Code),
                ("ParentId", t.ParentId),
                ("Description", t.Description),
                ("Labels", Labels.Text(t.Labels)),
                ("Levels", string.Join(",", t.Levels))
            ),
            "part" when View.Selected?.Parts.FirstOrDefault(p => p.Id == Query.Part) is { } p => FormState.Of(
                ("PartId", p.Id),
                ("Name", p.Name),
                ("Code", p.Code),
                ("PartTemplateId", p.TemplateId),
                ("Level", p.Level),
                ("HowMany", p.Count),
                ("WithInstances", "yes")
            ),
            "part" => FormState.Of(("Level", EquipmentLevel.EquipmentModule), ("HowMany", 1), ("WithInstances", "yes")),
            "copy" when View.Selected is { } t => FormState.Of(("Name", $"{t.Name} copy")),
            "template" => FormState.Of(("ParentId", Query.At)),
            "property" => FormState.Of(("Kind", PropertyKind.Measured), ("Type", PropertyType.Number), ("Required", "yes")),
            _ when View.SelectedProperty is { } p => FormState.Of([
                ("PropertyId", p.Id),
                ("Name", p.Name),
                ("Code", p.Code),
                ("Kind", p.Declaration.Kind),
                ("Type", p.Declaration.Type),
                ("Required", p.Declaration.IsRequired ? "yes" : "no"),
                .. FactFields.Of(p.Own, Model),
            ]),
            _ => FormState.Empty,
        };
}
