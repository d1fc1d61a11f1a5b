using Fralto.Core.Edits;
using Fralto.Core.Exchange;
using Fralto.Core.Plant;

namespace Fralto.Web.Exchange;

/// <summary>A file that has been read and waits to be taken in.</summary>
/// <param name="Token">What a page names it by.</param>
/// <param name="FileName">Name of the file.</param>
/// <param name="What">What it lists, in words.</param>
/// <param name="Edit">The edit it asks for.</param>
public sealed record PendingImport(string Token, string FileName, string What, Edit Edit)
{
    private const int MostFields = 20_000;

    /// <summary>What taking it in would do to a model now.</summary>
    public ImportResult Preview(PlantModel model) => Edit is ImportTable table ? table.Preview(model) : Lines(model, Edit.On(model));

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
