using Fralto.Core.Alarms;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Runtime.Views;

/// <summary>The alarms that stand, by place in the order of the process, on one axis of what came first and what is due first.</summary>
public sealed class AlarmBoard
{
    /// <summary>Rows that are drawn; what is beyond is counted.</summary>
    public const int MostRows = 200;

    /// <summary>Rows of what is put away that are drawn.</summary>
    public const int MostAway = 100;

    private const int MostLabels = 8;
    private static readonly TimeSpan Past = TimeSpan.FromHours(1);
    private static readonly TimeSpan Ahead = TimeSpan.FromMinutes(30);
    private static readonly TimeSpan Together = TimeSpan.FromMinutes(5);

    private AlarmBoard(DateTimeOffset now) => Now = now;

    /// <summary>The moment it shows.</summary>
    public DateTimeOffset Now { get; }

    /// <summary>The places that have alarms.</summary>
    public IReadOnlyList<AlarmBoardPlace> Places { get; private init; } = [];

    /// <summary>Alarms that stand and are asked for, drawn or not.</summary>
    public IReadOnlyList<AlarmFacts> Standing { get; private init; } = [];

    /// <summary>Alarms that stand in the whole plant.</summary>
    public int All { get; private init; }

    /// <summary>What is shelved, what is suppressed by design and what is out of service.</summary>
    public ILookup<AlarmState, AlarmBoardRow> Away { get; private init; } = Array.Empty<AlarmBoardRow>().ToLookup(_ => AlarmState.Shelved);

    /// <summary>Labels of what stands with how often, the most frequent first.</summary>
    public IReadOnlyList<(string Label, int Count)> Labels { get; private init; } = [];

    /// <summary>The alarm that is due next; null when none has a time to respond.</summary>
    public AlarmFacts? NextDue { get; private init; }

    /// <summary>When the last of those that stand was raised: what was raised later is not on it.</summary>
    public DateTimeOffset LastRaised => Standing.Select(f => f.Alarm.RaisedAt).DefaultIfEmpty(DateTimeOffset.MinValue).Max();

    /// <summary>How many stand of a priority: not acknowledged, and acknowledged.</summary>
    public (int Unacknowledged, int Acknowledged) Count(int priority)
    {
        var all = Standing.Where(f => f.Limit.Priority == priority).ToArray();
        return (all.Count(f => f.Alarm.State.IsUnacknowledged()), all.Count(f => !f.Alarm.State.IsUnacknowledged()));
    }

    /// <summary>Draws the board.</summary>
    /// <param name="model">The model.</param>
    /// <param name="snapshot">How things stand.</param>
    /// <param name="filter">What is asked for.</param>
    /// <param name="now">Now.</param>
    /// <param name="order">How they stand.</param>
    public static AlarmBoard Of(
        PlantModel model,
        EngineSnapshot snapshot,
        AlarmFilter filter,
        DateTimeOffset now,
        AlarmOrder order = AlarmOrder.Process
    )
    {
        var known = snapshot
            .Alarms.Select(a => AlarmFacts.Of(snapshot, a))
            .OfType<AlarmFacts>()
            .Where(f => model.Equipment.ContainsKey(f.Alarm.Key.EquipmentId))
            .ToArray();
        var asked = known.Where(f => filter.Takes(model, f, model.Equipment[f.Alarm.Key.EquipmentId])).ToArray();
        var standing = asked.Where(f => f.Alarm.State.IsStanding()).ToArray();
        int OrderOf(AlarmFacts f) => model.Index.RangeOf(f.Alarm.Key.EquipmentId)?.From ?? int.MaxValue;
        var places =
            order == AlarmOrder.Process
                // Rows stand in the order of the process, and inside an instance by time: they never change places while one looks.
                ? PlacesOf(model, standing.OrderBy(OrderOf).ThenBy(f => f.Alarm.RaisedAt).Take(MostRows), now)
                : [RowsIn(model, standing, now, order)];
        return new(now)
        {
            Places = places,
            Standing = standing,
            All = known.Count(f => f.Alarm.State.IsStanding()),
            Away = asked
                .Where(f => f.Alarm.State.IsPutAway())
                .OrderBy(OrderOf)
                .Select(f => RowOf(model, f, now, true, null, false))
                .ToLookup(r => r.Alarm.State),
            Labels =
            [
                .. standing
                    .SelectMany(f => AlarmFilter.LabelsOf(model, model.Equipment[f.Alarm.Key.EquipmentId]))
                    .GroupBy(l => $"{l.Key}={l.Value}")
                    .Select(g => (g.Key, g.Count()))
                    .OrderByDescending(l => l.Item2)
                    .ThenBy(l => l.Key, StringComparer.Ordinal)
                    .Take(MostLabels),
            ],
            NextDue = standing.Where(f => f.DueAt is not null).MinBy(f => f.DueAt),
        };
    }

