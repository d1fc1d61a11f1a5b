using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;

namespace Fralto.Core.Exchange;

/// <summary>State lists as a table: a state in each row, with what a text says for it and whether it is abnormal.</summary>
internal sealed class StateListTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } = ["stateList", "value", "state", "key", "abnormal", "listName"];

    /// <inheritdoc/>
    protected override int Keys => 2;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model.StateLists.Values.OrderBy(s => s.Code, StringComparer.Ordinal).SelectMany(s => s.States.Select(t => RowOf(s, t)));

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (cells["stateList"].Length == 0)
            cells.Refuse("stateList", "Give the code of the state list.");
        else if (ValueOf(cells) is not { } value)
            cells.Refuse("value", "Give the number that stands for the state, a whole number.");
        else if (ListOf(model, cells) is { } list && list.StateOf(value) is { } state)
            return RowOf(list, state);
        return null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        var list = ListOf(model, cells);
        var value = ValueOf(cells)!.Value;
        var state = new State(value, cells["state"], cells.YesNo("abnormal") == true, cells["key"] is { Length: > 0 } key ? key : null);
        return new SaveStateList(
            list?.Id,
            list?.Code ?? cells["stateList"],
            cells["listName"] is { Length: > 0 } name ? name : list?.Name ?? cells["stateList"],
            [.. (list?.States ?? []).Where(s => s.Value != value), state]
        );
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) =>
        field switch
        {
            "States" => "state",
            "Code" => "stateList",
            "Name" => "listName",
            _ => "",
        };

    private static int? ValueOf(RowCells cells) =>
        int.TryParse(cells["value"], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var value) ? value : null;

    private static StateList? ListOf(PlantModel model, RowCells cells) =>
        model.StateLists.Values.FirstOrDefault(s => s.Code.Equals(cells["stateList"], StringComparison.OrdinalIgnoreCase));

    private static string[] RowOf(StateList list, State state) =>
        [
            list.Code,
            state.Value.ToString(CultureInfo.InvariantCulture),
            state.Name,
            state.Key ?? "",
            state.IsAbnormal ? "yes" : "no",
            list.Name,
        ];
}
