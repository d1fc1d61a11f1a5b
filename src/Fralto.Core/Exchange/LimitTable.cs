using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Rules;

namespace Fralto.Core.Exchange;

/// <summary>Every limit of the plant as a table: a row for each layer that says something of one.</summary>
internal sealed class LimitTable : RowTable
{
    private const string Yes = "yes";
    private const string No = "no";

    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    [
        "limitOf",
        "propertyCode",
        "limitCode",
        "kind",
        "setpoint",
        "from",
        "windowSeconds",
        "deadband",
        "deadbandPercent",
        "priority",
        "onDelay",
        "offDelay",
        "class",
        "message",
        "cause",
        "consequence",
        "action",
        "respondSeconds",
        "document",
        "acknowledged",
        "latched",
        "momentary",
        "clearsAfter",
        "countsWhile",
        "countsAfter",
        "alwaysNews",
        "shelving",
        "responses",
        "capture",
        "translations",
    ];

    /// <inheritdoc/>
    protected override int Keys => 3;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) => LimitCatalogue.Of(model).Select(l => RowOf(model, l));

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (Named(model, cells) is not var (layer, property))
            return null;
        var code = cells["limitCode"];
        var own = LimitConditions.Find(code) is { } level
            ? property.Own.Limits.GetValueOrDefault(level)
            : property.Own.Others.GetValueOrDefault(code);
        return own is null
            ? null
            : RowOf(model, new(layer, false, cells["limitOf"], property.Id, property.Name, code, own, own, "", 0, []));
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        if (Named(model, cells) is not var (layer, property))
            return null;
        LimitKind? kind = null;
        if (cells["kind"] is { Length: > 0 } text)
        {
            if (text is "off")
                return new SaveLimit(layer, property.Id, cells["limitCode"], new(Off: true));
            if (Enum.TryParse<LimitKind>(text, true, out var read) && Enum.IsDefined(read) && !char.IsAsciiDigit(text[0]))
                kind = read;
            else
                cells.Refuse(
                    "kind",
                    $"'{text}' is no kind of limit; they are {string.Join(", ", Enum.GetNames<LimitKind>())}, off, or empty for a level."
                );
        }
        var priority = cells.Double("priority");
        if (priority is { } p && p is not (1 or 2 or 3 or 4))
            cells.Refuse("priority", "A priority is 1, 2, 3 or 4.");
        return new SaveLimit(
            layer,
            property.Id,
            cells["limitCode"],
            new(cells.Double("setpoint"), cells.Double("deadband"), (int?)priority, null, cells.Double("onDelay"), cells.Double("offDelay"))
            {
                Kind = kind,
                From = TextOf(cells, "from"),
                WindowSeconds = cells.Double("windowSeconds"),
                DeadbandPercent = cells.Double("deadbandPercent"),
                Class = TextOf(cells, "class"),
                Message = TextOf(cells, "message"),
                Cause = TextOf(cells, "cause"),
                Consequence = TextOf(cells, "consequence"),
                Action = TextOf(cells, "action"),
                RespondSeconds = cells.Double("respondSeconds"),
                Document = TextOf(cells, "document"),
                NoAcknowledgement = !Said(cells, "acknowledged"),
                Latched = Said(cells, "latched"),
                Momentary = Said(cells, "momentary"),
                ClearsAfter = cells.Double("clearsAfter"),
                CountsWhile = TextOf(cells, "countsWhile"),
                CountsAfter = cells.Double("countsAfter"),
                AlwaysNews = Said(cells, "alwaysNews"),
                Shelving = TextOf(cells, "shelving"),
                Responses = TextOf(cells, "responses"),
                Capture = TextOf(cells, "capture"),
                Translations = TextOf(cells, "translations"),
            }
        );
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field)
    {
        var name = field[(field.LastIndexOf('.') + 1)..];
        foreach (var condition in LimitConditions.All)
            if (name.StartsWith(condition.ToString(), StringComparison.Ordinal))
                name = name[condition.ToString().Length..];
        return name == "Code" ? "limitCode" : Columns.FirstOrDefault(c => c.Equals(name, StringComparison.OrdinalIgnoreCase)) ?? "";
    }

    private static (long Layer, ResolvedProperty Property)? Named(PlantModel model, RowCells cells)
    {
        var (of, code) = (cells["limitOf"], cells["propertyCode"]);
        var template = model.Templates.Values.FirstOrDefault(t => t.Code.Equals(of, StringComparison.OrdinalIgnoreCase));
        var node = template is null ? model.Index.Find(of) : null;
        if (template is null && node?.TemplateId is null)
        {
            cells.Refuse("limitOf", $"There is no template with the code '{of}', and no instance with this path.");
            return null;
        }
        if (cells["limitCode"].Length == 0)
        {
            cells.Refuse("limitCode", "Give the code of the limit: HH, H, L, LL, or its own.");
            return null;
        }
        var properties = template is not null ? model.Index.PropertiesOf(template.Id) : model.Index.PropertiesOf(node!);
        if (properties.FirstOrDefault(p => p.Code.Equals(code, StringComparison.OrdinalIgnoreCase)) is { } property)
            return (template?.Id ?? node!.Id, property);
        cells.Refuse("propertyCode", $"{of} has no property '{code}'.");
        return null;
    }

    private static string[] RowOf(PlantModel model, CatalogueLimit limit)
    {
        var own = limit.Own;
        var code = (
            model.Templates.ContainsKey(limit.Layer)
                ? model.Index.PropertiesOf(limit.Layer)
                : model.Index.PropertiesOf(model.Equipment[limit.Layer])
        )
            .First(p => p.Id == limit.PropertyId)
            .Code;
        return
        [
            model.Templates.GetValueOrDefault(limit.Layer)?.Code ?? model.Index.PathOf(limit.Layer),
            code,
            LimitConditions.Find(limit.Code)?.Letters() ?? limit.Code,
            own.Off == true ? "off" : own.Kind?.ToString() ?? "",
            Text(own.Setpoint),
            own.From ?? "",
            Text(own.WindowSeconds),
            Text(own.Deadband),
            Text(own.DeadbandPercent),
            Text(own.Priority),
            Text(own.OnDelay),
            Text(own.OffDelay),
            own.Class ?? "",
            own.Message ?? "",
            own.Cause ?? "",
            own.Consequence ?? "",
            own.Action ?? "",
            Text(own.RespondSeconds),
            own.Document ?? "",
            Text(!own.NoAcknowledgement),
            Text(own.Latched),
            Text(own.Momentary),
            Text(own.ClearsAfter),
            own.CountsWhile ?? "",
            Text(own.CountsAfter),
            Text(own.AlwaysNews),
            own.Shelving ?? "",
            own.Responses ?? "",
            own.Capture ?? "",
            own.Translations ?? "",
        ];
    }

    private static bool? Said(RowCells cells, string column)
    {
        var text = cells[column];
        if (text.Length > 0 && text is not (Yes or No))
            cells.Refuse(column, "Write yes, no, or leave it empty.");
        return text switch
        {
            Yes => true,
            No => false,
            _ => null,
        };
    }

    private static string? TextOf(RowCells cells, string column) => cells[column] is { Length: > 0 } text ? text : null;

    private static string Text(double? number) => number?.ToString("R", CultureInfo.InvariantCulture) ?? "";

    private static string Text(bool? truth) =>
        truth is { } its
            ? its
                ? Yes
                : No
            : "";
}
