using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>What alarms set off as a table, a response in each row.</summary>
internal sealed class ResponseTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    ["response", "responseKind", "target", "text", "clearText", "priorities", "onlyLabel"];

    /// <inheritdoc/>
    protected override int Keys => 1;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) => model.Responses.Select(RowOf);

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells) =>
        model.Responses.FirstOrDefault(r => r.Name == cells["response"]) is { } response ? RowOf(response) : null;

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        if (!Enum.TryParse<ResponseKind>(cells["responseKind"], true, out var kind) || !Enum.IsDefined(kind))
        {
            cells.Refuse(
                "responseKind",
                $"'{cells["responseKind"]}' is no kind of response; write {string.Join(", ", Enum.GetNames<ResponseKind>())}."
            );
            return null;
        }
        var priorities = new List<int>();
        foreach (var text in cells["priorities"].Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var priority))
                priorities.Add(priority);
            else
                cells.Refuse("priorities", $"'{text}' is no priority; write them with blanks between: 1 2.");
        var response = new AlarmResponse(cells["response"], kind, cells["target"], cells["text"])
        {
            ClearText = cells["clearText"] is { Length: > 0 } clear ? clear : null,
            Priorities = [.. priorities],
            Label = cells["onlyLabel"] is { Length: > 0 } label ? label : null,
        };
        return new SaveResponses(
            model.Responses.FirstOrDefault(r => r.Name == response.Name) is { } known
                ? model.Responses.Replace(known, response)
                : model.Responses.Add(response)
        );
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) =>
        field switch
        {
            "Name" => "response",
            "Label" => "onlyLabel",
            _ => base.ColumnOf(field),
        };

    private static string[] RowOf(AlarmResponse response) =>
        [
            response.Name,
            response.Kind.ToString(),
            response.Target,
            response.Text,
            response.ClearText ?? "",
            string.Join(' ', response.Priorities),
            response.Label ?? "",
        ];
}
