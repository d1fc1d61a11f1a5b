using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The family of templates, the sheet of one, and the ruler of one of its properties.</summary>
public sealed class TemplatesModel : FraltoPage
{
    /// <summary>Most instances the list of uses shows.</summary>
    public const int MostInstances = 300;

    /// <summary>The template shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>The property whose ruler is shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Property { get; set; }

    /// <summary>What is open: template, change, property, part, uses or remove.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>The part being changed.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Part { get; set; }

    public Template? Selected { get; private set; }

    /// <summary>The parts of the selected template and who declares each.</summary>
    public IReadOnlyList<(Template Declarer, TemplatePart Part)> Parts =>
        Selected is null ? [] : [.. Model.Index.AncestryOf(Selected.Id).SelectMany(t => t.Parts.Select(p => (t, p)))];

    /// <summary>What the instances of the selected template lack of their parts, as an edit that would add it; null when they lack
    /// nothing.</summary>
    public EditOutcome? MissingParts =>
        Selected is not null
        && Parts.Count > 0
        && PartsForAll(Selected.Id).On(Model) is { IsRefused: false, Changes.IsEmpty: false } missing
            ? missing
            : null;

    /// <summary>What taking the selected template out with everything would do.</summary>
    public EditOutcome? Removal => Selected is null ? null : new RemoveTemplate(Selected.Id, WithAll: true).On(Model);

    /// <summary>The templates that have the selected one, or a descendant of it, as a part.</summary>
    public IEnumerable<(Template Whole, TemplatePart Part)> Wholes =>
        Selected is null
            ? []
            : Model
                .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
                .SelectMany(t => t.Parts.Select(p => (t, p)))
                .Where(p => Model.Index.AncestryOf(p.p.TemplateId).Any(a => a.Id == Selected.Id));

    /// <summary>The first instances of the selected template and its descendants, in plant order.</summary>
    public IEnumerable<Equipment> Instances =>
        Selected is null ? [] : Model.Index.FamilyOf(Selected.Id).SelectMany(t => Model.Index.InstancesOf(t.Id)).Take(MostInstances);

    /// <summary>The levels instances may stand at, in words.</summary>
    public string LevelWords =>
        Selected is { } s && Model.Index.LevelsOf(s.Id) is { IsEmpty: false } levels
            ? string.Join(" or ", levels.Select(LevelRules.NameOf))
            : "any level";

    public ImmutableArray<ResolvedProperty> Properties { get; private set; } = [];

    public ResolvedProperty? SelectedProperty { get; private set; }

    /// <summary>True when the selected property is declared by the selected template, so that it is changed here.</summary>
    public bool IsOwn => SelectedProperty is not null && SelectedProperty.DeclaredBy == Selected?.Id;

    public RulerView? Ruler { get; private set; }

    /// <summary>Templates in the order the family is drawn: depth, whether more siblings follow, and the template.</summary>
    public IReadOnlyList<(int Depth, Template Template, int Instances)> Family { get; private set; } = [];

    public override LiveScope Scope => Selected is null ? base.Scope : new(LiveScopeKind.Template, Selected.Id);

    /// <summary>Number of instances of the template and its descendants.</summary>
    public int Reach => Selected is null ? 0 : Model.Index.ReachOf(Selected.Id);

    public static IEnumerable<(string Value, string Text)> Kinds =>
        Enum.GetValues<PropertyKind>().Select(k => (k.ToString(), k.ToString().ToLowerInvariant()));

    public static IEnumerable<(string Value, string Text)> Types => Enum.GetValues<PropertyType>().Select(t => (t.ToString(), t.Words()));

    public static IEnumerable<(string Value, string Text)> Requirements => [("yes", "required"), ("no", "optional")];

    /// <summary>What the selected property is without what the selected template says: shown faintly where its fields are empty.</summary>
    public PropertyPatch Inherited =>
        SelectedProperty is { } p && Selected is { } at ? RulerView.InheritedOf(Model, at.Id, p) : PropertyPatch.Empty;

    /// <summary>The fields of the property's facts.</summary>
    public FactFields Facts => new(Model, Form, Inherited, IsLayer: SelectedProperty is not null && !IsOwn);

    public IEnumerable<(string Value, string Text)> Parents =>
        Model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .Select(t => (ValueText.Plain(t.Id), t.Name))
            .Prepend(("", "none: it begins a family"));

    public IEnumerable<(string Value, string Text)> PartTemplates =>
        Model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .Select(t => (ValueText.Plain(t.Id), t.Name))
            .Prepend(("", "choose"));

    public static IEnumerable<(string Value, string Text)> Levels =>
        LevelRules.FromTheTop.Select(l => (l.ToString(), LevelRules.NameOf(l)));

