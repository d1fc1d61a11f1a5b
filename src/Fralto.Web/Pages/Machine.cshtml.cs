using Fralto.Core.Alarms;
using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Runtime.Recording;
using Fralto.Runtime.Views;
using Fralto.Store;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>The page every instance gets from its template: its states and curves, its values between those of its neighbours, its
/// alarms and
/// its parts. Nothing of it is drawn by hand.</summary>
public sealed class MachineModel(Trends trends, SavedTrends saved, PlantStore store, HistoryRecorder recorder) : FraltoPage
{
    private const int MostUnits = 3;
    private const int MostOfUnit = 3;
    private const int MostNeighbours = 60;

    private TrendView? _view;
    private Equipment? _node;

    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    /// <summary>The instance.</summary>
    [BindProperty(SupportsGet = true, Name = "at")]
    public long At { get; set; }

    /// <summary>How long the window is, in seconds.</summary>
    [BindProperty(SupportsGet = true, Name = "for")]
    public double? For { get; set; }

    /// <summary>Where it ends, in milliseconds since 1970.</summary>
    [BindProperty(SupportsGet = true, Name = "to")]
    public long? To { get; set; }

    /// <summary>Width of the drawing.</summary>
    [BindProperty(SupportsGet = true, Name = "w")]
    public double? W { get; set; }

    /// <summary>The instance.</summary>
    public Equipment Node => _node!;

    /// <summary>The window and its curves: the states first, then up to three of each unit, in the order of the template.</summary>
    public TrendPlot Plot =>
        new(
            _view ??= TrendView.Of(
                new TrendsQuery
                {
                    For = For,
                    To = To,
                    W = W ?? 620,
                }.Question(Model) with
                {
                    Lines = [.. Drawn.Select(p => (At, p.Id))],
                },
                Model,
                Snapshot.Plan,
                trends,
                store,
                ticks => new DateTime(ticks, DateTimeKind.Utc).ToLocalTime()
            ),
            recorder.PastMade,
            "Nothing of this instance is recorded: bind it under Bindings.",
            0,
            HasStatistics: false
        );

    /// <summary>Properties, by the template they come from.</summary>
    public IEnumerable<IGrouping<long, ResolvedProperty>> Properties => Model.Index.PropertiesOf(Node).GroupBy(p => p.DeclaredBy);

    /// <summary>Instances of the same template, in the order of the plant.</summary>
    public IReadOnlyList<Equipment> Neighbours => [.. Model.Index.InstancesOf(Node.TemplateId!.Value).Take(MostNeighbours)];

    /// <summary>Trends that are kept with its template: each is there for every instance.</summary>
    public IEnumerable<SavedTrend> Saved => saved.All.Where(t => t.TemplateId == Node.TemplateId);

    /// <summary>The state it is in, and what it was in for seven days; null where it has no state, or none is recorded.</summary>
    public (StateNow? Now, IReadOnlyList<TrendStretch> Week)? State =>
        _state ??=
            Telling is { } property && Of(At, property.Id) is { } found
                ? (StateNow.Of(trends.Lately(found.Point, StateBack)), trends.Lately(found.Point, WeekLength))
                : null;

    private (StateNow?, IReadOnlyList<TrendStretch>)? _state;

    /// <summary>The state that says most: a key figure, or the one with most states.</summary>
    private ResolvedProperty? Telling =>
        Drawn
            .Where(p => p.Declaration.Type == PropertyType.State)
            .OrderByDescending(p => p.Facts.IsKeyFigure == true)
            .ThenByDescending(p => p.Facts.StateListId is { } id ? Model.StateLists[id].States.Length : 0)
            .FirstOrDefault();

    /// <summary>How long the strip under the curves is.</summary>
    public static readonly TimeSpan WeekLength = TimeSpan.FromDays(7);

    private static readonly TimeSpan StateBack = TimeSpan.FromDays(2);

    /// <summary>Now, in ticks.</summary>
    public long Now => trends.Now;

    /// <summary>Parts, in their order.</summary>
    public IEnumerable<Equipment> Parts => Model.Index.ChildrenOf(At).Where(e => e.TemplateId is not null);

    /// <summary>Alarms of it and its parts that stand, the most urgent first.</summary>
    public IReadOnlyList<AlarmFacts> Alarms =>
        [
            .. Snapshot
                .Alarms.Where(a => a.Key.EquipmentId == At || Model.Equipment.GetValueOrDefault(a.Key.EquipmentId)?.ParentId == At)
                .Where(a => a.State.IsStanding())
                .Select(a => AlarmFacts.Of(Snapshot, a))
                .OfType<AlarmFacts>(),
        ];

    /// <summary>The template's family, the root first.</summary>
    public IEnumerable<string> Family
    {
        get
        {
            var names = new List<string>();
            for (var id = Node.TemplateId; id is { } known && names.Count < 20; id = Model.Templates[known].ParentId)
                names.Add(Model.Templates[known].Name);
            names.Reverse();
            return names;
        }
    }

    /// <summary>The neighbour before or after; null at the end.</summary>
    public Equipment? Next(int by)
    {
        var all = Neighbours;
        var at = all.TakeWhile(e => e.Id != At).Count() + by;
        return at >= 0 && at < all.Count ? all[at] : null;
    }

    /// <summary>The point of a property of an instance; null where it has none.</summary>
    public (PlanPoint Point, Core.Engine.PointValue Value)? Of(long equipmentId, long propertyId) =>
        Snapshot.Find(equipmentId, propertyId) is { } found ? (found.Point, found.Value) : null;

    public IActionResult OnGet(bool plot = false)
    {
        _node = Model.Equipment.GetValueOrDefault(At);
        if (_node?.TemplateId is null)
            return NotFound();
        return plot ? Partial("_MachineBody", this) : Page();
    }

    private IEnumerable<ResolvedProperty> Drawn
    {
        get
        {
            var bound = Model.Index.PropertiesOf(Node).Where(p => Of(At, p.Id)?.Point.Recording is not null).ToArray();
            var states = bound.Where(p => p.Declaration.Type == PropertyType.State).Take(2);
            var numbers = bound
                .Where(p => p.Declaration is { Type: PropertyType.Number, Kind: not PropertyKind.Command })
                .GroupBy(p => p.Facts.Unit ?? "")
                .Take(MostUnits)
                .SelectMany(g => g.Take(MostOfUnit));
            return states.Concat(numbers);
        }
    }
}
