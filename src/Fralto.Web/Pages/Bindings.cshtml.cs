using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Web.Forms;
using Fralto.Web.Live;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Fralto.Web.Pages;

/// <summary>The matrix: instances down, properties across, each cell a tag; what is open is proposed for.</summary>
public sealed class BindingsModel(ProposalCache proposals, ProposalMemory memory) : FraltoPage
{
    /// <summary>Most templates shown side by side; the others are in a list.</summary>
    public const int MostChips = 6;

    /// <summary>Most cells one window of the matrix shows.</summary>
    public const int MostCells = 2000;

    /// <summary>Most instances one window of the matrix shows.</summary>
    public const int MostRows = 100;

    /// <summary>A matrix is shown after this without proposals, which follow.</summary>
    private static readonly TimeSpan FirstPaint = TimeSpan.FromMilliseconds(200);

    private const int MostProposedFor = 8000;
    private const int FewestRows = 20;
    private const int MostLookedAt = 50;
    private const int MostTags = 200;

    /// <summary>The template whose instances are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Template { get; set; }

    /// <summary>The place whose instances of all templates are shown, in place of one template.</summary>
    [BindProperty(SupportsGet = true)]
    public long? Place { get; set; }

    /// <summary>"open" for only the instances with something open.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Only { get; set; }

    /// <summary>True shows fixed, entered and calculated properties too.</summary>
    [BindProperty(SupportsGet = true)]
    public bool All { get; set; }

    /// <summary>The selected cell: instance and property, joined by a point.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Cell { get; set; }

    /// <summary>A cell taken to be swapped with another.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Mark { get; set; }

    /// <summary>Part of a tag's name or description.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Filter { get; set; }

    /// <summary>Window of the matrix, from 1.</summary>
    [BindProperty(SupportsGet = true)]
    public int ListPage { get; set; } = 1;

    /// <summary>Certainty from which a tag is proposed, in hundredths.</summary>
    [BindProperty(SupportsGet = true)]
    public int Certainty { get; set; } = (int)(ProposalQuestion.DefaultThreshold * 100);

    /// <summary>True lists the tags that have changed in the last seconds.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Moving { get; set; }

    /// <summary>True waits for proposals, however long they take; else a page that would have to wait is shown without them
    /// first.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Wait { get; set; }

    /// <summary>True while proposals are still being worked out: the page comes again with them.</summary>
    public bool IsPending { get; private set; }

    /// <summary>Templates whose instances have something to bind; those with the most bindings first, then those with instances of their
    /// own.</summary>
    public IReadOnlyList<Template> Templates { get; private set; } = [];

    public IReadOnlyList<MatrixSection> Sections { get; private set; } = [];

    public int Instances { get; private set; }

    public int ListPages { get; private set; } = 1;

    public (Equipment Instance, ResolvedProperty Property)? At { get; private set; }

    public (Equipment Instance, ResolvedProperty Property)? Marked { get; private set; }

    public IReadOnlyList<(Tag Tag, string? Misfit, PropertyBinding? Used)> Tags { get; private set; } = [];

    /// <summary>True when there are more tags than are shown.</summary>
    public bool HasMoreTags => Tags.Count == MostTags;

    public int UnusedTags { get; private set; }

    public ProposalMatrix Proposals { get; private set; } = ProposalMatrix.Empty;

    /// <summary>True when proposals are made for the instances shown alone.</summary>
    public bool IsPartly { get; private set; }

    /// <summary>What is proposed for each open cell.</summary>
    public IReadOnlyDictionary<(long EquipmentId, long PropertyId), Proposal> Proposed { get; private set; } =
        new Dictionary<(long, long), Proposal>();

    /// <summary>What would be bound by going on with the series of the selected cell.</summary>
    public ImmutableArray<BindingLine> Fill { get; private set; } = [];

    /// <summary>What was pasted and could not be bound.</summary>
    public string Pasted { get; private set; } = "";

    public override LiveScope Scope =>
        Place is { } place ? new(LiveScopeKind.Matrix, place)
        : Template is { } id ? new(LiveScopeKind.Template, id)
        : base.Scope;

