using System.Collections.Immutable;
using Fralto.Core.Edits;

namespace Fralto.Core.Exchange;

/// <summary>What an import would do.</summary>
/// <param name="Lines">Everything that would be added or changed, and everything that is refused, in the order of the file.</param>
/// <param name="Rows">Rows of the file.</param>
/// <param name="Changes">The changes that would be made; none when anything is refused.</param>
public sealed record ImportResult(IReadOnlyList<ImportLine> Lines, int Rows, ImmutableArray<ModelChange> Changes)
{
    public int Added => Lines.Where(l => l.Outcome == ImportOutcome.Added).Select(l => l.Row).Distinct().Count();

    public int Changed => Lines.Where(l => l.Outcome == ImportOutcome.Changed).Select(l => l.Row).Distinct().Count();

    public int Refused => Lines.Where(l => l.Outcome == ImportOutcome.Refused).Select(l => l.Row).Distinct().Count();

    /// <summary>Rows that say what is there already.</summary>
    public int Unchanged => Math.Max(0, Rows - Lines.Select(l => l.Row).Where(r => r > 1).Distinct().Count());
}
