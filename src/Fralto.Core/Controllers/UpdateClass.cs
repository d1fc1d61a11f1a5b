namespace Fralto.Core.Controllers;

/// <summary>How often some tags of a controller are read, under a name.</summary>
/// <param name="Name">Unique in its controller, for example slow.</param>
/// <param name="Interval">Time between two reads.</param>
public sealed record UpdateClass(string Name, TimeSpan Interval);
