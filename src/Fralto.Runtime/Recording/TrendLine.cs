using Fralto.Core.Planning;

namespace Fralto.Runtime.Recording;

/// <summary>A property of an instance whose history is looked at.</summary>
/// <param name="Key">The instance and the property, as addresses have them: 12.34.</param>
/// <param name="Name">The instance and the property, as people call them.</param>
/// <param name="Instance">The instance.</param>
/// <param name="Property">The property.</param>
/// <param name="Number">Which of the instances, from 1.</param>
/// <param name="Point">The point of the running plan; null where nothing runs there.</param>
public sealed record TrendLine(string Key, string Name, string Instance, string Property, int Number, PlanPoint? Point)
{
    /// <summary>True where it is drawn as a strip of states.</summary>
    public bool IsState =>
        Point is { States: not null } or { Type: Core.Properties.PropertyType.Boolean or Core.Properties.PropertyType.Text };
}