    /// <summary>The matrix as it is shown, for links and forms.</summary>
    public Dictionary<string, string> Here(string? cell = null) =>
        new List<(string Key, string? Value)>
        {
            ("template", Place is null ? Template?.ToString(CultureInfo.InvariantCulture) : null),
            ("place", Place?.ToString(CultureInfo.InvariantCulture)),
            ("only", Only),
            ("all", All ? "true" : null),
            ("listPage", ListPage > 1 ? ListPage.ToString(CultureInfo.InvariantCulture) : null),
            (
                "certainty",
                Certainty == (int)(ProposalQuestion.DefaultThreshold * 100) ? null : Certainty.ToString(CultureInfo.InvariantCulture)
            ),
            ("mark", Mark),
            ("cell", cell),
        }
            .Where(p => !string.IsNullOrEmpty(p.Value))
            .ToDictionary(p => p.Key, p => p.Value!);

    /// <summary>Address of the matrix with a change.</summary>
    public string Link(string? cell = null, params (string Key, string? Value)[] other)
    {
        var route = Here(cell);
        foreach (var (key, value) in other)
        {
            route.Remove(key);
            if (!string.IsNullOrEmpty(value))
                route[key] = value;
        }
        return $"/bindings?{string.Join('&', route.Select(p => $"{p.Key}={Uri.EscapeDataString(p.Value)}"))}";
    }

    /// <summary>A certainty with two decimals, cut and not rounded: nothing is wholly certain.</summary>
    public static string Sure(double certainty) => (Math.Floor(certainty * 100) / 100).ToString("0.00", CultureInfo.InvariantCulture);

    /// <summary>A proposal in one line: why it is held back or open, or what speaks most for it.</summary>
    public static string? Briefly(Proposal proposal) =>
        proposal.Kind == ProposalKind.Proposed
            ? $"certainty {Sure(proposal.Certainty)}: {string.Join("; ", proposal.Parts.Take(3).Select(p => p.Words))}"
            : proposal.Reason;

    public void OnGet() => Show();

    /// <summary>The tags for the selected cell as they are filtered while typing.</summary>
    public IActionResult OnGetTags()
    {
        Show();
        return Partial("_MatrixTags", this);
    }

    /// <summary>What is said of the selected cell, when another is taken in hand.</summary>
    public IActionResult OnGetHead()
    {
        Show();
        return Partial("_MatrixHead", this);
    }

    /// <summary>The tags that have changed lately, drawn again every few seconds.</summary>
    public IActionResult OnGetMoving()
    {
        Show();
        return Partial("_MatrixMoving", this);
    }

    /// <summary>For each property why a tag cannot feed it; empty text where it can.</summary>
    public IActionResult OnGetFits(long tagId)
    {
        Show();
        if (!Model.Tags.TryGetValue(tagId, out var tag))
            return NotFound();
        var used =
            Model.Index.BindingsOf(tagId).FirstOrDefault() is { } b && !BindingRules.TakesPart(tag, null)
                ? $"{tag.Name} already feeds {Model.Index.PathOf(b.EquipmentId)}."
                : null;
        return new JsonResult(
            Sections
                .SelectMany(s => s.Columns)
                .Where(c => c.TakesTag)
                .DistinctBy(c => c.Id)
                .ToDictionary(c => c.Id.ToString(CultureInfo.InvariantCulture), c => used ?? BindingRules.PartMisfit(Model, c, tag) ?? "")
        );
    }

    /// <summary>Binds the selected cell to a tag, or to the part of it that was typed.</summary>
    public IActionResult OnPostBind(long tagId, string? slice, bool share)
    {
        var part = string.IsNullOrWhiteSpace(slice) ? null : Slice.Parse(slice);
        return part is null && !string.IsNullOrWhiteSpace(slice)
            ? Refused($"'{slice}' is no part of a tag; write an element as [12], bits as .4 or .4-6, or both as [2].0-3.")
            : Change(cell => new Bind(cell.EquipmentId, cell.PropertyId, tagId, part, share));
    }

    /// <summary>Binds the selected cell to the tag that a text means: the one of this name, or the only one that matches. Where several do,
    /// nothing is bound.</summary>
    public IActionResult OnPostType(string? text)
    {
        Filter = (text ?? "").Trim();
        Show();
        if (At is not { } at || Filter.Length == 0)
            return Refused("Choose a cell and type part of a tag's name.");
        var named = Tags.Where(t => t.Tag.Name.Equals(Filter, StringComparison.OrdinalIgnoreCase)).ToArray();
        var meant =
            named.Length == 1 ? named[0]
            : Tags.Count == 1 ? Tags[0]
            : default;
        var cell = $"{at.Instance.Name} {at.Property.Name}";
        if (meant.Tag is not { } tag)
            return Refused(
                Tags.Count == 0
                    ? $"{cell}: no tag matches '{Filter}'; nothing is bound."
                    : $"{cell}: {Tags.Count}{(HasMoreTags ? " or more" : "")} tags match '{Filter}'; nothing is bound. Go on typing, "
                        + $"or choose one."
            );
        Filter = null;
        return Change(c => new Bind(c.EquipmentId, c.PropertyId, tag.Id, null, false));
    }

