using System.Collections;

namespace Fralto.Core.Planning;

/// <summary>Findings in plant order, those of one instance together, so that they are found without looking through all.</summary>
public sealed class FindingList : IReadOnlyList<Finding>
{
    private readonly Finding[] _findings;
    private readonly Dictionary<long, int> _first = [];

    /// <param name="findings">All findings; those of an instance follow one another.</param>
    public FindingList(IEnumerable<Finding> findings)
    {
        _findings = [.. findings];
        for (var i = 0; i < _findings.Length; i++)
            _first.TryAdd(_findings[i].EquipmentId, i);
    }

    /// <summary>No finding.</summary>
    public static FindingList Empty { get; } = new([]);

    /// <summary>How many findings there are.</summary>
    public int Count => _findings.Length;

    /// <summary>A finding by its place.</summary>
    public Finding this[int index] => _findings[index];

    /// <summary>The findings about one instance.</summary>
    public IEnumerable<Finding> Of(long equipmentId)
    {
        if (!_first.TryGetValue(equipmentId, out var at))
            yield break;
        for (; at < _findings.Length && _findings[at].EquipmentId == equipmentId; at++)
            yield return _findings[at];
    }

    /// <inheritdoc/>
    public IEnumerator<Finding> GetEnumerator() => ((IEnumerable<Finding>)_findings).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();
}
