namespace Fralto.Links;

/// <summary>An object or folder of a server.</summary>
/// <param name="Node">Its address, as browsing below it takes it.</param>
/// <param name="Name">Its name.</param>
/// <param name="Objects">How many objects stand directly below it, where that was looked at.</param>
/// <param name="Variables">How many variables do.</param>
public sealed record NodeObject(string Node, string Name, int Objects = 0, int Variables = 0);