    public IActionResult OnPostUnbind() => Change(cell => new Unbind(cell.EquipmentId, cell.PropertyId));

    /// <summary>Takes the tags off all properties of the selected cell's instance, with its parts.</summary>
    public IActionResult OnPostUnbindRow() =>
        Change(cell => new UnbindMany([
            .. Model.Index.Below(cell.EquipmentId).SelectMany(Model.Index.BoundOf).Select(b => (b.EquipmentId, b.PropertyId)),
        ]));

    /// <summary>Gives the selected cell and another each other's tags.</summary>
    public IActionResult OnPostSwap(string? other)
    {
        var marked = ParseCell(other ?? Mark);
        Mark = null;
        return marked is { } with ? Change(cell => new SwapBindings(cell, with)) : Refused("Choose the other cell first.");
    }

    /// <summary>Goes on with the series that begins at the selected cell.</summary>
    public IActionResult OnPostFill()
    {
        Show();
        return Change(_ => new BindMany(Fill));
    }

    /// <summary>Binds what was pasted: tags line by line downwards from the selected cell, tabs go right.</summary>
    public IActionResult OnPostPaste(string? text)
    {
        Show();
        if (At is not { } at)
            return Refused("Choose the cell that the first line is for.");
        if (Sections.FirstOrDefault(s => s.Rows.Any(g => g.Contains(at.Instance))) is not { } section)
            return Refused(
                $"{at.Instance.Name} is not shown any more{(Only == "open" ? ", since nothing is open there" : "")}; show all "
                    + $"instances, or choose another cell."
            );
        var (lines, problems) = PastedTags.Read(
            Model,
            text ?? "",
            [.. section.Rows.SelectMany(g => g).SkipWhile(e => e.Id != at.Instance.Id).Select(e => e.Id)],
            [.. section.Columns.Where(c => c.TakesTag).SkipWhile(c => c.Id != at.Property.Id).Select(c => c.Id)]
        );
        if (problems.Count == 0)
            return Change(_ => new BindMany(lines), "Paste");
        Pasted = text ?? "";
        return Refused(string.Join(" ", problems));
    }

    /// <summary>What is proposed for the instances that are shown.</summary>
    public IEnumerable<Proposal> Ready =>
        Sections
            .SelectMany(s => s.Rows.SelectMany(g => g).SelectMany(e => s.Columns.Select(c => Proposed.GetValueOrDefault((e.Id, c.Id)))))
            .OfType<Proposal>()
            .Where(p => p.Kind == ProposalKind.Proposed);

    /// <summary>How many more proposals there are, for instances in other windows.</summary>
    public int ReadyElsewhere => Proposals.Proposals.Count(p => p.Kind == ProposalKind.Proposed) - Ready.Count();

    /// <summary>The proposals that are shown, for a form to say what was seen when it was sent.</summary>
    public string ReadyText(long? column) => string.Join(' ', Ready.Where(p => column is null || p.PropertyId == column).Select(TextOf));

    /// <summary>A proposal as a form says it: instance, property, tag and part.</summary>
    public static string TextOf(Proposal p) =>
        string.Create(CultureInfo.InvariantCulture, $"{p.EquipmentId}.{p.PropertyId}.{p.TagId}{p.Slice}");

    /// <summary>Binds what was shown as proposed: for one cell, one property, or the window. What has changed since, and what was not
    /// shown, is not bound.</summary>
    /// <param name="column">Only this property.</param>
    /// <param name="one">Only this cell, whether proposed or held back.</param>
    /// <param name="shown">The proposals as they were shown.</param>
    /// <param name="everywhere">True for all windows, shown or not.</param>
    public IActionResult OnPostAccept(long? column, string? one, string? shown, bool everywhere)
    {
        Show();
        var (only, seen) = (
            ParseCell(one),
            (shown ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).ToHashSet(StringComparer.Ordinal)
        );
        var lines = Proposed
            .Values.Where(p =>
                p.TagId is not null
                && (
                    only is { } cell
                        ? (p.EquipmentId, p.PropertyId) == cell
                        : p.Kind == ProposalKind.Proposed && (column is null || p.PropertyId == column)
                )
            )
            .Where(p => (everywhere && only is null) || seen.Contains(TextOf(p)))
            .Select(p => new BindingLine(p.EquipmentId, p.PropertyId, p.TagId!.Value, p.Slice))
            .ToImmutableArray();
        if (lines.IsEmpty)
            return Refused("Nothing of what was shown is proposed any more; the plant or the values have changed. Look again.");
        var left = seen.Count - lines.Length;
        return Change(
            _ => new BindMany(lines),
            done: !everywhere && left > 0
                ? $"; {left} that had changed since {(left == 1 ? "it was" : "they were")} shown left as they are"
                : ""
        );
    }

