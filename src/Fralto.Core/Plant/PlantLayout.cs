namespace Fralto.Core.Plant;

/// <summary>The plant as flat arrays in order: each node before its children, siblings in their order, so a subtree is one stretch.</summary>
/// <remarks>Positions stay as they are while no node comes, goes or moves; then only the nodes themselves are replaced.</remarks>
internal sealed class PlantLayout
{
    private readonly int[] _position;

    private PlantLayout(Equipment[] nodes, int[] parent, int[] end, int[] position) => (Nodes, Parent, End, _position) = (nodes, parent, end, position);

    public Equipment[] Nodes { get; }

    /// <summary>Position of each node's parent; -1 at the top.</summary>
    public int[] Parent { get; }

    /// <summary>The position after the last node of each subtree.</summary>
    public int[] End { get; }

    /// <summary>Position of a node; -1 when it is not there.</summary>
    public int PositionOf(long id) => id >= 0 && id < _position.Length ? _position[id] - 1 : -1;

    public static PlantLayout Of(PlantModel model, Func<long, IReadOnlyList<long>> childrenOf)
    {
        var count = model.Equipment.Count;
        var (nodes, parent, end) = (new List<Equipment>(count), new List<int>(count), new int[count]);
        // Ids are drawn from one counter, so an array by id is small and quicker than any look-up; 0 stands for nothing there.
        var position = new int[model.NextId];
        var waiting = new Stack<(long Id, int Parent)>();
        void Push(IReadOnlyList<long> children, int above)
        {
            for (var i = children.Count - 1; i >= 0; i--) waiting.Push((children[i], above));
        }
        Push(childrenOf(0), -1);
        while (waiting.TryPop(out var next))
        {
            var at = nodes.Count;
            position[next.Id] = at + 1;
            nodes.Add(model.Equipment[next.Id]);
            parent.Add(next.Parent);
            Push(childrenOf(next.Id), at);
        }
        for (var i = 0; i < nodes.Count; i++) end[i] = i + 1;
        for (var i = nodes.Count - 1; i >= 0; i--)
            if (parent[i] >= 0 && end[parent[i]] < end[i]) end[parent[i]] = end[i];
        return new PlantLayout([.. nodes], [.. parent], end, position);
    }

    /// <summary>The same places with some nodes replaced.</summary>
    public PlantLayout With(IEnumerable<Equipment> replaced)
    {
        var nodes = (Equipment[])Nodes.Clone();
        foreach (var node in replaced)
            if (PositionOf(node.Id) is >= 0 and var at) nodes[at] = node;
        return new PlantLayout(nodes, Parent, End, _position);
    }
}
