using System.Collections.Immutable;
using Fralto.Core.Hierarchy;

namespace Fralto.Core.Plant;

/// <summary>The plant as flat arrays in order: each node before its children, siblings in their order, so a subtree is one
/// stretch.</summary>
/// <remarks>Positions stay as they are while no node comes, goes or moves; then only the nodes themselves are replaced.</remarks>
internal sealed class PlantLayout
{
    private readonly int[] _position;

    private PlantLayout(Equipment[] nodes, int[] parent, int[] end, int[] position, int[]? from = null) =>
        (Nodes, Parent, End, _position, From) = (nodes, parent, end, position, from);

    /// <summary>Where each node stood in the layout this one was made from, -1 for one that was touched or has something touched below it;
    /// null for a layout made anew.</summary>
    public int[]? From { get; }

    public Equipment[] Nodes { get; }

    /// <summary>Position of each node's parent; -1 at the top.</summary>
    public int[] Parent { get; }

    /// <summary>The position after the last node of each subtree.</summary>
    public int[] End { get; }

    /// <summary>Position of a node; -1 when it is not there.</summary>
    public int PositionOf(long id) => id >= 0 && id < _position.Length ? _position[id] - 1 : -1;

    public static PlantLayout Of(PlantModel model, Func<long, ImmutableArray<long>> childrenOf)
    {
        var count = model.Equipment.Count;
        var (nodes, parent, end) = (new List<Equipment>(count), new List<int>(count), new int[count]);
        // Ids are drawn from one counter, so an array by id is small and quicker than any look-up; 0 stands for nothing there.
        var position = new int[model.NextId];
        var waiting = new Stack<(long Id, int Parent)>();
        void Push(ImmutableArray<long> children, int above)
        {
            for (var i = children.Length - 1; i >= 0; i--)
                waiting.Push((children[i], above));
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
        for (var i = 0; i < nodes.Count; i++)
            end[i] = i + 1;
        for (var i = nodes.Count - 1; i >= 0; i--)
            if (parent[i] >= 0 && end[parent[i]] < end[i])
                end[parent[i]] = end[i];
        return new PlantLayout([.. nodes], [.. parent], end, position);
    }

    /// <summary>The layout after nodes came, went or moved: what they did not touch is copied in whole stretches.</summary>
    /// <param name="model">The model after it.</param>
    /// <param name="touched">Nodes that came, went, moved or changed, and the nodes they came to or went from.</param>
    /// <param name="childrenOf">The children of a node; of 0, those at the top.</param>
    public PlantLayout After(PlantModel model, IEnumerable<long> touched, Func<long, ImmutableArray<long>> childrenOf)
    {
        var dirty = new HashSet<long>();
        foreach (var id in touched)
            for (long? at = id; at is { } next && model.Equipment.TryGetValue(next, out var node) && dirty.Add(next); )
                at = node.ParentId;
        var count = model.Equipment.Count;
        var (nodes, parent, end, from) = (new Equipment[count], new int[count], new int[count], new int[count]);
        var length = 0;
        void Emit(long id, int above)
        {
            var (at, old) = (length, PositionOf(id));
            if (old >= 0 && !dirty.Contains(id))
            {
                var (stretch, shift) = (End[old] - old, at - old);
                Array.Copy(Nodes, old, nodes, at, stretch);
                for (var i = 0; i < stretch; i++)
                    (parent[at + i], end[at + i], from[at + i]) = (Parent[old + i] + shift, End[old + i] + shift, old + i);
                parent[at] = above;
                length += stretch;
                return;
            }
            (nodes[at], parent[at], from[at]) = (model.Equipment[id], above, -1);
            length++;
            foreach (var child in childrenOf(id))
                Emit(child, at);
            end[at] = length;
        }
        foreach (var root in childrenOf(0))
            Emit(root, -1);
        // Nodes that hang on nothing have no place; a whole model has none.
        if (length < count)
            (nodes, parent, end, from) = (nodes[..length], parent[..length], end[..length], from[..length]);
        var position = new int[model.NextId];
        for (var i = 0; i < length; i++)
            position[nodes[i].Id] = i + 1;
        return new PlantLayout(nodes, parent, end, position, from);
    }

    /// <summary>The same places with some nodes replaced.</summary>
    public PlantLayout With(IEnumerable<Equipment> replaced)
    {
        var nodes = (Equipment[])Nodes.Clone();
        foreach (var node in replaced)
            if (PositionOf(node.Id) is >= 0 and var at)
                nodes[at] = node;
        return new PlantLayout(nodes, Parent, End, _position);
    }
}
