using Fralto.Core.Hierarchy;

namespace Fralto.Runtime.Views;

/// <summary>One column of the plant.</summary>
/// <param name="Heading">The level in words.</param>
/// <param name="Rank">0 for the top level and up.</param>
/// <param name="Nodes">The nodes shown.</param>
/// <param name="Count">All nodes there are.</param>
/// <param name="OpenId">The node whose children the next column shows; null in the last.</param>
public sealed record PlantColumn(string Heading, int Rank, IReadOnlyList<Equipment> Nodes, int Count, long? OpenId);
