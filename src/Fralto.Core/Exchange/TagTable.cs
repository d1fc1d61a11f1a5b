using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Controllers;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Protocols;
using Fralto.Core.Rules;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Core.Exchange;

/// <summary>The tags of a controller as a table: given out, its columns recognised, and taken in.</summary>
public static class TagTable
{
    /// <summary>Rows that are looked at when columns are recognised by what they hold.</summary>
    private const int Looked = 200;

    /// <summary>Share of the cells that must read as something for a column to be taken for it.</summary>
    private const double Enough = 0.8;

    private static readonly (TagField Field, string[] Names)[] Known =
    [
        (TagField.Name, ["name", "tag", "tagname", "symbol", "point", "signal", "variable"]),
        (TagField.Address, ["address", "adr", "addr", "register", "offset", "topic", "metric", "reg", "path"]),
        (TagField.Type, ["type", "datatype", "rawtype", "format"]),
        (TagField.Order, ["order", "wordorder", "byteorder", "endian", "swap"]),
        (TagField.Unit, ["unit", "engunit", "engineeringunit", "units", "uom", "eu"]),
        (TagField.Low, ["low", "rangelow", "min", "minimum", "engmin", "from", "lrv"]),
        (TagField.High, ["high", "rangehigh", "max", "maximum", "engmax", "to", "urv"]),
        (TagField.Description, ["description", "desc", "comment", "remark", "text", "meaning"]),
        (TagField.UpdateClass, ["updateclass", "class", "scanclass", "rate", "scan", "poll"]),
        (TagField.Table, ["table", "area", "registertype", "function"]),
        (TagField.UnitId, ["unitid", "slave", "slaveid", "station", "deviceid", "node"]),
    ];

    private static readonly string[] Columns = ["name", "address", "type", "order", "unit", "low", "high", "description", "update class"];

    /// <summary>The tags of a controller that are its own; those of devices follow their layouts.</summary>
    public static Table Of(PlantModel model, Controller controller) =>
        new(
            [.. Columns],
            [
                .. model
                    .Index.TagsOf(controller.Id)
                    .Where(t => t.DeviceId is null)
                    .Select(t =>
                        new[]
                        {
                            t.Name,
                            t.Address.ToString(),
                            t.Count > 1 ? $"{t.Type.Word()}[{t.Count}]" : t.Type.Word(),
                            t.Type.Words() > 1 || t.WordOrder != WordOrder.HighFirst ? t.WordOrder.Letters() : "",
                            t.Unit is null ? "" : model.Units.SymbolOf(t.Unit),
                            Text(t.Range?.Low),
                            Text(t.Range?.High),
                            t.Description,
                            t.UpdateClass ?? "",
                        }
                    ),
            ]
        );

    /// <summary>What the columns of a table are taken for: by their names, and where those say nothing by what stands in them.</summary>
    public static IReadOnlyList<TagColumn> Recognise(Table table, Controller controller, UnitSet units)
    {
        var found = new List<TagColumn>();
        bool IsFree(int column) => found.All(f => f.Index != column);
        foreach (var (field, names) in Known)
        {
            for (var c = 0; c < table.Columns.Length; c++)
            {
                if (!IsFree(c) || !names.Contains(Letters(table.Columns[c])))
                    continue;
                found.Add(new(field, c, "by its name"));
                break;
            }
        }
        void ByContent(TagField field, Func<string, bool> reads, string what)
        {
            if (found.Any(f => f.Field == field))
                return;
            for (var c = 0; c < table.Columns.Length; c++)
            {
                if (!IsFree(c))
                    continue;
                var cells = Cells(table, c).ToArray();
                var hits = cells.Count(reads);
                if (cells.Length == 0 || hits < Enough * cells.Length)
                    continue;
                found.Add(new(field, c, $"by what it holds: {hits} of {cells.Length} {what}"));
                return;
            }
        }
        ByContent(TagField.Type, text => RawTypes.Parse(text) is not null, "are types");
        ByContent(TagField.Order, text => OrderOf(text) is not null, "are orders of words");
        if (controller.Protocol.Rules().HasDevice)
            ByContent(
                TagField.Address,
                text =>
                    FieldText.Number(text, out _) is null or >= 10000 && controller.Protocol.Rules().ReadAddress(text, out _) is not null,
                "are addresses"
            );
        ByContent(TagField.Unit, text => units.Match(text) is not null, "are units");
        if (found.All(f => f.Field != TagField.Name))
        {
            for (var c = 0; c < table.Columns.Length; c++)
            {
                var cells = Cells(table, c).ToArray();
                if (
                    !IsFree(c)
                    || cells.Length < Math.Min(table.Rows.Count, Looked)
                    || cells.Any(t => t.Contains(' ', StringComparison.Ordinal) || FieldText.Number(t, out _) is not null)
                    || cells.Distinct().Count() != cells.Length
                )
                    continue;
                found.Add(new(TagField.Name, c, "by what it holds: words that differ from row to row"));
                break;
            }
        }
        ByContent(TagField.Description, text => text.Contains(' ', StringComparison.Ordinal), "have several words");
        return found;
    }