    /// <summary>Remembers that a proposed tag is not the right one, or forgets it.</summary>
    public IActionResult OnPostRefuse(long tagId, bool forget) =>
        Change(cell => new RefuseTags([new(cell.EquipmentId, cell.PropertyId, tagId)], forget));

    /// <summary>Keeps a naming rule with a template; an empty one takes out what was kept.</summary>
    public IActionResult OnPostRule(long templateId, long propertyId, TagFace face, string? rule) =>
        Change(_ => new KeepRule(templateId, propertyId, face, rule ?? ""));

    /// <summary>Lets a simulated source stand in for the tag of the selected cell, or hears the tag again.</summary>
    public IActionResult OnPostSimulate(SimulationShape? shape)
    {
        var reader = new FormReader(Request.Form);
        var (low, high) = (reader.Number("Low"), reader.Number("High"));
        var wrong = string.Join(" ", reader.State().Problems.Select(p => p.Message));
        return wrong.Length > 0 ? Refused(wrong) : Change(cell => new Simulate([cell], shape, low, high));
    }

    private PageResult Refused(string message)
    {
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        if (Sections.Count == 0)
            Show();
        Refusal = message;
        return Page();
    }

    private IActionResult Change(Func<(long EquipmentId, long PropertyId), Edit> edit, string what = "", string done = "")
    {
        var reader = new FormReader(Request.Form);
        return Do(
            edit(ParseCell(Cell) ?? (0, 0)),
            reader,
            _ =>
            {
                Done += done;
                return Redirect(Link(Cell));
            },
            () =>
            {
                Show();
                Refusal = string.Join(
                    " ",
                    Form.Problems.Take(5)
                        .Select(p =>
                            what.Length > 0 && int.TryParse(p.Field, NumberStyles.None, CultureInfo.InvariantCulture, out var line)
                                ? $"Entry {line + 1}: {p.Message}"
                                : p.Message
                        )
                );
                Pasted = what.Length > 0 ? reader.Text("text", int.MaxValue) : "";
                return Page();
            }
        );
    }

    private static (long EquipmentId, long PropertyId)? ParseCell(string? cell) =>
        cell?.Split('.') is [var e, var p]
        && long.TryParse(e, NumberStyles.None, CultureInfo.InvariantCulture, out var equipment)
        && long.TryParse(p, NumberStyles.None, CultureInfo.InvariantCulture, out var property)
            ? (equipment, property)
            : null;

