using Fralto.Core.Hierarchy;
using Fralto.Links;

namespace Fralto.Runtime.Views;

/// <summary>What lies at and below one node of a place, counted.</summary>
/// <param name="Node">The node.</param>
/// <param name="Equipment">Instances of templates at and below it.</param>
/// <param name="Bound">Properties that have a tag.</param>
/// <param name="Takes">Properties that take one.</param>
/// <param name="Bad">Values of bad quality now.</param>
/// <param name="Beyond">Values beyond a limit, or in an abnormal state, now.</param>
/// <param name="Doubts">Bindings that look wrong; null while that is not known.</param>
/// <param name="Worst">Most urgent priority among its active alarms; 0 for none.</param>
/// <param name="Alarms">Its active alarms.</param>
/// <param name="FedBy">The controllers that feed it, with their states; null for one whose link has not begun.</param>
public sealed record PlaceRow(
    Equipment Node,
    int Equipment,
    int Bound,
    int Takes,
    int Bad,
    int Beyond,
    int? Doubts,
    int Worst,
    int Alarms,
    IReadOnlyList<(string Name, LinkState? State)> FedBy
)
{
    /// <summary>Properties that could have a tag and have none.</summary>
    public int Open => Takes - Bound;
}
