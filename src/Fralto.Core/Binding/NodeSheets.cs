using Fralto.Core.Plant;

namespace Fralto.Core.Binding;

/// <summary>Sheets of the nodes of one model, each made once.</summary>
internal sealed class NodeSheets(PlantModel model)
{
    private readonly Dictionary<long, NodeSheet> _sheets = [];
    private readonly Dictionary<long, InstanceSheet> _instances = [];
    private readonly Dictionary<long, Dictionary<long, long>> _orders = [];

    public NodeSheet Of(Equipment node) => _sheets.TryGetValue(node.Id, out var sheet) ? sheet : _sheets[node.Id] = new(node);

    public InstanceSheet Of(long equipmentId) =>
        _instances.TryGetValue(equipmentId, out var sheet) ? sheet : _instances[equipmentId] = new(model.Equipment[equipmentId], model.Index.LineageOf(equipmentId), this);

    /// <summary>Position among the siblings of the same template, or of the same level where there is none, from 1.</summary>
    public long OrderOf(Equipment node)
    {
        var parent = node.ParentId ?? 0;
        if (!_orders.TryGetValue(parent, out var orders))
        {
            orders = _orders[parent] = [];
            foreach (var kin in model.Index.ChildrenOf(node.ParentId).GroupBy(e => (e.TemplateId, e.TemplateId is null ? e.Level : default)))
            {
                var order = 0;
                foreach (var one in kin) orders[one.Id] = ++order;
            }
        }
        return orders[node.Id];
    }
}