    private static AlarmBoardPlace[] PlacesOf(PlantModel model, IEnumerable<AlarmFacts> ordered, DateTimeOffset now) =>
        [
            .. ordered
                .GroupBy(f => model.Equipment[f.Alarm.Key.EquipmentId].ParentId)
                .Select(g =>
                {
                    var rows = g.GroupBy(f => f.Alarm.Key.EquipmentId).SelectMany(n => RowsOf(model, [.. n], now)).ToArray();
                    var place = g.Key is { } id ? model.Equipment[id] : null;
                    var busy = rows.Select(r => r.Node.Id).ToHashSet();
                    return new AlarmBoardPlace(
                        place,
                        place is null ? "" : NameOf(model, place),
                        rows,
                        [
                            .. model
                                .Index.ChildrenOf(g.Key)
                                .Where(e => e.TemplateId is not null && e.PartId is null && !busy.Contains(e.Id))
                                .Select(e => e.Name),
                        ]
                    );
                }),
        ];

    /// <summary>All in one, the first that matters first.</summary>
    private static AlarmBoardPlace RowsIn(PlantModel model, AlarmFacts[] standing, DateTimeOffset now, AlarmOrder order)
    {
        var ordered =
            order == AlarmOrder.Newest
                ? standing.OrderByDescending(f => f.Alarm.RaisedAt)
                : standing
                    .OrderByDescending(f => f.Alarm.State.IsUnacknowledged())
                    .ThenBy(f => f.Limit.Priority)
                    .ThenBy(f => f.DueAt ?? DateTimeOffset.MaxValue)
                    .ThenBy(f => f.Alarm.RaisedAt);
        return new(
            null,
            order == AlarmOrder.Newest ? "The newest first" : "The most urgent first",
            [.. ordered.ThenBy(f => f.Alarm.Key.EquipmentId).Take(MostRows).Select(f => RowOf(model, f, now))],
            []
        );
    }

    /// <summary>Names from below the enterprise down to a place.</summary>
    public static string NameOf(PlantModel model, Equipment place) =>
        string.Join(" / ", model.Index.LineageOf(place.Id).Skip(1).Select(e => e.Name));

    /// <summary>A row as it would be drawn by itself.</summary>
    public static AlarmBoardRow RowOf(PlantModel model, AlarmFacts facts, DateTimeOffset now) =>
        RowOf(model, facts, now, true, null, false);

    private static IEnumerable<AlarmBoardRow> RowsOf(PlantModel model, AlarmFacts[] ofNode, DateTimeOffset now)
    {
        for (var i = 0; i < ofNode.Length; i++)
        {
            // The first of those that came one within five minutes of the other.
            var first = i;
            while (first > 0 && ofNode[first].Alarm.RaisedAt - ofNode[first - 1].Alarm.RaisedAt <= Together)
                first--;
            var isFirst = first == i && i + 1 < ofNode.Length && ofNode[i + 1].Alarm.RaisedAt - ofNode[i].Alarm.RaisedAt <= Together;
            yield return RowOf(
                model,
                ofNode[i],
                now,
                i == 0,
                first == i ? null : ofNode[i].Alarm.RaisedAt - ofNode[first].Alarm.RaisedAt,
                isFirst
            );
        }
    }

    private static AlarmBoardRow RowOf(
        PlantModel model,
        AlarmFacts facts,
        DateTimeOffset now,
        bool isFirstOfNode,
        TimeSpan? thread,
        bool isFirst
    )
    {
        var (alarm, node) = (facts.Alarm, model.Equipment[facts.Alarm.Key.EquipmentId]);
        return new(
            facts,
            node,
            model.Index.PropertiesOf(node).FirstOrDefault(p => p.Id == facts.PropertyId)?.Name
                ?? facts.Point.Path[(facts.Point.Path.LastIndexOf('/') + 1)..],
            isFirstOfNode,
            Left(now - alarm.RaisedAt),
            alarm.ClearedAt is { } cleared ? Left(now - cleared) : 1,
            alarm.AcknowledgedAt is { } seen ? Left(now - seen) : null,
            facts.DueAt is { } due
                ? due < now
                    ? -(1 - Left(now - due))
                    : Root((due - now) / Ahead)
                : null,
            thread,
            isFirst
        );
    }

    /// <summary>Distance from now is the square root of time, so that the last minutes are wide.</summary>
    private static double Left(TimeSpan ago) => 1 - Root(ago / Past);

    private static double Root(double share) => Math.Sqrt(Math.Clamp(share, 0, 1));
}
