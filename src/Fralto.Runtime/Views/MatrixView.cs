using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Bindings;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Proposals;
using Fralto.Core.Rules;
using Fralto.Core.Templates;

namespace Fralto.Runtime.Views;

/// <summary>The matrix: instances down, properties across, each cell a tag, with what is proposed for the open ones.</summary>
public sealed class MatrixView
{
    /// <summary>Most cells one window shows.</summary>
    public const int MostCells = 2000;

    /// <summary>Most instances one window shows.</summary>
    public const int MostRows = 100;

    private const int MostProposedFor = 8000;
    private const int FewestRows = 20;
    private const int MostLookedAt = 50;
    private const int MostTags = 200;

    private readonly PlantModel _model;
    private readonly MatrixQuestion _question;

    private MatrixView(PlantModel model, MatrixQuestion question) => (_model, _question) = (model, question);

    /// <summary>Templates whose instances have something to bind; those with the most bindings first, then those with instances of their
    /// own.</summary>
    public IReadOnlyList<Template> Templates { get; private set; } = [];

    /// <summary>The template whose instances are shown; null with a place, and where there is none.</summary>
    public long? TemplateId { get; private set; }

    /// <summary>The place whose instances are shown; null with a template.</summary>
    public long? PlaceId { get; private set; }

    /// <summary>The window that is shown, from 1.</summary>
    public int Window { get; private set; } = 1;

    /// <summary>How many windows there are.</summary>
    public int Windows { get; private set; } = 1;

    /// <summary>How many instances all windows have together.</summary>
    public int Instances { get; private set; }

    /// <summary>What the window shows, a section a template.</summary>
    public IReadOnlyList<MatrixSection> Sections { get; private set; } = [];

    /// <summary>True when an instance of a template that is shown has something bound.</summary>
    public bool HasExamples => Sections.Any(s => _model.Index.InstancesOf(s.Template.Id).Any(e => _model.Index.BoundOf(e).Any()));

    /// <summary>The selected cell.</summary>
    public (Equipment Instance, ResolvedProperty Property)? At { get; private set; }

    /// <summary>The cell taken to be swapped.</summary>
    public (Equipment Instance, ResolvedProperty Property)? Marked { get; private set; }

    /// <summary>The tags to choose from: why each does not fit the selected cell, and what it feeds.</summary>
    public IReadOnlyList<(Tag Tag, string? Misfit, PropertyBinding? Used)> Tags { get; private set; } = [];

    /// <summary>All controllers, first the one that serves the selected cell's instance and what it stands in.</summary>
    public IReadOnlyList<Controller> Controllers
    {
        get
        {
            var near = At is { } at
                ? _model
                    .Index.LineageOf(at.Instance.Id)
                    .Reverse()
                    .Take(2)
                    .SelectMany(n => _model.Index.Below(n.Id))
                    .SelectMany(_model.Index.BoundOf)
                : [];
            var serving = near.CountBy(b => _model.Tags[b.TagId].ControllerId).ToDictionary();
            return
            [
                .. _model
                    .Controllers.Values.OrderByDescending(c => serving.GetValueOrDefault(c.Id))
                    .ThenBy(c => c.Name, StringComparer.Ordinal),
            ];
        }
    }

    /// <summary>True when there are more tags than are shown.</summary>
    public bool HasMoreTags => Tags.Count == MostTags;

    /// <summary>Tags of all controllers that feed nothing.</summary>
    public int UnusedTags { get; private set; }

    /// <summary>All that is proposed, in all windows, and by which rules.</summary>
    public ProposalMatrix Proposals { get; private set; } = ProposalMatrix.Empty;

    /// <summary>What is proposed for each open cell.</summary>
    public IReadOnlyDictionary<(long EquipmentId, long PropertyId), Proposal> Proposed { get; private set; } =
        new Dictionary<(long, long), Proposal>();

    /// <summary>True when proposals are made for the instances shown alone.</summary>
    public bool IsPartly { get; private set; }

    /// <summary>True while proposals are still being worked out.</summary>
    public bool IsPending { get; private set; }

