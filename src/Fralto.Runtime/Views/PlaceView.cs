using Fralto.Core.Hierarchy;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Links;
using Fralto.Runtime.Recording;

namespace Fralto.Runtime.Views;

/// <summary>A place at a glance: whether all is well, what is odd, what is unfinished, and what to do next.</summary>
public sealed class PlaceView
{
    private const int MostNamed = 3;
    private const int MostTasks = 3;
    private const int MostFigured = 40;
    private const int LeastUrgent = 4;

    private PlaceView(Equipment place) => Place = place;

    /// <summary>The place.</summary>
    public Equipment Place { get; }

    /// <summary>What lies one level below it, counted.</summary>
    public IReadOnlyList<PlaceRow> Rows { get; private init; } = [];

    /// <summary>The key figures of what lies below, row by row; where the place has no rows, its own.</summary>
    public IReadOnlyList<IReadOnlyList<PlaceFigures>> Figures { get; private init; } = [];

    /// <summary>All of it together.</summary>
    public PlaceRow Total { get; private init; } = null!;

    /// <summary>Whether all is well, in one answer.</summary>
    public string Well =>
        Total.Takes == 0 ? "Nothing here takes a tag yet"
        : Total.Bound == 0 ? "Nothing is bound here yet"
        : Total.Alarms > 0 ? $"{Count(Total.Alarms, "alarm")} to act on"
        : Total.FedBy.Any(c => c.State is not (LinkState.Up or LinkState.Partial)) ? "Not all of it is heard"
        : Total.Bad > 0 ? $"{Count(Total.Bad, "value")} bad"
        : "No alarm, and everything is heard";

    /// <summary>The controllers that feed it, in words.</summary>
    public string Controllers =>
        Total.FedBy.Count == 0
            ? "no controller feeds it"
            : $"{Total.FedBy.Count(c => c.State is LinkState.Up or LinkState.Partial)} of {Total.FedBy.Count} controllers up";

    /// <summary>What is odd, in one answer.</summary>
    public string Odd =>
        Total.Bound == 0 ? "Nothing to compare yet"
        : Total.Doubts is not { } doubts ? "Being looked at"
        : doubts + Total.Beyond + Total.Bad == 0 ? "Nothing out of line"
        : $"{Count(doubts + Total.Beyond + Total.Bad, "thing")} out of line";

    /// <summary>What is unfinished, in one answer.</summary>
    public string Unfinished =>
        Total.Takes == 0 ? "No instance with measured properties"
        : Total.Open == 0 ? "Everything is bound"
        : $"{Total.Open} of {Total.Takes} not bound";

    /// <summary>Where most is unfinished.</summary>
    public IReadOnlyList<PlaceRow> MostOpen => [.. Rows.Where(r => r.Open > 0).OrderByDescending(r => r.Open).Take(MostNamed)];

    /// <summary>What to do next: what clears most comes first.</summary>
    public IReadOnlyList<PlaceTask> Tasks { get; private init; } = [];

