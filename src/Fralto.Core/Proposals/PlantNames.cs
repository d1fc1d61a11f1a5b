using Fralto.Core.Basics;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>Sheets of the nodes of one model, each made once.</summary>
internal sealed class PlantNames(PlantModel model)
{
    private readonly Dictionary<long, NodeNames> _sheets = [];
    private readonly Dictionary<long, InstanceNames> _instances = [];
    private readonly Dictionary<long, (long Position, long Order)> _places = [];
    private readonly Dictionary<long, (long InPlant, long InSite)> _counts = [];
    private readonly Dictionary<string, List<Equipment>> _called = new(StringComparer.Ordinal);

    public NodeNames Of(Equipment node) => _sheets.TryGetValue(node.Id, out var sheet) ? sheet : _sheets[node.Id] = new(node);

    public InstanceNames Of(long equipmentId) =>
        _instances.TryGetValue(equipmentId, out var sheet)
            ? sheet
            : _instances[equipmentId] = new(model.Equipment[equipmentId], model.Index.LineageOf(equipmentId), this);

    /// <summary>The nodes that are called by a mark.</summary>
    public IReadOnlyList<Equipment> Called(ReadOnlySpan<char> mark)
    {
        if (_called.Count == 0)
            foreach (var node in model.Equipment.Values)
            foreach (var its in Of(node).Marks)
                (_called.TryGetValue(its, out var list) ? list : _called[its] = []).Add(node);
        return _called.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(mark, out var found) ? found : [];
    }

    /// <summary>Position among the siblings of the same template, or of the same level where there is none, from 1.</summary>
    public long OrderOf(Equipment node) => PlaceOf(node).Order;

    /// <summary>Position among all siblings, from 1.</summary>
    public long PositionOf(Equipment node) => PlaceOf(node).Position;

    /// <summary>Position among all of its template, or of its level where there is none, in the whole plant and in its site, from
    /// 1.</summary>
    public (long InPlant, long InSite) CountOf(Equipment node)
    {
        if (_counts.Count == 0)
        {
            var (all, own) = (new Dictionary<(long?, EquipmentLevel), long>(), new Dictionary<(long?, EquipmentLevel), long>());
            foreach (var one in model.Index.Below(null))
            {
                if (one.Level is EquipmentLevel.Enterprise or EquipmentLevel.Site)
                    own.Clear();
                var kind = KindOf(one);
                _counts[one.Id] = (all[kind] = all.GetValueOrDefault(kind) + 1, own[kind] = own.GetValueOrDefault(kind) + 1);
            }
        }
        return _counts[node.Id];
    }

    private (long Position, long Order) PlaceOf(Equipment node)
    {
        if (_places.TryGetValue(node.Id, out var known))
            return known;
        var (position, orders) = (0, new Dictionary<(long?, EquipmentLevel), long>());
        foreach (var one in model.Index.ChildrenOf(node.ParentId))
            _places[one.Id] = (++position, orders[KindOf(one)] = orders.GetValueOrDefault(KindOf(one)) + 1);
        return _places[node.Id];
    }

    private static (long?, EquipmentLevel) KindOf(Equipment node) => (node.TemplateId, node.TemplateId is null ? node.Level : default);
}