    private void Show()
    {
        Certainty = Math.Clamp(Certainty, 1, 100);
        Templates =
        [
            .. Model
                .Templates.Values.Where(t => Model.Index.PropertiesOf(t.Id).Any(p => p.TakesTag) && InstancesOf(t).Any())
                .OrderByDescending(t => Model.Index.InstancesOf(t.Id).Take(MostLookedAt).Sum(e => Model.Index.BoundCountOf(e.Id)))
                .ThenByDescending(t => Model.Index.InstanceCountOf(t.Id) > 0)
                .ThenBy(t => t.Name, StringComparer.Ordinal),
        ];
        if (Place is { } chosen && !Model.Equipment.ContainsKey(chosen))
            Place = null;
        if (Place is null && (Template is not { } chosenTemplate || !Model.Templates.ContainsKey(chosenTemplate)))
            Template = Templates.Count > 0 ? Templates[0].Id : null;
        if (Place is null && Template is null)
            return;
        var all = Place is { } place
            ? Model
                .Index.Below(place)
                .Where(e => e.TemplateId is { } t && Model.Index.PropertiesOf(t).Any(p => p.TakesTag))
                .GroupBy(e => e.TemplateId!.Value)
                .Select(g => (Template: Model.Templates[g.Key], Instances: g.ToArray()))
                .ToArray()
            : [(Model.Templates[Template!.Value], InstancesOf(Model.Templates[Template!.Value]).ToArray())];
        var rows = all.SelectMany(s =>
                s.Instances.Where(e => Only != "open" || IsOpen(s.Template, e)).Select(e => (s.Template, Instance: e))
            )
            .ToArray();
        Instances = rows.Length;
        var widest = all.Length == 0 ? 1 : all.Max(s => ColumnsOf(s.Template).Length);
        var window = Math.Clamp(MostCells / Math.Max(1, widest), FewestRows, MostRows);
        ListPages = Math.Max(1, (rows.Length + window - 1) / window);
        ListPage = Math.Clamp(ListPage, 1, ListPages);
        Sections =
        [
            .. rows.Skip((ListPage - 1) * window)
                .Take(window)
                .GroupBy(r => r.Template)
                .Select(g => new MatrixSection(g.Key, ColumnsOf(g.Key), [.. g.Select(r => r.Instance).GroupBy(e => e.ParentId ?? 0)])),
        ];
        // A matrix too large to be looked at as one is also proposed for window by window.
        IsPartly = rows.Length * widest > MostProposedFor;
        long[]? templates = Place is null ? [Template!.Value] : null;
        long[]? shown = IsPartly ? [.. Sections.SelectMany(s => s.Rows).SelectMany(g => g).Select(e => e.Id)] : null;
        var known =
            HttpMethods.IsGet(Request.Method) && !Wait
                ? proposals.Ask(Model, templates, Place, Certainty / 100.0, shown, FirstPaint)
                : proposals.Ask(Model, templates, Place, Certainty / 100.0, shown);
        (Proposals, IsPending) = (known ?? ProposalMatrix.Empty, known is null);
        var proposed = new Dictionary<(long, long), Proposal>();
        foreach (var proposal in Proposals.Proposals)
            proposed[(proposal.EquipmentId, proposal.PropertyId)] = proposal;
        Proposed = proposed;
        // A cell of another matrix is not this one's; one of another window is.
        At = Find(Cell) is { } found && all.Any(s => s.Instances.Contains(found.Instance)) ? found : null;
        Marked = Find(Mark);
        UnusedTags = Model.Tags.Count - Model.Index.UsedTagCount;
        Tags = [.. TagsFor(At?.Property)];
        if (
            At is { } at
            && Model.Bindings.ContainsKey((at.Instance.Id, at.Property.Id))
            && Sections.FirstOrDefault(s => s.Rows.Any(g => g.Contains(at.Instance))) is { } its
        )
            Fill = SeriesFill.Lines(
                Model,
                (at.Instance.Id, at.Property.Id),
                [.. its.Rows.SelectMany(g => g).SkipWhile(e => e.Id != at.Instance.Id).Skip(1).Select(e => e.Id)],
                memory
            );
    }

    private (Equipment Instance, ResolvedProperty Property)? Find(string? cell) =>
        ParseCell(cell) is var (equipment, property)
        && Model.Equipment.TryGetValue(equipment, out var instance)
        && Model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == property) is { TakesTag: true } column
            ? (instance, column)
            : null;

    private ImmutableArray<ResolvedProperty> ColumnsOf(Template template) =>
        [
            .. Model.Index.PropertiesOf(template.Id).Where(p => p.TakesTag),
            .. All ? Model.Index.PropertiesOf(template.Id).Where(p => !p.TakesTag) : [],
        ];

    private bool IsOpen(Template template, Equipment instance) =>
        Model.Index.PropertiesOf(template.Id).Any(p => p.TakesTag && !Model.Bindings.ContainsKey((instance.Id, p.Id)));

    /// <summary>Instances of the template and of what inherits from it: they all have its properties.</summary>
    private IEnumerable<Equipment> InstancesOf(Template template) =>
        Model.Index.FamilyOf(template.Id).SelectMany(t => Model.Index.InstancesOf(t.Id));

    private IEnumerable<(Tag Tag, string? Misfit, PropertyBinding? Used)> TagsFor(ResolvedProperty? property) =>
        Model
            .Tags.Values.Where(t =>
                string.IsNullOrWhiteSpace(Filter)
                || t.Name.Contains(Filter, StringComparison.OrdinalIgnoreCase)
                || t.Description.Contains(Filter, StringComparison.OrdinalIgnoreCase)
            )
            .Select(t => (Tag: t, Used: Model.Index.BindingsOf(t.Id).FirstOrDefault()))
            .OrderBy(t => t.Used is not null)
            .ThenBy(t => t.Tag.Name, StringComparer.OrdinalIgnoreCase)
            .Take(5 * MostTags)
            .Select(t => (t.Tag, Misfit: property is null ? null : BindingRules.PartMisfit(Model, property, t.Tag), t.Used))
            .OrderBy(t => t.Misfit is not null)
            .Take(MostTags);
}
