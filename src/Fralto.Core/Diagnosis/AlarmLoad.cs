using System.Collections.Immutable;
using Fralto.Core.Alarms;

namespace Fralto.Core.Diagnosis;

/// <summary>How many alarms a place brings its operator, against the benchmarks of the standards.</summary>
/// <remarks>Sources: ANSI/ISA-18.2-2016 clause 16 and IEC 62682 for the measures, EEMUA 191 edition 3 for its rating (figures from
/// memory). Alarms are what is raised before the operator: what is shelved, suppressed or out of service is none.</remarks>
public sealed class AlarmLoad
{
    /// <summary>Minutes of a cell.</summary>
    public const int CellMinutes = 10;

    private const int FloodBegins = 10;
    private const int FloodEnds = 5;
    private const int MostFrequent = 10;
    private const int HourOverload = 30;
    private const int ChatteringRaises = 3;
    private static readonly TimeSpan Cell = TimeSpan.FromMinutes(CellMinutes);
    private static readonly TimeSpan ChatteringWithin = TimeSpan.FromSeconds(60);
    private static readonly TimeSpan Fleeting = TimeSpan.FromSeconds(60);
    private static readonly TimeSpan Stale = TimeSpan.FromHours(24);
    private static readonly TimeSpan Shortest = TimeSpan.FromHours(1);

    private AlarmLoad(DateTimeOffset from, DateTimeOffset to) => (From, To) = (from, to);

    /// <summary>From when.</summary>
    public DateTimeOffset From { get; }

    /// <summary>Until when.</summary>
    public DateTimeOffset To { get; }

    /// <summary>Alarms raised in each ten minutes from <see cref="From"/> on.</summary>
    public ImmutableArray<int> Cells { get; private init; } = [];

    /// <summary>Alarms raised.</summary>
    public int Total { get; private init; }

    /// <summary>Alarms raised by priority, 1 to 4.</summary>
    public ImmutableArray<int> ByPriority { get; private init; } = [0, 0, 0, 0];

    /// <summary>The floods, in the order they came.</summary>
    public ImmutableArray<AlarmFlood> Floods { get; private init; } = [];

    /// <summary>The ten most frequent alarms.</summary>
    public ImmutableArray<FrequentAlarm> Frequent { get; private init; } = [];

    /// <summary>Alarms that stand for more than 24 h at the end, the longest first.</summary>
    public ImmutableArray<Alarm> Standing { get; private init; } = [];

    /// <summary>The measures of the standard.</summary>
    public ImmutableArray<LoadMeasure> Measures { get; private init; } = [];

    /// <summary>The rating of EEMUA 191 by the average between two alarms.</summary>
    public string Rating { get; private init; } = "";

    /// <summary>True where too little is known to judge averages: less than an hour.</summary>
    public bool IsShort => To - From < Shortest;

    /// <summary>The verdict of all measures together.</summary>
    public LoadVerdict Verdict => Measures.IsEmpty ? LoadVerdict.Met : Measures.Max(m => m.Verdict);

    /// <summary>Alarms raised in the hour that begins with a cell.</summary>
    /// <param name="cell">Number of the cell.</param>
    public int HourFrom(int cell) => Cells.Skip(cell).Take(60 / CellMinutes).Sum();

    /// <summary>Works out the load.</summary>
    /// <param name="events">Steps of alarms in the order they came; those outside of the time are passed over.</param>
    /// <param name="standing">Alarms that are not normal at the end.</param>
    /// <param name="from">From when.</param>
    /// <param name="to">Until when; after <paramref name="from"/>.</param>
    public static AlarmLoad Of(IEnumerable<AlarmEvent> events, IEnumerable<Alarm> standing, DateTimeOffset from, DateTimeOffset to)
    {
        ArgumentOutOfRangeException.ThrowIfLessThanOrEqual(to, from);
        var inTime = events.Where(e => e.Time >= from && e.Time < to).ToArray();
        var raised = inTime.Where(e => e.Cause == AlarmCause.ConditionRaised && !e.State.IsPutAway()).OrderBy(e => e.Time).ToArray();
        var cells = new int[(int)Math.Ceiling((to - from) / Cell)];
        var byPriority = new int[4];
        foreach (var e in raised)
        {
            cells[(int)((e.Time - from) / Cell)]++;
            byPriority[Math.Clamp(e.Priority, 1, 4) - 1]++;
        }
        var (floods, most) = FloodsOf(raised, to);
        var frequent = FrequentOf(inTime, raised);
        var stale = standing.Where(a => a.State.IsStanding() && to - a.RaisedAt > Stale).OrderBy(a => a.RaisedAt).ToImmutableArray();
        return new(from, to)
        {
            Cells = [.. cells],
            Total = raised.Length,
            ByPriority = [.. byPriority],
            Floods = floods,
            Frequent = [.. frequent.Take(MostFrequent)],
            Standing = stale,
            Measures = [.. MeasuresOf(cells, raised.Length, floods, most, frequent, stale.Length, to - from)],
            Rating = RatingOf(raised.Length, to - from),
        };
    }

