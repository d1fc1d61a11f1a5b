using System.Globalization;
using Fralto.Core.Alarms;
using Fralto.Core.Basics;
using Fralto.Core.Diagnosis;
using Fralto.Core.Hierarchy;
using Fralto.Store;
using Microsoft.AspNetCore.Mvc;

namespace Fralto.Web.Pages;

/// <summary>How many alarms a place brings its operator, against the benchmarks of the standards: a line a day, a cell each ten
/// minutes.</summary>
public sealed class AlarmsLoadModel(RunStore store, TimeProvider clock) : FraltoPage
{
    /// <inheritdoc/>
    protected override bool ShowsReleased => true;

    private const int MostDays = 31;
    private const int MostEvents = 500_000;
    private const int MostPlaces = 20;

    private IReadOnlyList<AlarmEvent>? _events;
    private AlarmLoad? _load;

    /// <summary>The place and labels.</summary>
    [BindProperty(SupportsGet = true, Name = "")]
    public AlarmQuery Query { get; set; } = new();

    /// <summary>How many days; 1 to 31.</summary>
    [BindProperty(SupportsGet = true)]
    public int Days { get; set; } = 7;

    /// <summary>The last day, as 2026-06-01; the plant's today when it is none.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Until { get; set; }

    /// <summary>Today, by the plant's clock.</summary>
    public DateOnly Today => DateOnly.FromDateTime(Model.Calendar.Local(clock.GetUtcNow().UtcTicks));

    /// <summary>The last day that is shown.</summary>
    public DateOnly Last =>
        DateOnly.TryParseExact(Until, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var day) && day < Today
            ? day
            : Today;

    /// <summary>The first day that is shown.</summary>
    public DateOnly First => Last.AddDays(1 - Math.Clamp(Days, 1, MostDays));

    /// <summary>The load of all days together; what is to come is not counted.</summary>
    public AlarmLoad Load
    {
        get
        {
            if (_load is not null)
                return _load;
            var (from, to, now) = (Asked, End(Last), clock.GetUtcNow());
            to = to < now ? to : now;
            // What was before the log began is not known; while it is empty nothing is.
            if (KnownSince > from)
                from = KnownSince < to ? KnownSince : to;
            return _load = AlarmLoad.Of(Events, Standing, from, to > from.AddMinutes(1) ? to : from.AddMinutes(1));
        }
    }

    /// <summary>When the time that is asked for begins.</summary>
    public DateTimeOffset Asked => Begin(First);

    /// <summary>When the log begins; now while it is empty.</summary>
    public DateTimeOffset KnownSince => _knownSince ??= store.FirstAlarmEvent() ?? clock.GetUtcNow();

    private DateTimeOffset? _knownSince;

    /// <summary>The load of each day, the first day first.</summary>
    public IEnumerable<(DateOnly Day, AlarmLoad Load)> EachDay
    {
        get
        {
            var byDay = Events.ToLookup(e => DateOnly.FromDateTime(Model.Calendar.Local(e.Time.UtcTicks)));
            for (var day = First; day <= Last; day = day.AddDays(1))
                yield return (day, AlarmLoad.Of(byDay[day], [], Begin(day), End(day)));
        }
    }

    /// <summary>The load of the places below the one that is looked at.</summary>
    public IEnumerable<(Equipment Place, AlarmLoad Load)> ByPlace
    {
        get
        {
            var above = Query.Place.Length == 1 ? Query.Place[0] : (long?)null;
            var places = (
                above is null
                    ? Model.Index.EquipmentInOrder.Where(e => e.Level == EquipmentLevel.Area)
                    : Model.Index.ChildrenOf(above).Where(e => e.TemplateId is null)
            )
                .Take(MostPlaces)
                .ToArray();
            var placeOf = new Dictionary<long, long>();
            foreach (var place in places)
            foreach (var node in Model.Index.Below(place.Id).Append(place))
                placeOf[node.Id] = place.Id;
            var byPlace = Events.ToLookup(e => placeOf.GetValueOrDefault(e.Key.EquipmentId));
            foreach (var place in places)
                yield return (place, AlarmLoad.Of(byPlace[place.Id], [], Load.From, Load.To));
        }
    }

