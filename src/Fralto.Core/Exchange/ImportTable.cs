using Fralto.Core.Plant;

namespace Fralto.Core.Exchange;

/// <summary>Takes in a list of the model as one edit: all of it, or nothing when any row is refused.</summary>
/// <param name="Kind">What it lists.</param>
/// <param name="Table">The list.</param>
public sealed record ImportTable(TableKind Kind, Table Table) : TableImport(Table)
{
    private static readonly Dictionary<TableKind, RowTable> ByRow = new()
    {
        [TableKind.States] = new StateListTable(),
        [TableKind.Calendar] = new CalendarTable(),
        [TableKind.ShelvingRules] = new ShelvingTable(),
        [TableKind.Responses] = new ResponseTable(),
        [TableKind.NoticeLists] = new NoticeTable(),
        [TableKind.Limits] = new LimitTable(),
        [TableKind.Scales] = new ScaleTable(),
        [TableKind.Properties] = new PropertyTable(),
        [TableKind.Labels] = new LabelTable(),
        [TableKind.Settings] = new SettingTable(),
        [TableKind.Controllers] = new ControllerTable(),
    };

    /// <inheritdoc/>
    public override ImportResult Preview(PlantModel model)
    {
        var table = Renamed(Table);
        return Kind switch
        {
            TableKind.Equipment => EquipmentTable.Import(model, table),
            TableKind.Values => ValueTable.Import(model, table),
            TableKind.Bindings => BindingTable.Import(model, table),
            _ => ByRow[Kind].Import(model, table),
        };
    }

    private protected override string Summary(PlantModel model, ImportResult result) =>
        $"Import {NameOf(Kind)}: {Count(result.Added, "row")} added, {Count(result.Changed, "row")} changed";

    /// <summary>The table of a model.</summary>
    public static Table Of(PlantModel model, TableKind kind) =>
        kind switch
        {
            TableKind.Equipment => EquipmentTable.Of(model),
            TableKind.Values => ValueTable.Of(model),
            TableKind.Bindings => BindingTable.Of(model),
            _ => ByRow[kind].Of(model),
        };

    /// <summary>What a table lists, by its columns; null when they are those of none.</summary>
    public static TableKind? KindOf(Table table)
    {
        bool Has(string column) => table.IndexOf(column) >= 0;
        return Has("limitOf") ? TableKind.Limits
            : Has("shelvingRule") ? TableKind.ShelvingRules
            : Has("responseKind") ? TableKind.Responses
            : Has("noticeList") ? TableKind.NoticeLists
            : Has("label") ? TableKind.Labels
            : Has("scaleCode") ? TableKind.Scales
            : Has("path") && Has("tag") && Has("property") ? TableKind.Bindings
            : Has("path") && Has("property") ? TableKind.Settings
            : Has("path") ? (Has("level") || Has("name") ? TableKind.Equipment : TableKind.Values)
            : Has("template") && Has("code") ? TableKind.Properties
            : Has("stateList") && Has("state") ? TableKind.States
            : Has("timeZone") ? TableKind.Calendar
            : Has("controller") ? TableKind.Controllers
            : null;
    }

    /// <summary>The kind in words.</summary>
    public static string NameOf(TableKind kind) =>
        kind switch
        {
            TableKind.States => "state lists",
            TableKind.Properties => "template properties",
            TableKind.Values => "fixed values",
            TableKind.Settings => "settings of instances",
            TableKind.ShelvingRules => "rules of shelving",
            TableKind.NoticeLists => "who is told",
            _ => kind.ToString().ToLowerInvariant(),
        };

    /// <summary>The columns a table of each kind is known by, in a sentence.</summary>
    public static string KnownColumns =>
        "Equipment has path, name, level; fixed values have path and codes of properties; settings have path and property; bindings have "
        + "path, property, controller, tag; labels have path or template, label, labelValue; template properties have template and code; "
        + "state lists have stateList, value, state; scales have scaleCode; the calendar has timeZone; "
        + "limits have limitOf, propertyCode and limitCode; rules of shelving have shelvingRule; responses have "
        + "response and responseKind; who is told has noticeList and addresses; "
        + "controllers have controller and protocol.";

    // A file that was given out to be mended says nothing in its column of reasons, and older files call the column of state lists by
    // another name.
    private static Table Renamed(Table table)
    {
        if (table.IndexOf(ImportDraft.Why) is >= 0 and var why)
            table = table with { Columns = table.Columns.SetItem(why, "") };
        return table.IndexOf("stateList") < 0 && table.IndexOf("stateSet") is >= 0 and var old
            ? table with
            {
                Columns = table.Columns.SetItem(old, "stateList"),
            }
            : table;
    }
}
