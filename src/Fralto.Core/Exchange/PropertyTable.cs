using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;
using Fralto.Core.Units;

namespace Fralto.Core.Exchange;

/// <summary>Template properties as a table: what a template says about a property it declares or refines, in each row.</summary>
internal static class PropertyTable
{
    private const string Off = "off";
    private static readonly string[] Told = ["template", "code"];

    private static readonly ImmutableArray<string> Columns =
    [
        .. Told, "name", "kind", "type", "required", "unit", "rangeLow", "rangeHigh", "rawLow", "rawHigh", "engineeringLow", "engineeringHigh", "stateSet", "value", "description",
        .. LimitConditions.All.SelectMany(c => new[] { c.Letters(), $"{c.Letters()}Deadband", $"{c.Letters()}Priority" }),
    ];

    public static Table Of(PlantModel model) => new(Columns, [.. model.Templates.Values.OrderBy(t => model.Index.AncestryOf(t.Id).Count).ThenBy(t => t.Code, StringComparer.Ordinal)
        .SelectMany(t => model.Index.PropertiesOf(t.Id).Where(p => p.DeclaredBy == t.Id || !p.Own.IsEmpty).Select(p => RowOf(model, t, p)))]);

    /// <summary>Declares what is new, changes what is known; a property the template inherits is refined. A column that is not there leaves everything as it is.</summary>
    public static ImportResult Import(PlantModel model, Table table)
    {
        var lines = new List<ImportLine>();
        var seen = new Dictionary<(long, string), int>();
        var templates = model.Templates.Values.ToDictionary(t => t.Code, t => t.Id, StringComparer.OrdinalIgnoreCase);
        foreach (var column in table.Columns.Where(c => c.Length > 0 && !Columns.Contains(c, StringComparer.OrdinalIgnoreCase)))
            lines.Add(new(1, ImportOutcome.Refused, "", column, "", "", $"There is no column {column}{Naming.OrNearest(column, Columns)} The columns are {string.Join(", ", Columns)}."));
        var next = model;
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var number = Table.NumberOf(row);
            var (templateCode, code) = (table.Cell(row, table.IndexOf("template")), table.Cell(row, table.IndexOf("code")));
            var subject = $"{templateCode} {code}";
            void Refuse(string column, string text, string reason) => lines.Add(new(number, ImportOutcome.Refused, subject, column, "", text, reason));
            if (!templates.TryGetValue(templateCode, out var templateId))
            {
                Refuse("template", templateCode, $"There is no template with the code '{templateCode}'{Naming.OrNearest(templateCode, templates.Keys)}");
                continue;
            }
            if (!seen.TryAdd((templateId, code.ToUpperInvariant()), number))
            {
                Refuse("code", code, $"Row {seen[(templateId, code.ToUpperInvariant())]} is about the same property.");
                continue;
            }
            var known = next.Index.PropertiesOf(templateId).FirstOrDefault(p => p.Code.Equals(code, StringComparison.OrdinalIgnoreCase));
            var was = known is null ? Columns.Select(_ => "").ToArray() : RowOf(next, next.Templates[templateId], known);
            // Only in a column the file has can anything change.
            string Cell(string column) => table.IndexOf(column) is >= 0 and var at ? table.Cell(row, at) : was[Columns.IndexOf(column)];
            var refusedBefore = lines.Count;
            var edit = EditOf(next, table, templateId, known, code, Cell, Refuse);
            if (lines.Count > refusedBefore || edit is null) continue;
            var outcome = edit.On(next);
            if (outcome.IsRefused)
            {
                foreach (var problem in outcome.Problems) Refuse(ColumnOf(problem.Field), ColumnOf(problem.Field) is { Length: > 0 } column ? Cell(column) : "", problem.Message);
                continue;
            }
            if (outcome.Changes.All(c => Equals(c.Before, c.After))) continue;
            next = next.Apply(outcome.Changes);
            var now = RowOf(next, next.Templates[templateId], next.Index.PropertiesOf(templateId).First(p => p.Code.Equals(code, StringComparison.OrdinalIgnoreCase)));
            if (known is null) lines.Add(new(number, ImportOutcome.Added, subject, "", "", string.Join(", ", now.Skip(2).Where(c => c.Length > 0))));
            else
                for (var i = 0; i < Columns.Length; i++)
                    if (was[i] != now[i]) lines.Add(new(number, ImportOutcome.Changed, subject, Columns[i], was[i], now[i]));
        }
        var changes = model.Templates.Values.Where(t => !next.Templates[t.Id].Equals(t)).Select(t => new ModelChange(t, next.Templates[t.Id])).ToImmutableArray();
        return new(lines, table.Rows.Count, lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : changes);
    }

    private static string[] RowOf(PlantModel model, Template template, ResolvedProperty property)
    {
        var (own, declared) = (property.Own, property.Declaration);
        return
        [
            template.Code, property.Code, property.Name, declared.Kind.ToString(), declared.Type.ToString(), declared.TakesTag ? declared.IsRequired ? "yes" : "no" : "",
            own.Unit ?? "", Text(own.Range?.Low), Text(own.Range?.High), Text(own.Scale?.Raw.Low), Text(own.Scale?.Raw.High), Text(own.Scale?.Engineering.Low), Text(own.Scale?.Engineering.High),
            own.StateSetId is { } set ? model.StateSets[set].Code : "", own.Value ?? "", own.Description ?? "",
            .. LimitConditions.All.SelectMany(c => own.Limits.TryGetValue(c, out var l) ? [l.Off == true ? Off : Text(l.Setpoint), Text(l.Deadband), Text(l.Priority)] : new[] { "", "", "" }),
        ];
    }

    private static Edit? EditOf(PlantModel model, Table table, long templateId, ResolvedProperty? known, string code, Func<string, string> cell, Action<string, string, string> refuse)
    {
        var kind = Choice(cell, "kind", known?.Declaration.Kind ?? PropertyKind.Measured, refuse);
        var type = Choice(cell, "type", known?.Declaration.Type ?? PropertyType.Number, refuse);
        var facts = Facts(model, table, cell, refuse);
        var name = cell("name") is { Length: > 0 } given ? given : known?.Name ?? code;
        var required = cell("required").ToLower(CultureInfo.InvariantCulture);
        if (required is not ("" or "yes" or "no" or "true" or "false")) refuse("required", cell("required"), "Write yes or no.");
        if (known is not null && known.DeclaredBy != templateId)
        {
            if (kind != known.Declaration.Kind || type != known.Declaration.Type || name != known.Name)
                refuse("kind", $"{kind} {type} {name}", $"{known.Name} is declared by {model.Templates[known.DeclaredBy].Name}; its name, kind and type are changed there.");
            return PatchProperty.Exactly(templateId, known.Id, facts);
        }
        return new SaveProperty(templateId, known?.Id, known?.Code ?? code, name, kind, type, facts, required is "" ? known?.Declaration.IsRequired ?? true : required is "yes" or "true");
    }

    private static PropertyPatch Facts(PlantModel model, Table table, Func<string, string> cell, Action<string, string, string> refuse)
    {
        double? Number(string column)
        {
            var text = cell(column);
            if (text.Length == 0) return null;
            if (table.HasDecimalComma) text = text.Replace(',', '.');
            if (double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out var number) && double.IsFinite(number)) return number;
            refuse(column, cell(column), $"'{cell(column)}' is no number{(text.Contains(',', StringComparison.Ordinal) ? "; write decimals with a point, as in 71.5" : "")}.");
            return null;
        }
        Span? SpanOf(string low, string high)
        {
            var (from, to) = (Number(low), Number(high));
            if (from is { } l && to is { } h) return new Span(l, h);
            if (cell(low).Length == 0 != (cell(high).Length == 0)) refuse(cell(low).Length == 0 ? low : high, "", "Give both ends, or neither.");
            return null;
        }
        string? unit = null;
        if (cell("unit") is { Length: > 0 } text)
        {
            unit = UnitCatalogue.Match(text)?.Code;
            if (unit is null) refuse("unit", text, $"'{text}' names no unit Fralto knows, or several; write its UNECE Rec 20 code, for example CEL for °C.");
        }
        StateSet? set = null;
        if (cell("stateSet") is { Length: > 0 } named)
        {
            set = model.StateSets.Values.FirstOrDefault(s => s.Code.Equals(named, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(named, StringComparison.OrdinalIgnoreCase));
            var near = Naming.OrNearest(named, model.StateSets.Values.SelectMany(s => new[] { s.Code, s.Name }));
            if (set is null) refuse("stateSet", named, $"There is no state set '{named}'{near} It is not added by itself: add it under State sets, or correct the name.");
        }
        var (range, raw, engineering) = (SpanOf("rangeLow", "rangeHigh"), SpanOf("rawLow", "rawHigh"), SpanOf("engineeringLow", "engineeringHigh"));
        if (raw is not null && (engineering ?? range) is null) refuse("engineeringLow", "", "A scale needs what it yields, or a range, to map the raw signal onto.");
        var limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;
        foreach (var condition in LimitConditions.All)
        {
            var letters = condition.Letters();
            var isOff = cell(letters).Equals(Off, StringComparison.OrdinalIgnoreCase);
            var (setpoint, deadband, priority) = (isOff ? null : Number(letters), Number($"{letters}Deadband"), Number($"{letters}Priority"));
            if (priority is { } p && p != Math.Floor(p)) refuse($"{letters}Priority", cell($"{letters}Priority"), "A priority is 1, 2, 3 or 4.");
            if (isOff || setpoint is not null || deadband is not null || priority is not null) limits = limits.Add(condition, new(setpoint, deadband, (int?)priority, isOff ? true : null));
        }
        return new()
        {
            Unit = unit,
            Range = range,
            Scale = raw is { } r && (engineering ?? range) is { } e ? new(r, e) : null,
            StateSetId = set?.Id,
            Value = cell("value") is { Length: > 0 } value ? value : null,
            Description = cell("description") is { Length: > 0 } words ? words : null,
            Limits = limits,
        };
    }

    private static T Choice<T>(Func<string, string> cell, string column, T otherwise, Action<string, string, string> refuse)
        where T : struct, Enum
    {
        var text = cell(column);
        if (text.Length == 0) return otherwise;
        if (!char.IsAsciiDigit(text[0]) && Enum.TryParse<T>(text, ignoreCase: true, out var choice) && Enum.IsDefined(choice)) return choice;
        refuse(column, text, $"'{text}' is none of {string.Join(", ", Enum.GetNames<T>())}.");
        return otherwise;
    }

    /// <summary>The column a field of an edit stands in; empty for the row as a whole.</summary>
    private static string ColumnOf(string field)
    {
        foreach (var condition in LimitConditions.All)
            if (field.StartsWith(condition.ToString(), StringComparison.Ordinal) && field[condition.ToString().Length..] is "Setpoint" or "Deadband" or "Priority")
                return field.EndsWith("Setpoint", StringComparison.Ordinal) ? condition.Letters() : condition.Letters() + field[condition.ToString().Length..];
        return field == "StateSetId" ? "stateSet" : Columns.FirstOrDefault(c => c.Equals(field, StringComparison.OrdinalIgnoreCase)) ?? "";
    }

    private static string Text(double? number) => number?.ToString("R", CultureInfo.InvariantCulture) ?? "";
}
