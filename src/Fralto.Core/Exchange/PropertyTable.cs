using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Edits;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Scaling;
using Fralto.Core.Templates;

namespace Fralto.Core.Exchange;

/// <summary>Template properties as a table: what a template says about a property it declares or refines, in each row.</summary>
internal static class PropertyTable
{
    private const string Off = "off";
    private static readonly string[] Told = ["template", "code"];

    private static readonly ImmutableArray<string> Columns =
    [
        .. Told,
        "name",
        "kind",
        "type",
        "required",
        "unit",
        "rangeLow",
        "rangeHigh",
        "scale",
        "rawLow",
        "rawHigh",
        "engineeringLow",
        "engineeringHigh",
        "stateList",
        "value",
        "description",
        .. LimitConditions.All.SelectMany(c =>
            new[] { c.Letters(), $"{c.Letters()}Deadband", $"{c.Letters()}Priority", $"{c.Letters()}OnDelay", $"{c.Letters()}OffDelay" }
        ),
    ];

    public static Table Of(PlantModel model) =>
        new(
            Columns,
            [
                .. model
                    .Templates.Values.OrderBy(t => model.Index.AncestryOf(t.Id).Count)
                    .ThenBy(t => t.Code, StringComparer.Ordinal)
                    .SelectMany(t =>
                        model.Index.PropertiesOf(t.Id).Where(p => p.DeclaredBy == t.Id || !p.Own.IsEmpty).Select(p => RowOf(model, t, p))
                    ),
            ]
        );

