using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The plant as level columns, and the sheet of the selected node.</summary>
public sealed class PlantPageModel : FraltoPage
{
    /// <summary>Most nodes one column shows.</summary>
    public const int LongestColumn = 500;

    private const int MostPlaces = 500;
    private const int MostSelected = 300;

    private Dictionary<long, int>? _priority;

    /// <summary>The selected node.</summary>
    [BindProperty(SupportsGet = true)]
    public long? At { get; set; }

    /// <summary>What is being added or changed: add or change.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Open { get; set; }

    /// <summary>The property whose own facts are open for this instance.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Property { get; set; }

    /// <summary>Further nodes that are selected with the first, as ids with commas between them.</summary>
    [BindProperty(SupportsGet = true)]
    public string? With { get; set; }

    public Equipment? Selected { get; private set; }

    /// <summary>All selected nodes, the first one first.</summary>
    public IReadOnlyList<Equipment> Many { get; private set; } = [];

    /// <summary>The properties all selected nodes have, with what is said of them where they agree.</summary>
    public IReadOnlyList<SharedProperty> Shared { get; private set; } = [];

    /// <summary>The open one of the shared properties; null when none is open.</summary>
    public SharedProperty? SharedProperty =>
        Property is { } id ? Shared.FirstOrDefault(p => p.Property.Id == id && p.Property.Declaration.Kind != PropertyKind.Fixed) : null;

    /// <summary>The fields of what all selected nodes say about the open shared property.</summary>
    public FactFields ManyFacts => new(Model, Form, SharedProperty!.Inherited, IsLayer: true) { Mixed = SharedProperty.Mixed };

    /// <summary>The siblings that are instances of the same template, with the selected node first; what "edit alike" selects.</summary>
    public IEnumerable<Equipment> Alike =>
        Selected is not { TemplateId: { } template } node
            ? []
            : Model.Index.ChildrenOf(node.ParentId).Where(e => e.TemplateId == template && e.Id != node.Id).Take(MostSelected - 1);

    /// <summary>What the selected instance lacks of its parts, as an edit that would add it; null when it lacks nothing.</summary>
    public EditOutcome? MissingParts =>
        Selected is { TemplateId: not null } node
        && new AddParts([node.Id]).On(Model) is { IsRefused: false, Changes.IsEmpty: false } missing
            ? missing
            : null;

    /// <summary>True for a node selected with the first.</summary>
    public bool IsAlso(long id) => Many.Count > 1 && Many.Any(e => e.Id == id);

    /// <summary>The open property as this instance has it; null when none is open.</summary>
    public ResolvedProperty? OpenProperty =>
        Selected is null || Property is null
            ? null
            : Model.Index.PropertiesOf(Selected).FirstOrDefault(p => p.Id == Property && p.Declaration.Kind != PropertyKind.Fixed);

    /// <summary>The fields of what this instance says about the open property.</summary>
    public FactFields Facts =>
        new(Model, Form, Model.Index.PropertiesOf(Selected!.TemplateId!.Value).First(p => p.Id == Property).Facts, IsLayer: true);

    /// <summary>From the enterprise down to the selected node.</summary>
    public IReadOnlyList<Equipment> Lineage { get; private set; } = [];

    /// <summary>One column for each level that is open: its heading, its nodes, and which of them is open.</summary>
    public IReadOnlyList<Column> Columns { get; private set; } = [];

    public override LiveScope Scope => Selected is null ? base.Scope : new(LiveScopeKind.Place, Selected.Id);

    /// <summary>What the planner says about the selected node.</summary>
    public IEnumerable<Finding> Findings => Selected is null ? [] : Snapshot.Findings.Of(Selected.Id);

    public IEnumerable<(string Value, string Text)> Levels =>
        LevelRules
            .AllowedBelow(Open == "change" ? ParentOf(Selected)?.Level : Selected?.Level)
            .Select(l => (l.ToString(), LevelRules.NameOf(l)));