    private static IEnumerable<LoadMeasure> MeasuresOf(
        int[] cells,
        int total,
        ImmutableArray<AlarmFlood> floods,
        int most,
        List<FrequentAlarm> frequent,
        int stale,
        TimeSpan length
    )
    {
        var hours = cells.Chunk(60 / CellMinutes).Select(c => c.Sum()).ToArray();
        double Share(double part, double whole) => whole == 0 ? 0 : 100 * part / whole;
        var inFlood = floods.Sum(f => (f.End - f.Begin).Ticks);
        yield return new("In 10 min, average", total / (length / Cell), 1, 2, "") { IsJudged = length >= Shortest };
        yield return new("In an hour, average", total / length.TotalHours, 6, 12, "") { IsJudged = length >= Shortest };
        yield return new("In a day, average", total / length.TotalDays, 144, 288, "") { IsJudged = length >= Stale };
        yield return new("Most in 10 min", most, 10, 10, "");
        yield return new("10 min with more than 10", Share(cells.Count(c => c > FloodBegins), cells.Length), 1, 1, "%");
        yield return new("Hours with more than 30", Share(hours.Count(h => h > HourOverload), hours.Length), 1, 1, "%");
        yield return new("Time in flood", Share(inFlood, length.Ticks), 1, 1, "%");
        yield return new("Ten most frequent", Share(frequent.Take(MostFrequent).Sum(f => f.Count), total), 1, 5, "%")
        {
            // Of ten different alarms the ten most frequent are all.
            IsJudged = frequent.Count > MostFrequent,
        };
        yield return new(
            "Chattering or fleeting",
            frequent.Count(f => f.Nature is AlarmNature.Chattering or AlarmNature.Fleeting),
            0,
            0,
            ""
        );
        yield return new("Standing over 24 h", stale, 4, 4, "");
    }

    private static (ImmutableArray<AlarmFlood> Floods, int Most) FloodsOf(AlarmEvent[] raised, DateTimeOffset to)
    {
        var floods = ImmutableArray.CreateBuilder<AlarmFlood>();
        var window = new Queue<AlarmEvent>();
        var (most, current) = (0, (AlarmFlood?)null);
        void Expire(DateTimeOffset now)
        {
            while (window.TryPeek(out var oldest) && oldest.Time <= now - Cell)
            {
                window.Dequeue();
                if (current is null || window.Count >= FloodEnds)
                    continue;
                floods.Add(current with { End = oldest.Time + Cell });
                current = null;
            }
        }
        foreach (var e in raised)
        {
            Expire(e.Time);
            window.Enqueue(e);
            most = Math.Max(most, window.Count);
            if (current is not null)
                current = current with { Alarms = current.Alarms + 1, Most = Math.Max(current.Most, window.Count) };
            else if (window.Count > FloodBegins)
            {
                var first = window.Peek();
                current = new(first.Time, to, window.Count, window.Count, first.Path, first.Limit);
            }
        }
        Expire(to);
        if (current is not null)
            floods.Add(current);
        return (floods.ToImmutable(), most);
    }

    private static List<FrequentAlarm> FrequentOf(AlarmEvent[] all, AlarmEvent[] raised)
    {
        var ends = all.Where(e => e.Cause is AlarmCause.ConditionCleared or AlarmCause.AcknowledgedByOperator)
            .GroupBy(e => e.Key)
            .ToDictionary(g => g.Key, g => g.OrderBy(e => e.Time).ToArray());
        return
        [
            .. raised
                .GroupBy(e => e.Key)
                .Select(g =>
                {
                    var times = g.Select(e => e.Time).ToArray();
                    var last = g.Last();
                    return new FrequentAlarm(
                        g.Key,
                        last.Path,
                        last.Limit,
                        last.Priority,
                        times.Length,
                        raised.Length == 0 ? 0 : 100.0 * times.Length / raised.Length,
                        NatureOf(times, ends.GetValueOrDefault(g.Key, []))
                    );
                })
                .OrderByDescending(f => f.Count)
                .ThenBy(f => f.Path, StringComparer.Ordinal)
                .ThenBy(f => f.Limit, StringComparer.Ordinal),
        ];
    }

    private static AlarmNature NatureOf(DateTimeOffset[] raised, AlarmEvent[] ends)
    {
        for (var i = ChatteringRaises - 1; i < raised.Length; i++)
            if (raised[i] - raised[i - ChatteringRaises + 1] <= ChatteringWithin)
                return AlarmNature.Chattering;
        // Gone by itself before anybody could act, more often than not.
        var (quick, at) = (0, 0);
        foreach (var time in raised)
        {
            while (at < ends.Length && ends[at].Time < time)
                at++;
            if (at < ends.Length && ends[at].Cause == AlarmCause.ConditionCleared && ends[at].Time - time < Fleeting)
                quick++;
        }
        return quick * 2 > raised.Length ? AlarmNature.Fleeting
            : raised.Length > 1 ? AlarmNature.Repeating
            : AlarmNature.Once;
    }

    private static string RatingOf(int total, TimeSpan length)
    {
        if (total == 0)
            return "very likely acceptable";
        var minutes = length.TotalMinutes / total;
        return minutes < 1 ? "very likely unacceptable"
            : minutes < 5 ? "likely over-demanding"
            : minutes < 10 ? "manageable"
            : "very likely acceptable";
    }
}
