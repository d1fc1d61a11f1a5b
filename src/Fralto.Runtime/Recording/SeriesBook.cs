using System.Diagnostics.CodeAnalysis;
using Fralto.Core.Planning;
using Fralto.Store;

namespace Fralto.Runtime.Recording;

/// <summary>All that was ever recorded of, by point and by number.</summary>
internal sealed class SeriesBook(HistoryStore store)
{
    private readonly Dictionary<(long EquipmentId, long PropertyId), OpenSeries> _ofPoint = [];
    private readonly Dictionary<int, OpenSeries> _byId = [];

    public IReadOnlyCollection<OpenSeries> All => _byId.Values;

    /// <summary>Takes up what is kept.</summary>
    public void Load()
    {
        foreach (var (point, id) in store.Series())
            Know(point, id);
        foreach (var (id, facts) in store.LastLimits())
            if (TryFind(id, out var open))
                open.KeptLimits = facts;
        foreach (var (id, last) in store.LastClosed())
            if (TryFind(id, out var open))
                open.ClosedTicks = last;
    }

    /// <summary>Finds what is recorded of a point.</summary>
    public bool TryFind(long equipmentId, long propertyId, [NotNullWhen(true)] out OpenSeries? open) =>
        _ofPoint.TryGetValue((equipmentId, propertyId), out open);

    /// <summary>Finds a series by its number.</summary>
    public bool TryFind(int id, [NotNullWhen(true)] out OpenSeries? open) => _byId.TryGetValue(id, out open);

    /// <summary>The series of a point, which is added when it is new.</summary>
    /// <exception cref="StoreException">It is new, and could not be kept.</exception>
    public OpenSeries Of(PlanPoint point)
    {
        Add([point]);
        return _ofPoint[(point.EquipmentId, point.PropertyId)];
    }

    /// <summary>Adds the series of points that have none.</summary>
    /// <exception cref="StoreException">None was added.</exception>
    public void Add(IEnumerable<PlanPoint> points)
    {
        var missing = points.Select(p => (p.EquipmentId, p.PropertyId)).Where(p => !_ofPoint.ContainsKey(p)).Distinct().ToArray();
        if (missing.Length == 0)
            return;
        foreach (var (point, id) in missing.Zip(store.AddSeries(missing)))
            Know(point, id);
    }

    private void Know((long, long) point, int id)
    {
        var open = new OpenSeries(id);
        (_ofPoint[point], _byId[id]) = (open, open);
    }
}