    /// <summary>What would be bound by going on with the series of the selected cell.</summary>
    public ImmutableArray<BindingLine> Fill { get; private set; } = [];

    /// <summary>What is proposed for the instances that are shown.</summary>
    public IReadOnlyList<Proposal> Ready { get; private set; } = [];

    /// <summary>How many more proposals there are, for instances in other windows.</summary>
    public int ReadyElsewhere => Proposals.Proposals.Count(p => p.Kind == ProposalKind.Proposed) - Ready.Count;

    /// <summary>How many proposals are held back, in all windows.</summary>
    public int Clashes => Proposals.Proposals.Count(p => p.Kind == ProposalKind.Clash);

    /// <summary>The section that shows an instance; null when no row is it.</summary>
    /// <param name="instance">The instance.</param>
    public MatrixSection? SectionOf(Equipment instance) => Sections.FirstOrDefault(s => s.Rows.Any(g => g.Contains(instance)));

    /// <summary>The proposals that are shown, for a form to say what was seen when it was sent.</summary>
    /// <param name="column">Only this property; null for all.</param>
    public string ReadyText(long? column) => string.Join(' ', Ready.Where(p => column is null || p.PropertyId == column).Select(TextOf));

    /// <summary>A proposal as a form says it: instance, property, tag and part.</summary>
    /// <param name="p">The proposal.</param>
    public static string TextOf(Proposal p) =>
        string.Create(CultureInfo.InvariantCulture, $"{p.EquipmentId}.{p.PropertyId}.{p.TagId}{p.Slice}");

    /// <summary>For each property shown why a tag cannot feed it; empty text where it can.</summary>
    /// <param name="tag">The tag.</param>
    public IReadOnlyDictionary<long, string> MisfitsOf(Tag tag)
    {
        var used =
            _model.Index.BindingsOf(tag.Id).FirstOrDefault() is { } b && !BindingRules.TakesPart(tag, null)
                ? $"{tag.Name} already feeds {_model.Index.PathOf(b.EquipmentId)}."
                : null;
        return Sections
            .SelectMany(s => s.Columns)
            .Where(c => c.TakesTag)
            .DistinctBy(c => c.Id)
            .ToDictionary(c => c.Id, c => used ?? BindingRules.PartMisfit(_model, c, tag) ?? "");
    }

    /// <summary>The tag that the filter means: the one of this name, or the only one that matches; null where several do, or
    /// none.</summary>
    public Tag? MeantTag
    {
        get
        {
            var named = Tags.Where(t => t.Tag.Name.Equals(_question.Filter, StringComparison.OrdinalIgnoreCase)).ToArray();
            return named.Length == 1 ? named[0].Tag
                : Tags.Count == 1 ? Tags[0].Tag
                : null;
        }
    }

    /// <summary>What was shown as proposed and still is: for one cell, one property, or all. What has changed since is left out.</summary>
    /// <param name="shown">The proposals as they were shown, as <see cref="ReadyText"/> says them.</param>
    /// <param name="column">Only this property; null for all.</param>
    /// <param name="one">Only this cell, whether proposed or held back; null for all.</param>
    /// <param name="everywhere">True for all windows, shown or not.</param>
    public (ImmutableArray<BindingLine> Lines, int Left) Accepted(
        string shown,
        long? column,
        (long EquipmentId, long PropertyId)? one,
        bool everywhere
    )
    {
        var seen = shown.Split(' ', StringSplitOptions.RemoveEmptyEntries).ToHashSet(StringComparer.Ordinal);
        var lines = Proposed
            .Values.Where(p =>
                p.TagId is not null
                && (
                    one is { } cell
                        ? (p.EquipmentId, p.PropertyId) == cell
                        : p.Kind == ProposalKind.Proposed && (column is null || p.PropertyId == column)
                )
            )
            .Where(p => (everywhere && one is null) || seen.Contains(TextOf(p)))
            .Select(p => new BindingLine(p.EquipmentId, p.PropertyId, p.TagId!.Value, p.Slice))
            .ToImmutableArray();
        return (lines, everywhere ? 0 : Math.Max(0, seen.Count - lines.Length));
    }

