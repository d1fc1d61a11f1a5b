using Fralto.Core.Planning;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Store;

namespace Fralto.Runtime.Recording;

/// <summary>How the points of a plan are recorded: looked up once for each plan, and not for each value.</summary>
/// <param name="Plan">The plan; null for none yet.</param>
/// <param name="Series">By point what records it; null where nothing does.</param>
/// <param name="Scalings">By point what its numbers are read with; 0 where they are values.</param>
/// <param name="Whiles">By point the one it is recorded with; -1 where it always is.</param>
/// <param name="Timed">Those that are recorded at an interval, and their points.</param>
internal sealed record RecordingMap(
    Plan? Plan,
    OpenSeries?[] Series,
    int[] Scalings,
    int[] Whiles,
    IReadOnlyList<(OpenSeries Series, int Point)> Timed
)
{
    public static readonly RecordingMap None = new(null, [], [], [], []);

    /// <summary>Looks a plan up; series that are new are added, limits that are others are kept.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="since">Since when its limits are in force, in ticks.</param>
    /// <param name="book">All series.</param>
    /// <param name="scalings">All scalings.</param>
    /// <param name="store">Where limits are kept.</param>
    /// <exception cref="StoreException">Something is new, and could not be kept.</exception>
    public RecordingMap Next(Plan plan, long since, SeriesBook book, RecordedScalings scalings, HistoryStore store)
    {
        book.Add(plan.Points.Take(plan.Shown).Where(p => p.Recording is not null));
        var (limits, timed) = (new List<(OpenSeries Open, string Text)>(), new List<(OpenSeries, int)>());
        var next = new RecordingMap(
            plan,
            new OpenSeries?[plan.Points.Length],
            new int[plan.Points.Length],
            new int[plan.Points.Length],
            timed
        );
        foreach (var open in book.All)
            open.Rule = null;
        var known = new Dictionary<Chain, int>(ReferenceEqualityComparer.Instance);
        for (var i = 0; i < plan.Points.Length; i++)
        {
            var point = plan.Points[i];
            next.Whiles[i] = -1;
            if (point.Recording is not { } rule || i >= plan.Shown || !book.TryFind(point.EquipmentId, point.PropertyId, out var open))
                continue;
            if (!known.TryGetValue(point.Chain, out var scaling))
                known[point.Chain] = scaling = scalings.IdOf(point);
            if (point.Type == PropertyType.Text)
                scaling = 0;
            // Under another scale the same number is another value: the next one is recorded, whatever it is.
            open.Follow(point, isOther: Plan is not null && open.Chunk.Count > 0 && open.Scaling != scaling);
            (next.Series[i], next.Scalings[i]) = (open, scaling);
            if (open.Limits != point.Limits)
            {
                if (KeptLimits.TextOf(point.Limits) is var text && text != open.KeptLimits)
                    limits.Add((open, text));
                else
                    open.Limits = point.Limits;
            }
            if (rule.While is { } code)
                next.Whiles[i] = plan.PointNamed(point.EquipmentId, code);
            if (rule.Every > 0)
                timed.Add((open, i));
        }
        // Only what is kept is known: what could not be is looked at again with the next plan, or the next values.
        if (limits.Count > 0)
            store.KeepLimits([.. limits.Select(l => (l.Open.Id, since, l.Text))]);
        foreach (var (open, text) in limits)
            open.KeptLimits = text;
        return next;
    }
}