    public IEnumerable<(string Value, string Text)> Templates =>
        Model
            .Templates.Values.OrderBy(t => t.Name, StringComparer.Ordinal)
            .Select(t => (ValueText.Plain(t.Id), t.Name))
            .Prepend(("", "none: a place"));

    /// <summary>Bound and all measured properties of a node and everything below it.</summary>
    public (int Bound, int All) BoundBelow(long id) => Model.Index.TaggedBelow(id);

    /// <summary>Most urgent priority among active alarms of a node and everything below it; 0 for none.</summary>
    public int WorstBelow(long id) => (_priority ??= FindPriorities()).GetValueOrDefault(id);

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
        var below = ReadPlace(reader);
        return Do(
            new CopyEquipment(At ?? 0, below, reader.Text("Code"), reader.Text("Name"), reader.Text("WithBindings") == "yes"),
            reader,
            outcome => RedirectToPage(new { at = ((Equipment)outcome.Changes[0].After!).Id }),
            () => Again("copy")
        );
    }

    public IActionResult OnPostMove()
    {
        var reader = new FormReader(Request.Form);
        var below = ReadPlace(reader);
        return Do(new MoveEquipment(At ?? 0, below), reader, _ => RedirectToPage(new { at = At }), () => Again("move"));
    }

    /// <summary>Drops a node on another: before a sibling, else below it.</summary>
    public IActionResult OnPostDrop(long id, long onto)
    {
        var (node, target) = (Model.Equipment.GetValueOrDefault(id), Model.Equipment.GetValueOrDefault(onto));
        if (node is null || target is null)
            return NotFound();
        At = id;
        var edit = node.ParentId == target.ParentId ? new MoveEquipment(id, node.ParentId, onto) : new MoveEquipment(id, onto);
        return Place(edit);
    }

    /// <summary>Moves a node one up or down among its siblings.</summary>
    public IActionResult OnPostNudge(long id, bool up)
    {
        if (Model.Equipment.GetValueOrDefault(id) is not { } node)
            return NotFound();
        At = id;
        var siblings = Model.Index.ChildrenOf(node.ParentId).ToList();
        var at = siblings.FindIndex(e => e.Id == id);
        // Down by one means before the one after next; the last but one goes to the end.
        var before = up ? siblings.ElementAtOrDefault(at - 1)?.Id ?? id : siblings.ElementAtOrDefault(at + 2)?.Id;
        return before == id || (!up && at == siblings.Count - 1)
            ? RedirectToPage(new { at = id })
            : Place(new MoveEquipment(id, node.ParentId, before));
    }

    public IActionResult OnPostRemove(long id)
    {
        var above = Model.Equipment.GetValueOrDefault(id)?.ParentId;
        return Do(new RemoveEquipment(id), new FormReader(Request.Form), _ => RedirectToPage(new { at = above }), () => Again(null));
    }

    public IActionResult OnPostValue(long propertyId, string? back)
    {
        var reader = new FormReader(Request.Form);
        var edit = new PatchProperty(
            [At ?? 0],
            propertyId,
            back is null ? new() { Value = reader.Text("Value") } : PropertyPatch.Empty,
            [PatchField.Value]
        );
        return Do(edit, reader, _ => RedirectToPage(new { at = At }), () => Again($"value-{propertyId}"));
    }

    /// <summary>Sets a fixed property of all selected instances, or lets it go back to the template.</summary>
    public IActionResult OnPostValueMany(long propertyId, string? back)
    {
        Show();
        var reader = new FormReader(Request.Form);
        var edit = new PatchProperty(
            [.. Many.Select(e => e.Id)],
            propertyId,
            back is null ? new() { Value = reader.Text("Value") } : PropertyPatch.Empty,
            [PatchField.Value]
        );
        return Do(edit, reader, _ => RedirectToPage(new { at = At, with = With }), () => Again($"value-{propertyId}"));
    }

    /// <summary>Sets what was changed in the form for all selected instances; a field left as it was stays as each of them has
    /// it.</summary>
    public IActionResult OnPostOverrideMany(long propertyId, string? back)
    {
        Property = propertyId;
        Show();
        var reader = new FormReader(Request.Form);
        var edit =
            SharedProperty is not { } shared ? new PatchProperty([], propertyId, PropertyPatch.Empty, [])
            : back is null ? shared.EditOf(Model, reader)
            : new PatchProperty(shared.Layers, propertyId, PropertyPatch.Empty, PropertyPatch.AllFields);
        return Do(
            edit,
            reader,
            _ =>
                RedirectToPage(
                    new
                    {
                        at = At,
                        with = With,
                        property = propertyId,
                    }
                ),
            () => Again(null)
        );
    }

    public IActionResult OnPostAddParts(long id) =>
        Do(new AddParts([id]), new FormReader(Request.Form), _ => RedirectToPage(new { at = id }), () => Again(null));

    public IActionResult OnPostOverride(long propertyId, string? back)
    {
        var reader = new FormReader(Request.Form);
        Property = propertyId;
        var facts =
            Model.Equipment.GetValueOrDefault(At ?? 0) is { TemplateId: { } template }
            && Model.Index.PropertiesOf(template).FirstOrDefault(p => p.Id == propertyId) is { } property
                ? back is null
                    ? FactFields.Read(Model, reader, property.Declaration.Kind, property.Declaration.Type, property.Facts)
                    : PropertyPatch.Empty
                : PropertyPatch.Empty;
        return Do(
            PatchProperty.Exactly(At ?? 0, propertyId, facts),
            reader,
            _ => RedirectToPage(new { at = At, property = propertyId }),
            () => Again(null)
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

    private string PathAbove(Equipment node) => node.ParentId is { } parent ? Model.Index.PathOf(parent) : "";

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

    /// <summary>The place a path names; null for an empty one, null and a problem for one that nothing has.</summary>
    private long? ReadPlace(FormReader reader)
    {
        var path = reader.Text("Below").Trim('/');
        if (path.Length == 0)
            return null;
        var found = Model.Index.Find(path);
        if (found is null)
            reader.Refuse("Below", $"Nothing has the path {path}.");
        return found?.Id;
    }

    /// <summary>Paths to choose from, those of places first.</summary>
    public IEnumerable<string> Places =>
        Model.Index.EquipmentInOrder.Where(e => e.TemplateId is null).Take(MostPlaces).Select(e => Model.Index.PathOf(e.Id));

    private Equipment? ParentOf(Equipment? node) => node?.ParentId is { } id ? Model.Equipment.GetValueOrDefault(id) : null;

    private PageResult Again(string? open)
    {
        Open = open;
        Show(keepForm: true);
        return Page();
    }

    private void Show(bool keepForm = false)
    {
        if (Model.Equipment.IsEmpty)
            Open = "add";
        Selected = At is { } at ? Model.Equipment.GetValueOrDefault(at) : Model.Index.ChildrenOf(null).FirstOrDefault();
        if (Open == "add" && At is null)
            Selected = null;
        Many = Selected is null
            ? []
            :
            [
                Selected,
                .. (With ?? "")
                    .Split(',')
                    .Select(t =>
                        long.TryParse(t, NumberStyles.None, CultureInfo.InvariantCulture, out var id)
                            ? Model.Equipment.GetValueOrDefault(id)
                            : null
                    )
                    .OfType<Equipment>()
                    .Where(e => e.Id != Selected.Id)
                    .DistinctBy(e => e.Id)
                    .Take(MostSelected - 1),
            ];
        if (Many.Count > 1)
            Shared = SharedProperty.Of(Model, Many);
        Lineage = Selected is null ? [] : Model.Index.LineageOf(Selected.Id);
        Columns = [.. ColumnsOf(Lineage)];
        if (keepForm)
            return;
        Form = Open switch
        {
            "change" when Selected is { } e => FormState.Of(
                ("Id", e.Id),
                ("Name", e.Name),
                ("Code", e.Code),
                ("Level", e.Level),
                ("ParentId", e.ParentId),
                ("TemplateId", e.TemplateId),
                ("Labels", Labels.Text(e.Labels))
            ),
            "add" => FormState.Of(
                ("ParentId", Selected?.Id),
                ("Level", LevelRules.AllowedBelow(Selected?.Level).Cast<EquipmentLevel?>().FirstOrDefault())
            ),
            "series" => FormState.Of(
                ("ParentId", Selected?.Id),
                ("Level", LevelRules.AllowedBelow(Selected?.Level).Cast<EquipmentLevel?>().FirstOrDefault()),
                ("Start", 1),
                ("Step", 1),
                ("Count", 4),
                ("Digits", 1)
            ),
            "copy" when Selected is { } e => FormState.Of(
                ("Name", $"{e.Name} copy"),
                ("Code", $"{e.Code}-copy"),
                ("Below", PathAbove(e)),
                ("WithBindings", "no")
            ),
            "move" when Selected is { } e => FormState.Of(("Below", PathAbove(e))),
            _ when Many.Count > 1 && SharedProperty is { } shared => FormState.Of(shared.Fields.Select(f => (f.Key, (object?)f.Value))),
            _ when OpenProperty is { } p => FormState.Of(FactFields.Of(p.Own, Model)),
            _ => FormState.Empty,
        };
    }

    private IEnumerable<Column> ColumnsOf(IReadOnlyList<Equipment> lineage)
    {
        var enterprises = Model.Index.ChildrenOf(null).ToArray();
        // A single enterprise stands in the path above; a column of one would only take room.
        if (enterprises.Length > 1)
            yield return ColumnOf(enterprises, lineage.Count > 0 ? lineage[0].Id : null);
        for (var i = 0; i < lineage.Count; i++)
        {
            var children = Model.Index.ChildrenOf(lineage[i].Id).ToArray();
            if (children.Length > 0)
                yield return ColumnOf(children, i + 1 < lineage.Count ? lineage[i + 1].Id : null);
        }
    }

    private static Column ColumnOf(Equipment[] nodes, long? open)
    {
        var ranks = nodes.Select(n => LevelRules.RankOf(n.Level)).Distinct().ToArray();
        var shown = nodes.Take(LongestColumn).ToList();
        if (open is { } id && shown.All(n => n.Id != id))
            shown.Insert(0, nodes.First(n => n.Id == id));
        return new Column(ranks.Length == 1 ? LevelRules.NameOf(ranks[0]) : "Below", (int)ranks.Min(), shown, nodes.Length, open);
    }

    private Dictionary<long, int> FindPriorities()
    {
        var worst = new Dictionary<long, int>();
        foreach (var alarm in Snapshot.Alarms.Where(a => a.IsActive))
        {
            var priority = Snapshot.Find(alarm.Key.EquipmentId, alarm.Key.PropertyId)?.Point.LimitOf(alarm.Key.Condition)?.Priority ?? 4;
            for (long? id = alarm.Key.EquipmentId; id is { } at && Model.Equipment.TryGetValue(at, out var node); id = node.ParentId)
                worst[at] = Math.Min(worst.GetValueOrDefault(at, 4), priority);
        }
        return worst;
    }

    /// <summary>One column of the plant.</summary>
    /// <param name="Heading">The level in words.</param>
    /// <param name="Tint">0 for the top level and up, for the tint.</param>
    /// <param name="Nodes">The nodes shown.</param>
    /// <param name="Count">All nodes there are.</param>
    /// <param name="OpenId">The node whose children the next column shows; null in the last.</param>
    public sealed record Column(string Heading, int Tint, IReadOnlyList<Equipment> Nodes, int Count, long? OpenId);
}
