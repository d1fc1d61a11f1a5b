using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes a tag list in as one edit: all of it, or nothing when any row is refused.</summary>
/// <param name="ControllerId">The controller the tags are of.</param>
/// <param name="Table">The list.</param>
/// <param name="Columns">What its columns say.</param>
public sealed record ImportTags(long ControllerId, Table Table, ImmutableArray<TagColumn> Columns) : Edit
{
    private const int MostProblems = 5;

    /// <inheritdoc/>
    public override EditOutcome On(PlantModel model)
    {
        if (!model.Controllers.TryGetValue(ControllerId, out var controller))
            return Gone("The controller");
        var result = TagTable.Import(model, controller, Table, Columns);
        if (result.Refused > 0)
            return EditOutcome.Refused(
                result
                    .Lines.Where(l => l.Outcome == ImportOutcome.Refused)
                    .Take(MostProblems)
                    .Select(l => new Problem("", $"Row {l.Row}{(l.Column.Length > 0 ? $", {l.Column}" : "")}: {l.Reason}"))
            );
        return result.Changes.IsEmpty
            ? EditOutcome.Refused("", "The list says what is there already; there is nothing to take in.")
            : EditOutcome.Changed(
                $"Import tags of {controller.Name}: {Count(result.Added, "tag")} added, {result.Changed} changed",
                result.Changes
            );
    }
}