    /// <summary>What taking a table in would do, row by row; a row with the name of a tag changes that tag, any other adds one. Nothing is
    /// taken out.</summary>
    public static ImportResult Import(PlantModel model, Controller controller, Table table, IReadOnlyList<TagColumn> columns)
    {
        var lines = new List<ImportLine>();
        var changes = new List<ModelChange>();
        var known = model.Index.TagsOf(controller.Id).ToDictionary(t => t.Name, StringComparer.OrdinalIgnoreCase);
        var names = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        var places = new Dictionary<(string, RawType, int), string>();
        var index = columns.ToDictionary(c => c.Field, c => c.Index);
        var units = new Dictionary<string, Unit?>(StringComparer.Ordinal);
        var next = model.NextId;
        // Names in the file give their places free before anything is compared: a list may exchange two addresses.
        var listed = Enumerable
            .Range(0, table.Rows.Count)
            .Select(r => table.Cell(r, index.GetValueOrDefault(TagField.Name, -1)))
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var tag in known.Values.Where(t => !listed.Contains(t.Name)))
            if (TagRules.PlaceOf(controller, tag) is { } place)
                places[place] = tag.Name;
        foreach (
            var field in new[] { TagField.Name, TagField.Type }
                .Where(f => !index.ContainsKey(f))
                .Concat(!controller.Protocol.Rules().HasDevice || index.ContainsKey(TagField.Address) ? [] : new[] { TagField.Address })
        )
            lines.Add(
                new(
                    1,
                    ImportOutcome.Refused,
                    "",
                    field.ToString().ToLowerInvariant(),
                    "",
                    "",
                    $"No column says the {field.ToString().ToLowerInvariant()}; choose one."
                )
            );
        if (lines.Count > 0)
            return new(lines, table.Rows.Count, []);
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var number = table.NumberOf(row);
            string Cell(TagField field) => index.TryGetValue(field, out var column) ? table.Cell(row, column) : "";
            var name = Cell(TagField.Name);
            void Refuse(TagField field, string text, string reason) =>
                lines.Add(
                    new(
                        number,
                        ImportOutcome.Refused,
                        name,
                        field == TagField.UpdateClass ? "update class" : field.ToString().ToLowerInvariant(),
                        "",
                        text,
                        reason
                    )
                );
            var before = known.GetValueOrDefault(name);
            if (before?.DeviceId is not null)
            {
                Refuse(TagField.Name, name, $"{name} is generated from a layout; change the layout.");
                continue;
            }
            if (Read(controller, before, Cell, units, model.Units, table.HasDecimalComma, next, Refuse) is not { } after)
                continue;
            var wrong = false;
            foreach (
                var problem in EntityRules
                    .Problems(model, controller, after)
                    .Concat(before is null ? [] : TagRules.Misfits(model, after).Select(m => new Problem("Type", m)))
            )
            {
                wrong = true;
                lines.Add(new(number, ImportOutcome.Refused, name, problem.Field.ToLowerInvariant(), "", "", problem.Message));
            }
            if (wrong)
                continue;
            if (!names.TryAdd(name, number))
            {
                Refuse(
                    TagField.Name,
                    name,
                    $"Row {names[name]} has the same name; "
                        + $"{TagRules.FreeName(name, n => names.ContainsKey(n) || known.ContainsKey(n))} is free."
                );
                continue;
            }
            if (TagRules.PlaceOf(controller, after) is { } at && !places.TryAdd(at, name))
            {
                Refuse(
                    TagField.Address,
                    Cell(TagField.Address),
                    $"{places[at]} is {after.TypeText} at {after.Address} too; a place has one tag."
                );
                continue;
            }
            if (before is null)
            {
                next++;
                lines.Add(new(number, ImportOutcome.Added, name, "", "", Words(model.Units, after)));
                changes.Add(new(null, after));
            }
            else if (!before.Equals(after))
            {
                foreach (var (column, was, now) in Differences(model.Units, before, after))
                    lines.Add(new(number, ImportOutcome.Changed, name, column, was, now));
                changes.Add(new(before, after));
            }
        }
        return new(lines, table.Rows.Count, lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : [.. changes]);
    }

    private static Tag? Read(
        Controller controller,
        Tag? before,
        Func<TagField, string> cell,
        Dictionary<string, Unit?> units,
        UnitSet all,
        bool decimalComma,
        long id,
        Action<TagField, string, string> refuse
    )
    {
        var fine = true;
        void Refuse(TagField field, string text, string reason)
        {
            fine = false;
            refuse(field, text, reason);
        }
        var (place, table, unitId) = (cell(TagField.Address), cell(TagField.Table), cell(TagField.UnitId));
        if (table.Length > 0)
            place = $"{table} {place}";
        if (unitId.Length > 0)
            place = $"unit {unitId} {place}";
        var address = controller.Protocol.Rules().ReadAddress(place, out var problem);
        if (address is null)
            Refuse(TagField.Address, place, problem!);
        var type = RawTypes.Parse(cell(TagField.Type));
        if (type is null)
            Refuse(
                TagField.Type,
                cell(TagField.Type),
                $"'{cell(TagField.Type)}' is no type; write one such as int16, float32, bool or int16[8]."
            );
        var order = cell(TagField.Order) is { Length: > 0 } letters ? OrderOf(letters) : WordOrder.HighFirst;
        if (order is null)
            Refuse(
                TagField.Order,
                cell(TagField.Order),
                $"'{cell(TagField.Order)}' is no order of words and bytes; write ABCD, CDAB, BADC or DCBA."
            );
        string? unit = null;
        if (cell(TagField.Unit) is { Length: > 0 } symbol)
        {
            if (!units.TryGetValue(symbol, out var found))
                units[symbol] = found = all.Match(symbol);
            if (found is null)
                Refuse(TagField.Unit, symbol, all.Unknown(symbol));
            unit = found?.Code;
        }
        var range = FieldText.Ends(
            cell(TagField.Low),
            cell(TagField.High),
            "the range",
            (isHigh, wrong) => Refuse(isHigh ? TagField.High : TagField.Low, cell(isHigh ? TagField.High : TagField.Low), wrong),
            decimalComma
        );
        if (!fine)
            return null;
        var hasOrder = address!.HasWordOrder && !(type!.Value.Type == RawType.Bool && type.Value.Count == 1);
        return new(
            before?.Id ?? id,
            controller.Id,
            cell(TagField.Name),
            address!,
            type!.Value.Type,
            hasOrder ? order!.Value : WordOrder.HighFirst,
            cell(TagField.Description),
            type.Value.Count,
            unit
        )
        {
            Range = range,
            UpdateClass = cell(TagField.UpdateClass) is { Length: > 0 } its ? its : null,
        };
    }

    private static IEnumerable<(string Column, string Before, string After)> Differences(UnitSet units, Tag before, Tag after)
    {
        if (before.Name != after.Name)
            yield return ("name", before.Name, after.Name);
        if (before.Address != after.Address)
            yield return ("address", before.Address.ToString(), after.Address.ToString());
        if (before.TypeText != after.TypeText)
            yield return ("type", before.TypeText, after.TypeText);
        if (before.WordOrder != after.WordOrder)
            yield return ("order", before.WordOrder.Letters(), after.WordOrder.Letters());
        if (before.Unit != after.Unit)
            yield return ("unit", units.SymbolOf(before.Unit), units.SymbolOf(after.Unit));
        if (before.Range != after.Range)
            yield return (
                "range",
                $"{Text(before.Range?.Low)} … {Text(before.Range?.High)}",
                $"{Text(after.Range?.Low)} … {Text(after.Range?.High)}"
            );
        if (before.Description != after.Description)
            yield return ("description", before.Description, after.Description);
        if (before.UpdateClass != after.UpdateClass)
            yield return ("update class", before.UpdateClass ?? "", after.UpdateClass ?? "");
    }

    // All that a new tag would be, so that what was read wrongly is seen before it is taken in.
    private static string Words(UnitSet units, Tag tag) =>
        string.Join(
            ", ",
            new[]
            {
                $"{tag.TypeText} at {tag.Address}",
                tag.Address.HasWordOrder && tag.Type.Words() > 1 ? tag.WordOrder.Letters() : "",
                units.SymbolOf(tag.Unit),
                tag.Range is { } range ? $"{Text(range.Low)} … {Text(range.High)}" : "",
                tag.UpdateClass ?? "",
                tag.Description,
            }.Where(t => t.Length > 0)
        );

    /// <summary>The field that a line of a preview is about; null for the row as a whole.</summary>
    /// <param name="column">The column as the line says it.</param>
    internal static TagField? FieldOf(string column) =>
        column switch
        {
            "update class" or "updateclass" => TagField.UpdateClass,
            "wordorder" => TagField.Order,
            "range" or "rangelow" => TagField.Low,
            "rangehigh" => TagField.High,
            "elements" or "count" => TagField.Type,
            _ => Enum.TryParse<TagField>(column, ignoreCase: true, out var field) && Enum.IsDefined(field) ? field : null,
        };

    private static WordOrder? OrderOf(string text)
    {
        foreach (var order in Enum.GetValues<WordOrder>())
            if (
                text.Equals(order.Letters(), StringComparison.OrdinalIgnoreCase)
                || text.Equals(order.ToString(), StringComparison.OrdinalIgnoreCase)
            )
                return order;
        return null;
    }

    private static IEnumerable<string> Cells(Table table, int column) =>
        Enumerable.Range(0, Math.Min(table.Rows.Count, Looked)).Select(r => table.Cell(r, column)).Where(t => t.Length > 0);

    private static string Letters(string header) => new([.. header.Where(char.IsLetter).Select(char.ToLowerInvariant)]);

    private static string Text(double? number) => number?.ToString("R", CultureInfo.InvariantCulture) ?? "";
}
