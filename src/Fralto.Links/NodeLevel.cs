namespace Fralto.Links;

/// <summary>A level of a server's tree of objects.</summary>
/// <param name="Above">The way to it, the topmost first and itself last; empty at the top.</param>
/// <param name="Objects">The objects directly below it.</param>
/// <param name="More">How many further objects are left out.</param>
public sealed record NodeLevel(IReadOnlyList<NodeObject> Above, IReadOnlyList<NodeObject> Objects, int More);
