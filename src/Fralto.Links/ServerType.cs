namespace Fralto.Links;

/// <summary>An object type a server has.</summary>
/// <param name="Node">Its address.</param>
/// <param name="Name">Its name.</param>
/// <param name="Objects">How many objects are of it.</param>
public sealed record ServerType(string Node, string Name, int Objects);
