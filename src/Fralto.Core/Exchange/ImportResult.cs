using System.Collections.Immutable;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>What an import would do.</summary>
/// <param name="Lines">Everything that would be added or changed, and everything that is refused, in the order of the file.</param>
/// <param name="Rows">Rows of the file.</param>
/// <param name="Changes">The changes that would be made; none when anything is refused.</param>
public sealed record ImportResult(IReadOnlyList<ImportLine> Lines, int Rows, ImmutableArray<ModelChange> Changes)
{
    /// <summary>Rows that would add something.</summary>
    public int Added => RowsOf(ImportOutcome.Added);

    /// <summary>Rows that would change something.</summary>
    public int Changed => RowsOf(ImportOutcome.Changed);

    /// <summary>Rows with something wrong; whatever else they say counts for nothing.</summary>
    public int Refused => Lines.Where(l => l.Outcome == ImportOutcome.Refused).Select(l => l.Row).Distinct().Count();

    /// <summary>Things that are wrong: a row may have several, each on a line of its own.</summary>
    public int Problems => Lines.Count(l => l.Outcome == ImportOutcome.Refused);

    /// <summary>Rows in words: added, changed, refused with how many problems they have, as they are.</summary>
    public string Words =>
        $"{Added} added, {Changed} changed, {Refused} refused{(Problems == Refused ? "" : $" ({Problems} problems)")}, {Unchanged} as "
        + $"they are";

    private int RowsOf(ImportOutcome outcome)
    {
        var refused = Lines.Where(l => l.Outcome == ImportOutcome.Refused).Select(l => l.Row).ToHashSet();
        return Lines.Where(l => l.Outcome == outcome && !refused.Contains(l.Row)).Select(l => l.Row).Distinct().Count();
    }

    /// <summary>Rows that say what is there already.</summary>
    public int Unchanged => Math.Max(0, Rows - Lines.Select(l => l.Row).Where(r => r > 1).Distinct().Count());
}