    /// <summary>What pasted text would bind: tags line by line downwards from the selected cell, tabs go right.</summary>
    /// <param name="text">The pasted text.</param>
    /// <param name="section">The section of the selected cell.</param>
    public (ImmutableArray<BindingLine> Lines, IReadOnlyList<string> Problems) Pasted(string text, MatrixSection section) =>
        At is not { } at
            ? ([], [])
            : PastedTags.Read(
                _model,
                text,
                [.. section.Rows.SelectMany(g => g).SkipWhile(e => e.Id != at.Instance.Id).Select(e => e.Id)],
                [.. section.Columns.Where(c => c.TakesTag).SkipWhile(c => c.Id != at.Property.Id).Select(c => c.Id)]
            );

    /// <summary>Looks at one window of the matrix.</summary>
    /// <param name="model">The model.</param>
    /// <param name="question">What is asked for; what is no longer there is left out.</param>
    /// <param name="proposals">Where proposals are asked for.</param>
    /// <param name="memory">What was learned from names, for going on with a series.</param>
    public static MatrixView Of(PlantModel model, MatrixQuestion question, ProposalCache proposals, ProposalMemory memory)
    {
        var view = new MatrixView(model, question);
        view.Choose();
        if (view.PlaceId is null && view.TemplateId is null)
            return view;
        var all = view.Instanced();
        view.Lay(all);
        view.Propose(all, proposals);
        view.Select(all, memory);
        return view;
    }

    private void Choose()
    {
        Templates =
        [
            .. _model
                .Templates.Values.Where(t => _model.Index.PropertiesOf(t.Id).Any(p => p.TakesTag) && InstancesOf(t).Any())
                .OrderByDescending(t => _model.Index.InstancesOf(t.Id).Take(MostLookedAt).Sum(e => _model.Index.BoundCountOf(e.Id)))
                .ThenByDescending(t => _model.Index.InstanceCountOf(t.Id) > 0)
                .ThenBy(t => t.Name, StringComparer.Ordinal),
        ];
        PlaceId = _question.PlaceId is { } place && _model.Equipment.ContainsKey(place) ? place : null;
        TemplateId =
            PlaceId is not null ? null
            : _question.TemplateId is { } id && _model.Templates.ContainsKey(id) ? id
            : Templates.Count > 0 ? Templates[0].Id
            : null;
    }

    private (Template Template, Equipment[] Instances)[] Instanced() =>
        PlaceId is { } place
            ? _model
                .Index.Below(place)
                .Where(e => e.TemplateId is { } t && _model.Index.PropertiesOf(t).Any(p => p.TakesTag))
                .GroupBy(e => e.TemplateId!.Value)
                .Select(g => (_model.Templates[g.Key], g.ToArray()))
                .ToArray()
            : [(_model.Templates[TemplateId!.Value], InstancesOf(_model.Templates[TemplateId!.Value]).ToArray())];

    private void Lay((Template Template, Equipment[] Instances)[] all)
    {
        var rows = all.SelectMany(s =>
                s.Instances.Where(e => !_question.OnlyOpen || IsOpen(s.Template, e)).Select(e => (s.Template, Instance: e))
            )
            .ToArray();
        Instances = rows.Length;
        var widest = all.Length == 0 ? 1 : all.Max(s => ColumnsOf(s.Template).Length);
        var window = Math.Clamp(MostCells / Math.Max(1, widest), FewestRows, MostRows);
        Windows = Math.Max(1, (rows.Length + window - 1) / window);
        Window = Math.Clamp(_question.Window, 1, Windows);
        Sections =
        [
            .. rows.Skip((Window - 1) * window)
                .Take(window)
                .GroupBy(r => r.Template)
                .Select(g => new MatrixSection(g.Key, ColumnsOf(g.Key), [.. g.Select(r => r.Instance).GroupBy(e => e.ParentId ?? 0)])),
        ];
        // A matrix too large to be looked at as one is also proposed for window by window.
        IsPartly = rows.Length * widest > MostProposedFor;
    }

