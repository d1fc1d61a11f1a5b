namespace Fralto.Core.Planning;

/// <summary>What the formulas of an instance look at: what becomes of other nodes does not touch them.</summary>
internal sealed class FormulaSight
{
    /// <summary>Nodes that are looked at, whether they have what is looked for or not.</summary>
    public HashSet<long> Nodes { get; } = [];

    /// <summary>Nodes below which everything is looked at.</summary>
    public HashSet<long> Below { get; } = [];

    /// <summary>Properties of the instance that have a formula.</summary>
    public List<long> Properties { get; } = [];
}