    /// <summary>Declares what is new, changes what is known; a property the template inherits is refined. A column that is not there leaves
    /// everything as it is.</summary>
    public static ImportResult Import(PlantModel model, Table table)
    {
        // Older files call the column of state lists by another name.
        if (table.IndexOf("stateList") < 0 && table.IndexOf("stateSet") is >= 0 and var old)
            table = table with { Columns = table.Columns.SetItem(old, "stateList") };
        var lines = new List<ImportLine>();
        var seen = new Dictionary<(long, string), int>();
        var templates = model.Templates.Values.ToDictionary(t => t.Code, t => t.Id, StringComparer.OrdinalIgnoreCase);
        foreach (var column in table.Columns.Where(c => c.Length > 0 && !Columns.Contains(c, StringComparer.OrdinalIgnoreCase)))
            lines.Add(
                new(
                    1,
                    ImportOutcome.Refused,
                    "",
                    column,
                    "",
                    "",
                    $"There is no column {column}{Naming.OrNearest(column, Columns)} The columns are {string.Join(", ", Columns)}."
                )
            );
        var next = model;
        for (var row = 0; row < table.Rows.Count; row++)
        {
            var number = table.NumberOf(row);
            var (templateCode, code) = (table.Cell(row, table.IndexOf("template")), table.Cell(row, table.IndexOf("code")));
            var subject = $"{templateCode} {code}";
            void Refuse(string column, string text, string reason) =>
                lines.Add(new(number, ImportOutcome.Refused, subject, column, "", text, reason));
            if (!templates.TryGetValue(templateCode, out var templateId))
            {
                Refuse(
                    "template",
                    templateCode,
                    $"There is no template with the code '{templateCode}'{Naming.OrNearest(templateCode, templates.Keys)}"
                );
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
            if (lines.Count > refusedBefore || edit is null)
                continue;
            var outcome = edit.On(next);
            if (outcome.IsRefused)
            {
                foreach (var problem in outcome.Problems)
                    Refuse(ColumnOf(problem.Field), ColumnOf(problem.Field) is { Length: > 0 } column ? Cell(column) : "", problem.Message);
                continue;
            }
            if (outcome.Changes.All(c => Equals(c.Before, c.After)))
                continue;
            next = next.Apply(outcome.Changes);
            var now = RowOf(
                next,
                next.Templates[templateId],
                next.Index.PropertiesOf(templateId).First(p => p.Code.Equals(code, StringComparison.OrdinalIgnoreCase))
            );
            if (known is null)
                lines.Add(new(number, ImportOutcome.Added, subject, "", "", string.Join(", ", now.Skip(2).Where(c => c.Length > 0))));
            else
                for (var i = 0; i < Columns.Length; i++)
                    if (was[i] != now[i])
                        lines.Add(new(number, ImportOutcome.Changed, subject, Columns[i], was[i], now[i]));
        }
        var changes = model
            .Templates.Values.Where(t => !next.Templates[t.Id].Equals(t))
            .Select(t => new ModelChange(t, next.Templates[t.Id]))
            .ToImmutableArray();
        return new(lines, table.Rows.Count, lines.Any(l => l.Outcome == ImportOutcome.Refused) ? [] : changes);
    }

    private static string[] RowOf(PlantModel model, Template template, ResolvedProperty property)
    {
        var (own, declared) = (property.Own, property.Declaration);
        return
        [
            template.Code,
            property.Code,
            property.Name,
            declared.Kind.ToString(),
            declared.Type.ToString(),
            declared.TakesTag
                ? declared.IsRequired
                    ? "yes"
                    : "no"
                : "",
            own.Unit ?? "",
            Text(own.Range?.Low),
            Text(own.Range?.High),
            ScaleText(model, own),
            Text((own.Scale as LinearScale)?.Raw.Low),
            Text((own.Scale as LinearScale)?.Raw.High),
            Text((own.Scale as LinearScale)?.Yields.Low),
            Text((own.Scale as LinearScale)?.Yields.High),
            own.StateListId is { } set ? model.StateLists[set].Code : "",
            own.Value ?? "",
            own.Description ?? "",
            .. LimitConditions.All.SelectMany(c =>
                own.Limits.TryGetValue(c, out var l)
                    ? [l.Off == true ? Off : Text(l.Setpoint), Text(l.Deadband), Text(l.Priority), Text(l.OnDelay), Text(l.OffDelay)]
                    : new[] { "", "", "", "", "" }
            ),
        ];
    }

    private static Edit? EditOf(
        PlantModel model,
        Table table,
        long templateId,
        ResolvedProperty? known,
        string code,
        Func<string, string> cell,
        Action<string, string, string> refuse
    )
    {
        var kind = Choice(cell, "kind", known?.Declaration.Kind ?? PropertyKind.Measured, refuse);
        var type = Choice(cell, "type", known?.Declaration.Type ?? PropertyType.Number, refuse);
        var facts = Facts(model, table, known?.Own ?? PropertyPatch.Empty, cell, refuse);
        var name = cell("name") is { Length: > 0 } given ? given : known?.Name ?? code;
        var required = cell("required").ToLower(CultureInfo.InvariantCulture);
        if (required is not ("" or "yes" or "no" or "true" or "false"))
            refuse("required", cell("required"), "Write yes or no.");
        if (known is not null && known.DeclaredBy != templateId)
        {
            if (kind != known.Declaration.Kind || type != known.Declaration.Type || name != known.Name)
                refuse(
                    "kind",
                    $"{kind} {type} {name}",
                    $"{known.Name} is declared by {model.Templates[known.DeclaredBy].Name}; its name, kind and type are changed there."
                );
            return PatchProperty.Exactly(templateId, known.Id, facts);
        }
        return new SaveProperty(
            templateId,
            known?.Id,
            known?.Code ?? code,
            name,
            kind,
            type,
            facts,
            required is "" ? known?.Declaration.IsRequired ?? true : required is "yes" or "true"
        );
    }

    private static PropertyPatch Facts(
        PlantModel model,
        Table table,
        PropertyPatch before,
        Func<string, string> cell,
        Action<string, string, string> refuse
    )
    {
        double? Number(string column)
        {
            var text = cell(column);
            if (text.Length == 0)
                return null;
            var number = FieldText.Number(text, out var problem, table.HasDecimalComma);
            if (problem is not null)
                refuse(column, text, problem);
            return number;
        }
        Span? SpanOf(string low, string high, string what) =>
            FieldText.Ends(
                cell(low),
                cell(high),
                what,
                (isHigh, problem) => refuse(isHigh ? high : low, cell(isHigh ? high : low), problem),
                table.HasDecimalComma
            );
        string? unit = null;
        if (cell("unit") is { Length: > 0 } text)
        {
            unit = model.Units.Match(text)?.Code;
            if (unit is null)
                refuse("unit", text, model.Units.Unknown(text));
        }
        StateList? set = null;
        if (cell("stateList") is { Length: > 0 } named)
        {
            set = model.StateLists.Values.FirstOrDefault(s =>
                s.Code.Equals(named, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(named, StringComparison.OrdinalIgnoreCase)
            );
            var near = Naming.OrNearest(named, model.StateLists.Values.SelectMany(s => new[] { s.Code, s.Name }));
            if (set is null)
                refuse(
                    "stateList",
                    named,
                    $"There is no state list '{named}'{near} It is not added by itself: add it under State lists, or correct the name."
                );
        }
        var (range, raw, engineering) = (
            SpanOf("rangeLow", "rangeHigh", "the range"),
            SpanOf("rawLow", "rawHigh", "the raw signal"),
            SpanOf("engineeringLow", "engineeringHigh", "what the scale yields")
        );
        if (raw is not null && (engineering ?? range) is null)
            refuse("engineeringLow", "", "A scale needs what it yields, or a range, to map the raw signal onto.");
        Scale? scale = raw is { } r && (engineering ?? range) is { } e ? LinearOf(before.Scale, r, e) : null;
        LibraryScale? library = null;
        if (cell("scale") is { Length: > 0 } what)
        {
            library = model.Scales.Values.FirstOrDefault(s =>
                s.Code.Equals(what, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(what, StringComparison.OrdinalIgnoreCase)
            );
            // Shapes that do not fit into four columns stand there in words; left as they are, they stay as they are.
            if (library is null && what == ScaleText(model, before))
                scale ??= before.Scale;
            else if (library is null)
                refuse(
                    "scale",
                    what,
                    $"There is no scale '{what}' in the library{Naming.OrNearest(what, model.Scales.Values.Select(s => s.Code))} "
                        + $"Leave it empty for a scale of rawLow … engineeringHigh."
                );
            else if (raw is not null)
                refuse("rawLow", cell("rawLow"), $"The scale {library.Code} brings its raw signal; leave rawLow to engineeringHigh empty.");
        }
        var limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;
        foreach (var condition in LimitConditions.All)
        {
            var letters = condition.Letters();
            var isOff = cell(letters).Equals(Off, StringComparison.OrdinalIgnoreCase);
            var (setpoint, deadband, priority) = (
                isOff ? null : Number(letters),
                Number($"{letters}Deadband"),
                Number($"{letters}Priority")
            );
            var (onDelay, offDelay) = (Number($"{letters}OnDelay"), Number($"{letters}OffDelay"));
            if (priority is { } p && p != Math.Floor(p))
                refuse($"{letters}Priority", cell($"{letters}Priority"), "A priority is 1, 2, 3 or 4.");
            if (isOff || (setpoint ?? deadband ?? priority ?? onDelay ?? offDelay) is not null)
                limits = limits.Add(condition, new(setpoint, deadband, (int?)priority, isOff ? true : null, onDelay, offDelay));
        }
        return new()
        {
            Unit = unit,
            Range = range,
            Scale = library is null ? scale : null,
            ScaleId = library?.Id,
            StateListId = set?.Id,
            Value = cell("value") is { Length: > 0 } value ? value : null,
            Description = cell("description") is { Length: > 0 } words ? words : null,
            Limits = limits,
        };
    }

    /// <summary>The same signal and rules with other numbers, so that a table that says nothing of them does not take them away.</summary>
    private static LinearScale LinearOf(Scale? before, Span raw, Span yields) =>
        before is LinearScale known
            ? known with
            {
                Signal = known.Raw == raw ? known.Signal : Signal.Free(raw),
                Yields = yields,
            }
            : new(raw, yields);

    /// <summary>A library scale's code, or the words of a scale that does not fit into four columns.</summary>
    private static string ScaleText(PlantModel model, PropertyPatch own) =>
        own.ScaleId is { } id ? model.Scales[id].Code
        : own.Scale is null or LinearScale ? ""
        : own.Scale.Words;

    private static T Choice<T>(Func<string, string> cell, string column, T otherwise, Action<string, string, string> refuse)
        where T : struct, Enum
    {
        var text = cell(column);
        if (text.Length == 0)
            return otherwise;
        if (!char.IsAsciiDigit(text[0]) && Enum.TryParse<T>(text, ignoreCase: true, out var choice) && Enum.IsDefined(choice))
            return choice;
        refuse(column, text, $"'{text}' is none of {string.Join(", ", Enum.GetNames<T>())}.");
        return otherwise;
    }

    /// <summary>The column a field of an edit stands in; empty for the row as a whole.</summary>
    private static string ColumnOf(string field)
    {
        foreach (var condition in LimitConditions.All)
            if (
                field.StartsWith(condition.ToString(), StringComparison.Ordinal)
                && field[condition.ToString().Length..] is "Setpoint" or "Deadband" or "Priority" or "OnDelay" or "OffDelay"
            )
                return field.EndsWith("Setpoint", StringComparison.Ordinal)
                    ? condition.Letters()
                    : condition.Letters() + field[condition.ToString().Length..];
        return field == "StateListId"
            ? "stateList"
            : Columns.FirstOrDefault(c => c.Equals(field, StringComparison.OrdinalIgnoreCase)) ?? "";
    }

    private static string Text(double? number) => number?.ToString("R", CultureInfo.InvariantCulture) ?? "";
}