    /// <summary>Looks at a place.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="stateOf">Tells how a controller's link stands; null before it has begun.</param>
    /// <param name="known">What looks wrong, as far as it is known.</param>
    /// <param name="trends">What was recorded.</param>
    /// <param name="place">The place.</param>
    public static PlaceView Of(
        PlantModel model,
        EngineSnapshot snapshot,
        Func<long, LinkState?> stateOf,
        DoubtState known,
        Trends trends,
        Equipment place
    )
    {
        var children = model.Index.ChildrenOf(place.Id).ToArray();
        // Each node counts for the child it lies below: one walk over the plan instead of one a child.
        var childOf = new Dictionary<long, int>();
        for (var c = 0; c < children.Length; c++)
            foreach (var node in model.Index.Below(children[c].Id))
                childOf[node.Id] = c;
        var counts = new Counts[children.Length + 1];
        for (var c = 0; c < counts.Length; c++)
            counts[c] = new();
        var here = counts[^1];
        Counts? Of(long equipment) =>
            childOf.TryGetValue(equipment, out var c) ? counts[c]
            : equipment == place.Id ? here
            : null;
        for (var i = 0; i < snapshot.Plan.Shown; i++)
        {
            var point = snapshot.Plan.Points[i];
            if (Of(point.EquipmentId) is not { } count)
                continue;
            var value = snapshot.ValueOf(i);
            // What is worked out of a Bad value is no second trouble.
            if (value.Status.IsBad && point.Source == PointSource.Tag)
                count.Bad++;
            else if (value.IsAbnormalOf(point))
                count.Beyond++;
            if (point.Source == PointSource.Tag)
                count.Controllers.Add(snapshot.Plan.Tags[point.Tag].ControllerId);
        }
        foreach (var alarm in snapshot.Alarms.Where(a => a.IsActive))
            if (Of(alarm.Key.EquipmentId) is { } count)
            {
                var priority = snapshot.Find(alarm.Key.EquipmentId, alarm.Key.PropertyId)?.Point.LimitOf(alarm.Key.Condition)?.Priority
                    ?? LeastUrgent;
                count.Alarms++;
                count.Worst = count.Worst == 0 ? priority : Math.Min(count.Worst, priority);
            }
        foreach (var ((equipment, property), _) in known.Doubts)
            if (model.Bindings.ContainsKey((equipment, property)) && Of(equipment) is { } count)
                count.Doubts++;
        var isKnown = known.Model is not null;
        PlaceRow Row(Equipment node, IEnumerable<Counts> of)
        {
            var all = of.ToArray();
            var (bound, takes) = model.Index.TaggedBelow(node.Id);
            return new(
                node,
                model.Index.Below(node.Id).Count(e => e.TemplateId is not null),
                bound,
                takes,
                all.Sum(c => c.Bad),
                all.Sum(c => c.Beyond),
                isKnown ? all.Sum(c => c.Doubts) : null,
                all.Where(c => c.Worst > 0).Select(c => c.Worst).DefaultIfEmpty(0).Min(),
                all.Sum(c => c.Alarms),
                [
                    .. all.SelectMany(c => c.Controllers)
                        .Distinct()
                        .Select(id => (model.Controllers.GetValueOrDefault(id)?.Name ?? "one taken out", stateOf(id)))
                        .OrderBy(c => c.Item1, StringComparer.OrdinalIgnoreCase),
                ]
            );
        }
        var total = Row(place, counts);
        var rows = children.Select((c, i) => Row(c, [counts[i]])).ToArray();
        return new(place)
        {
            Rows = rows,
            Figures = [.. rows.Take(MostFigured).Select(r => PlaceFigures.Of(model, snapshot, trends, r.Node))],
            Total = total,
            Tasks = [.. TasksOf(model, place, total, rows).OrderByDescending(t => t.Clears).Take(MostTasks).Select(t => t.Task)],
        };
    }

    private static IEnumerable<(PlaceTask Task, int Clears)> TasksOf(PlantModel model, Equipment place, PlaceRow total, PlaceRow[] rows)
    {
        foreach (var (name, state) in total.FedBy.Where(c => c.State == LinkState.Down))
            yield return (
                new(
                    $"{name} is down",
                    "its values are bad until it is back",
                    $"hears up to {total.Bad} values again",
                    "Look at the controller",
                    $"/controllers?at={model.Controllers.Values.First(c => c.Name == name).Id}"
                ),
                total.Bad
            );
        if (total.Alarms > 0)
            yield return (
                new(
                    $"{Count(total.Alarms, "alarm")} active",
                    $"the most urgent has priority {total.Worst}",
                    "brings the plant back within its limits",
                    "Show the alarms",
                    "/alarms"
                ),
                1000 + total.Alarms
            );
        if (total.Doubts is > 0 and var doubts)
            yield return (
                new(
                    $"{Count(doubts, "binding")} {(doubts == 1 ? "looks" : "look")} wrong",
                    "names or values say so",
                    $"clears {Count(doubts, "doubt")}",
                    "Check them",
                    $"/checks?show=wrong&place={place.Id}"
                ),
                10 * doubts
            );
        if (rows.Where(r => r.Open > 0).MaxBy(r => r.Open) is { } open)
            yield return (
                new(
                    $"{open.Node.Name} has {Count(open.Open, "property", "properties")} without a tag",
                    $"{open.Bound} of {open.Takes} are bound",
                    $"{total.Bound} → up to {total.Bound + open.Open} bound",
                    "Bind them",
                    $"/bindings?place={open.Node.Id}&only=open"
                ),
                open.Open
            );
        if (total.Equipment == 0)
            yield return (
                new(
                    "Nothing stands here yet",
                    $"{place.Name} has no instance of a template",
                    "a first instance to bind",
                    "Add the first",
                    $"/plant?at={place.Id}&open=add"
                ),
                1
            );
    }

    private static string Count(int count, string one, string? many = null) => count == 1 ? $"1 {one}" : $"{count} {many ?? one + "s"}";

    private sealed class Counts
    {
        public int Bad { get; set; }

        public int Beyond { get; set; }

        public int Doubts { get; set; }

        public int Alarms { get; set; }

        public int Worst { get; set; }

        public HashSet<long> Controllers { get; } = [];
    }
}
