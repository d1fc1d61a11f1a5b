using System.Collections.Immutable;
using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Plant;

namespace Fralto.Web.Exchange;

/// <summary>A file that has been read and waits to be taken in.</summary>
/// <param name="Token">What a page names it by.</param>
/// <param name="FileName">Name of the file.</param>
/// <param name="What">What it lists, in words.</param>
/// <param name="Whole">The edit a whole model asks for; null for a table.</param>
/// <param name="Draft">The table as far as it is mended; null for a whole model.</param>
public sealed record PendingImport(string Token, string FileName, string What, Edit? Whole, ImportDraft? Draft)
{
    /// <summary>A table that has been read.</summary>
    public PendingImport(string token, string fileName, string what, TableImport table)
        : this(token, fileName, what, null, new(table, [])) { }

    /// <summary>What follows it in the same workbook, the nearest first.</summary>
    public ImmutableArray<(TableKind Kind, Table Table)> Rest { get; init; } = [];

    /// <summary>All types and objects of a file of which some are chosen; null for any other file.</summary>
    public TypeLibrary? Library { get; init; }

    /// <summary>The edit it asks for.</summary>
    public Edit Edit => Draft?.Kept ?? Whole!;

    private const int MostFields = 20_000;

    /// <summary>What taking it in would do to a model now.</summary>
    public ImportResult Preview(PlantModel model) => Draft is { } draft ? draft.Kept.Preview(model) : Lines(model, Edit.On(model));

    private static ImportResult Lines(PlantModel model, EditOutcome outcome)
    {
        if (outcome.IsRefused)
            return new([.. outcome.Problems.Select(p => new ImportLine(0, ImportOutcome.Refused, p.Field, "", "", "", p.Message))], 0, []);
        var next = model.Apply(outcome.Changes);
        return new(
            [
                .. outcome
                    .Changes.SelectMany(c =>
                        c.Before is not null && c.After is not null
                            ? ChangeText.Of(c, next).Select(f => new ImportLine(0, ImportOutcome.Changed, f.What, "", f.Before, f.After))
                            :
                            [
                                new ImportLine(
                                    0,
                                    c.After is null ? ImportOutcome.TakenOut : ImportOutcome.Added,
                                    EntityKinds.NameOf((c.After ?? c.Before)!, c.After is null ? model : next),
                                    "",
                                    "",
                                    ""
                                ),
                            ]
                    )
                    .Take(MostFields),
            ],
            0,
            outcome.Changes
        );
    }
}