    /// <summary>Kind and type in words: a number goes without saying.</summary>
    public static string KindOf(PropertyDeclaration property) =>
        $"{property.Kind.ToString().ToLowerInvariant()}{(property.Type == PropertyType.Number ? "" : $", {property.Type.Words()}")}"
        + $"{(property.TakesTag && !property.IsRequired ? ", optional" : "")}";

    /// <summary>A span as "0 … 120".</summary>
    public static string Text(Span? span) => span is { } s ? $"{ValueText.Plain(s.Low)} … {ValueText.Plain(s.High)}" : "";

    /// <summary>The raw side of a scale in short.</summary>
    public static string RawText(Scale scale) =>
        scale switch
        {
            SquareRootScale => $"√ {scale.Signal.Words}",
            SensorScale sensor => SensorScale.NameOf(sensor.Sensor),
            TableScale table => $"table of {table.Points.Length}",
            _ => scale.Signal.Words,
        };

    public void OnGet() => Show();

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

    public IActionResult OnPostRemove(long id, bool all) =>
        Do(new RemoveTemplate(id, all), new FormReader(Request.Form), _ => RedirectToPage(new { }), () => Again("remove"));

    public IActionResult OnPostPart()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("PartId");
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : PartCode(name);
        var edit = new SavePart(
            At ?? 0,
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
            _ => RedirectToPage(new { at = At }),
            () =>
            {
                Part = id;
                return Again("part");
            }
        );
    }

    public IActionResult OnPostRemovePart(long partId, bool all) =>
        Do(new RemovePart(At ?? 0, partId, all), new FormReader(Request.Form), _ => RedirectToPage(new { at = At }), () => Again(null));

    /// <summary>Gives every instance the parts it lacks.</summary>
    public IActionResult OnPostAddParts() =>
        Do(PartsForAll(At ?? 0), new FormReader(Request.Form), _ => RedirectToPage(new { at = At }), () => Again(null));

    private AddParts PartsForAll(long templateId) =>
        new([.. Model.Index.FamilyOf(templateId).SelectMany(t => Model.Index.InstancesOf(t.Id)).Select(e => e.Id)]);

    /// <summary>A code made from a name, in which {n} stays what stands for the number.</summary>
    private static string PartCode(string name) =>
        name.Contains(SeriesPattern.Number, StringComparison.Ordinal)
            ? Naming.Suggest(name.Replace(SeriesPattern.Number, "", StringComparison.Ordinal)) + SeriesPattern.Number
            : Naming.Suggest(name);

    public IActionResult OnPostProperty()
    {
        var reader = new FormReader(Request.Form);
        var id = reader.Id("PropertyId");
        return Do(
            ReadProperty(reader, id),
            reader,
            outcome => RedirectToPage(new { at = At, property = id ?? ((Template)outcome.Changes[^1].After!).Properties[^1].Id }),
            () =>
            {
                Property = id;
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
        var outcome = ReadProperty(reader, id).On(Model);
        if (reader.HasProblems || outcome.IsRefused)
            return Content("cannot be saved as it stands");
        var effect = EditEffect.Of(Model, outcome, At ?? 0, id);
        static string Count(int n) => n == 1 ? "1 instance" : $"{n} instances";
        var keeping =
            effect.Keeping.Length == 0
                ? ""
                : $" · "
                    + (
                        effect.Keeping.Length == 1
                            ? "1 keeps what it says itself"
                            : $"{effect.Keeping.Length} keep what they say themselves"
                    )
                    + ": "
                    + $"{string.Join(", ", effect.Keeping.Take(5).Select(e => e.Name))}{(effect.Keeping.Length > 5 ? " …" : "")}";
        var refined = string.Concat(
            effect.Refined.Select(r => $" · {(r.Instances == 1 ? "1 keeps" : $"{r.Instances} keep")} what {r.Template.Name} says")
        );
        return Content($"changes {effect.Changed} of {Count(effect.Instances)}{refined}{keeping}");
    }

    public IActionResult OnPostMoveProperty(long propertyId, long targetId)
    {
        Property = propertyId;
        return Do(
            new MoveProperty(At ?? 0, propertyId, targetId),
            new FormReader(Request.Form),
            _ => RedirectToPage(new { at = targetId, property = propertyId }),
            () => Again(null)
        );
    }

    /// <summary>What taking the selected property out would do, in words.</summary>
    public string PropertyRemoval =>
        SelectedProperty is { } p && new RemoveProperty(p.DeclaredBy, p.Id).On(Model) is { IsRefused: false } outcome
            ? $"{outcome.Summary}? {(Reach == 1 ? "1 instance loses" : $"{Reach} instances lose")} it."
            : "";

    private string Reached(Template template) =>
        Model.Index.ReachOf(template.Id) is var reach && reach == 1 ? "1 instance" : $"{reach} instances";

    /// <summary>Where the selected property could be declared instead: the parent, and every descendant.</summary>
    public IEnumerable<(long Id, string Text)> MoveTargets =>
        Selected is not { } selected
            ? []
            : Model
                .Index.AncestryOf(selected.Id)
                .Where(t => t.Id == selected.ParentId)
                .Select(t => (t.Id, $"up to {t.Name}, {Reached(t)}"))
                .Concat(
                    Model.Index.FamilyOf(selected.Id).Where(t => t.Id != selected.Id).Select(t => (t.Id, $"down to {t.Name}, {Reached(t)}"))
                );

    public IActionResult OnPostRemoveProperty(long propertyId) =>
        Do(new RemoveProperty(At ?? 0, propertyId), new FormReader(Request.Form), _ => RedirectToPage(new { at = At }), () => Again(null));

    /// <summary>The edit a property form asks for: where the property is declared it is saved, in a descendant it is refined.</summary>
    private Edit ReadProperty(FormReader reader, long? id)
    {
        var (kind, type) = (reader.Choice<PropertyKind>("Kind"), reader.Choice<PropertyType>("Type"));
        var known = id is { } property
            ? Model.Templates.GetValueOrDefault(At ?? 0) is { } at
                ? Model.Index.PropertiesOf(at.Id).FirstOrDefault(p => p.Id == property)
                : null
            : null;
        if (known is not null && known.DeclaredBy != At)
            return PatchProperty.Exactly(
                At ?? 0,
                known.Id,
                FactFields.Read(
                    Model,
                    reader,
                    known.Declaration.Kind,
                    known.Declaration.Type,
                    Model.Index.PropertiesOf(Model.Templates[At!.Value].ParentId!.Value).First(p => p.Id == known.Id).Facts
                )
            );
        var name = reader.Text("Name");
        var code = reader.Text("Code") is { Length: > 0 } given ? given : Naming.Suggest(name);
        return new SaveProperty(
            At ?? 0,
            id,
            code,
            name,
            kind,
            type,
            FactFields.Read(Model, reader, kind, type, PropertyPatch.Empty),
            !reader.Text("Required").Equals("no", StringComparison.Ordinal)
        );
    }

    private PageResult Again(string? open)
    {
        Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        Family = [.. FamilyBelow(null, 0)];
        if (Model.Templates.IsEmpty)
            Open = "template";
        if (Open != "template")
            Selected =
                At is { } at ? Model.Templates.GetValueOrDefault(at)
                : Family.Count > 0 ? Family[0].Template
                : null;
        if (Selected is { } selected)
        {
            At = selected.Id;
            Properties = Model.Index.PropertiesOf(selected.Id);
            SelectedProperty =
                Open == "property"
                    ? null
                    : Properties.FirstOrDefault(p => p.Id == Property)
                        ?? Properties.FirstOrDefault(p => p.Declaration.Type == PropertyType.Number);
            if (SelectedProperty is { } property)
                Ruler = RulerView.Of(Model, Snapshot, selected, property, property.Facts);
        }
        if (!keepForm)
            Form = FormFor();
    }

    private FormState FormFor() =>
        Open switch
        {
            "change" when Selected is { } t => FormState.Of(
                ("Id", t.Id),
                ("Name", t.Name),
                ("Code", t.Code),
                ("ParentId", t.ParentId),
                ("Description", t.Description),
                ("Labels", Labels.Text(t.Labels)),
                ("Levels", string.Join(",", t.Levels))
            ),
            "part" when Selected?.Parts.FirstOrDefault(p => p.Id == Part) is { } p => FormState.Of(
                ("PartId", p.Id),
                ("Name", p.Name),
                ("Code", p.Code),
                ("PartTemplateId", p.TemplateId),
                ("Level", p.Level),
                ("HowMany", p.Count),
                ("WithInstances", "yes")
            ),
            "part" => FormState.Of(("Level", EquipmentLevel.EquipmentModule), ("HowMany", 1), ("WithInstances", "yes")),
            "template" => FormState.Of(("ParentId", At)),
            "property" => FormState.Of(("Kind", PropertyKind.Measured), ("Type", PropertyType.Number), ("Required", "yes")),
            _ when SelectedProperty is { } p => FormState.Of([
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

    private IEnumerable<(int, Template, int)> FamilyBelow(long? id, int depth)
    {
        foreach (var template in Model.Index.TemplatesBelow(id))
        {
            yield return (depth, template, Model.Index.ReachOf(template.Id));
            foreach (var below in FamilyBelow(template.Id, depth + 1))
                yield return below;
        }
    }
}
