using Fralto.Core.Basics;

namespace Fralto.Core.Hierarchy;

/// <summary>The node a part of a naming rule follows: the instance itself, a node so many steps above it, or the one above it at a
/// level.</summary>
/// <param name="Up">Steps above the instance; 0 is the instance, -1 where a level says it.</param>
/// <param name="Level">The level of the node.</param>
public readonly record struct PlaceRef(int Up, EquipmentLevel? Level = null)
{
    private static readonly string[] Words = ["", "parent", "grandparent"];

    /// <summary>The instance itself.</summary>
    public static PlaceRef Self => new(0);

    /// <summary>The nodes a rule can follow, from the instance upwards.</summary>
    public static IEnumerable<PlaceRef> AllOf(IReadOnlyList<Equipment> lineage)
    {
        yield return Self;
        for (var up = 1; up < lineage.Count; up++)
        {
            var node = lineage[^(up + 1)];
            var isOnly = lineage.Take(lineage.Count - 1).Count(e => e.Level == node.Level) == 1;
            // A level holds where places are nested deeper elsewhere; the two nearest are also known by their steps.
            if (isOnly)
                yield return new(-1, node.Level);
            if (up < Words.Length)
                yield return new(up);
        }
    }

    /// <summary>The node in a lineage, which ends with the instance; null when there is none.</summary>
    public Equipment? Of(IReadOnlyList<Equipment> lineage)
    {
        if (Level is not { } level)
            return Up < lineage.Count ? lineage[^(Up + 1)] : null;
        for (var i = lineage.Count - 2; i >= 0; i--)
            if (lineage[i].Level == level)
                return lineage[i];
        return null;
    }

    /// <summary>Reads "parent", "grandparent" or a level such as "site"; null when it is none.</summary>
    public static PlaceRef? Parse(string word)
    {
        if (Array.FindIndex(Words, w => string.Equals(w, word, StringComparison.OrdinalIgnoreCase)) is >= 0 and var up)
            return new(up);
        return Enum.TryParse<EquipmentLevel>(word, ignoreCase: true, out var level) && char.IsLetter(word[0]) ? new(-1, level) : null;
    }

    /// <inheritdoc/>
    public override string ToString() => Level is { } level ? char.ToLowerInvariant($"{level}"[0]) + $"{level}"[1..] : Words[Up];
}