    /// <summary>The verdict in one sentence.</summary>
    public string Sentence
    {
        get
        {
            var worst = Load.Measures.Where(m => m.Verdict == LoadVerdict.NotMet).Select(m => m.Name.ToLowerInvariant()).Take(3).ToArray();
            var average = Load.Measures[0];
            var head =
                Load.Total == 0 ? "No alarm in this time."
                : Load.Verdict == LoadVerdict.Met ? "All is as wanted."
                : Load.Verdict == LoadVerdict.Manageable ? "Manageable, and more than wanted."
                : $"More than can be managed: {string.Join("; ", worst)}.";
            var alarms = Load.Total == 1 ? "1 alarm" : $"{Load.Total} alarms";
            return Load.IsShort && Load.Total == 0 ? "No alarm is in the log of this time: there is nothing to judge yet."
                : Load.IsShort ? $"Less than an hour is known, too little to judge averages: {alarms} so far."
                : Load.Total == 0 ? head
                : $"{head} {average.Value.ToString("0.##", CultureInfo.InvariantCulture)} in ten minutes where about 1 is wanted; "
                    + $"{(Load.Floods.Length == 1 ? "1 flood" : $"{Load.Floods.Length} floods")}; by EEMUA 191 {Load.Rating}.";
        }
    }

    /// <summary>The same of another time.</summary>
    /// <param name="days">How many days.</param>
    /// <param name="last">The last day.</param>
    public string AddressOf(int days, DateOnly last) =>
        $"{Query.AddressOf("/alarms/load")}{(Query.Text.Length > 0 ? "&" : "?")}days={days.ToString(CultureInfo.InvariantCulture)}"
        + $"&until={last:yyyy-MM-dd}";

    /// <summary>The log of ten minutes.</summary>
    /// <param name="from">When they begin.</param>
    /// <param name="length">How long.</param>
    public string LogOf(DateTimeOffset from, TimeSpan length) =>
        $"{Query.AddressOf("/alarms/log")}{(Query.Text.Length > 0 ? "&" : "?")}from={Typed(from)}&to={Typed(from + length)}";

    private static string Typed(DateTimeOffset time) =>
        Uri.EscapeDataString(time.ToString("yyyy-MM-dd HH:mm:sszzz", CultureInfo.InvariantCulture));

    /// <summary>Name of an alarm.</summary>
    public string NameOf(FrequentAlarm alarm) => NameOf(alarm.Key.EquipmentId, alarm.Path, alarm.Limit);

    /// <summary>Name of what an alarm is about.</summary>
    public string NameOf(long equipmentId, string path, string limit)
    {
        var code = path[(path.LastIndexOf('/') + 1)..];
        return Model.Equipment.TryGetValue(equipmentId, out var node)
            ? $"{node.Name} {Model.Index.PropertiesOf(node).FirstOrDefault(p => p.Code == code)?.Name ?? code} {limit}"
            : $"{path} {limit}";
    }

    public void OnGet()
    {
        // The page works itself out of the log.
    }

    private IEnumerable<Alarm> Standing =>
        Last < Today
            ? []
            : Snapshot.Alarms.Where(a => Model.Equipment.ContainsKey(a.Key.EquipmentId) && Query.Filter.IsAt(Model, a.Key.EquipmentId));

    private IReadOnlyList<AlarmEvent> Events =>
        _events ??= store.AlarmEventsInOrder(
            new()
            {
                From = Begin(First),
                To = End(Last),
                Causes = [AlarmCause.ConditionRaised, AlarmCause.ConditionCleared, AlarmCause.AcknowledgedByOperator],
                Equipment =
                    Query.Place.Length == 0
                        ? null
                        : [.. Query.Place.SelectMany(p => Model.Index.Below(p).Select(e => e.Id).Append(p)).Distinct()],
            },
            MostEvents
        );

    private DateTimeOffset End(DateOnly day) => Begin(day.AddDays(1));

    /// <summary>When a day begins by the plant's clock.</summary>
    private DateTimeOffset Begin(DateOnly day)
    {
        var zone = TimeZoneInfo.TryFindSystemTimeZoneById(Model.Calendar.TimeZone, out var known) ? known : TimeZoneInfo.Utc;
        var local = day.ToDateTime(TimeOnly.MinValue);
        while (zone.IsInvalidTime(local))
            local = local.AddMinutes(30);
        return new DateTimeOffset(local, zone.GetUtcOffset(local)).ToUniversalTime();
    }
}
