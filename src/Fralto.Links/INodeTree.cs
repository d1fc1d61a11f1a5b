namespace Fralto.Links;

/// <summary>A link to a server whose objects form a tree that can be walked level by level.</summary>
public interface INodeTree
{
    /// <summary>The objects directly below a node, in the server's order, and the way to it.</summary>
    /// <param name="node">The node; empty for the topmost.</param>
    /// <param name="stop">Cancels.</param>
    /// <exception cref="LinkException">They could not be listed.</exception>
    Task<NodeLevel> LevelAsync(string node, CancellationToken stop);
}