    private void Propose((Template Template, Equipment[] Instances)[] all, ProposalCache proposals)
    {
        long[]? templates = PlaceId is null ? [all[0].Template.Id] : null;
        long[]? shown = IsPartly ? [.. Sections.SelectMany(s => s.Rows).SelectMany(g => g).Select(e => e.Id)] : null;
        var known = _question.Patience is { } patience
            ? proposals.Ask(_model, templates, PlaceId, _question.Threshold, shown, patience)
            : proposals.Ask(_model, templates, PlaceId, _question.Threshold, shown);
        (Proposals, IsPending) = (known ?? ProposalMatrix.Empty, known is null);
        var proposed = new Dictionary<(long, long), Proposal>();
        foreach (var proposal in Proposals.Proposals)
            proposed[(proposal.EquipmentId, proposal.PropertyId)] = proposal;
        Proposed = proposed;
        Ready =
        [
            .. Sections
                .SelectMany(s => s.Rows.SelectMany(g => g).SelectMany(e => s.Columns.Select(c => proposed.GetValueOrDefault((e.Id, c.Id)))))
                .OfType<Proposal>()
                .Where(p => p.Kind == ProposalKind.Proposed),
        ];
    }

    private void Select((Template Template, Equipment[] Instances)[] all, ProposalMemory memory)
    {
        // A cell of another matrix is not this one's; one of another window is.
        At = Find(_question.Cell) is { } found && all.Any(s => s.Instances.Contains(found.Instance)) ? found : null;
        Marked = Find(_question.Mark);
        UnusedTags = _model.Tags.Count - _model.Index.UsedTagCount;
        Tags = [.. TagsFor(At?.Property)];
        if (At is { } at && _model.Bindings.ContainsKey((at.Instance.Id, at.Property.Id)) && SectionOf(at.Instance) is { } its)
            Fill = SeriesFill.Lines(
                _model,
                (at.Instance.Id, at.Property.Id),
                [.. its.Rows.SelectMany(g => g).SkipWhile(e => e.Id != at.Instance.Id).Skip(1).Select(e => e.Id)],
                memory
            );
    }

    private (Equipment Instance, ResolvedProperty Property)? Find((long EquipmentId, long PropertyId)? cell) =>
        cell is var (equipment, property)
        && _model.Equipment.TryGetValue(equipment, out var instance)
        && _model.Index.PropertiesOf(instance).FirstOrDefault(p => p.Id == property) is { TakesTag: true } column
            ? (instance, column)
            : null;

    private ImmutableArray<ResolvedProperty> ColumnsOf(Template template) =>
        [
            .. _model.Index.PropertiesOf(template.Id).Where(p => p.TakesTag),
            .. _question.AllProperties ? _model.Index.PropertiesOf(template.Id).Where(p => !p.TakesTag) : [],
        ];

    private bool IsOpen(Template template, Equipment instance) =>
        _model.Index.PropertiesOf(template.Id).Any(p => p.TakesTag && !_model.Bindings.ContainsKey((instance.Id, p.Id)));

    /// <summary>Instances of the template and of what inherits from it: they all have its properties.</summary>
    private IEnumerable<Equipment> InstancesOf(Template template) =>
        _model.Index.FamilyOf(template.Id).SelectMany(t => _model.Index.InstancesOf(t.Id));

    private IEnumerable<(Tag Tag, string? Misfit, PropertyBinding? Used)> TagsFor(ResolvedProperty? property) =>
        _model
            .Tags.Values.Where(t =>
                string.IsNullOrWhiteSpace(_question.Filter)
                || t.Name.Contains(_question.Filter, StringComparison.OrdinalIgnoreCase)
                || t.Description.Contains(_question.Filter, StringComparison.OrdinalIgnoreCase)
            )
            .Select(t => (Tag: t, Used: _model.Index.BindingsOf(t.Id).FirstOrDefault()))
            .OrderBy(t => t.Used is not null)
            .ThenBy(t => t.Tag.Name, StringComparer.OrdinalIgnoreCase)
            .Take(5 * MostTags)
            .Select(t => (t.Tag, Misfit: property is null ? null : BindingRules.PartMisfit(_model, property, t.Tag), t.Used))
            .OrderBy(t => t.Misfit is not null)
            .Take(MostTags);
}
