using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Basics;
using Fralto.Core.Limits;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Recording;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>What a layer says of a property as cells of a table, and back: of a template, or of an instance.</summary>
internal static class FactCells
{
    private const string Off = "off";
    private const string On = "on";

    private static readonly ImmutableArray<string> RecordingColumns =
    [
        "record",
        "recordDeadband",
        "recordEvery",
        "recordWhile",
        "keepDays",
        "keepCount",
        "keepSummedDays",
    ];

    /// <summary>The columns, in the order cells are given.</summary>
    public static readonly ImmutableArray<string> Columns =
    [
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
        "formula",
        "validSeconds",
        "atStart",
        "followSeconds",
        "followDeadband",
        .. RecordingColumns,
        "keyFigure",
        "description",
        .. LimitConditions.All.SelectMany(c =>
            new[] { c.Letters(), $"{c.Letters()}Deadband", $"{c.Letters()}Priority", $"{c.Letters()}OnDelay", $"{c.Letters()}OffDelay" }
        ),
    ];

    /// <summary>The cells of what a layer says.</summary>
    public static string[] Of(PlantModel model, PropertyPatch own) =>
        [
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
            own.Formula ?? "",
            Text(own.ValidSeconds),
            own.AtStart ?? "",
            Text(own.FollowSeconds),
            Text(own.FollowDeadband),
            .. Of(own.Recording),
            own.IsKeyFigure switch
            {
                true => On,
                false => Off,
                null => "",
            },
            own.Description ?? "",
            .. LimitConditions.All.SelectMany(c =>
                own.Limits.TryGetValue(c, out var l)
                    ? [l.Off == true ? Off : Text(l.Setpoint), Text(l.Deadband), Text(l.Priority), Text(l.OnDelay), Text(l.OffDelay)]
                    : new[] { "", "", "", "", "" }
            ),
        ];

    /// <summary>What the cells of a row say of a property.</summary>
    /// <param name="model">Where units, scales and state lists are looked up.</param>
    /// <param name="before">What the layer says now.</param>
    /// <param name="cells">The cells.</param>
    /// <param name="inherited">The range below, onto which a scale maps when the row has none.</param>
    public static PropertyPatch Read(PlantModel model, PropertyPatch before, RowTable.RowCells cells, Span? inherited = null)
    {
        Span? SpanOf(string low, string high, string what) =>
            FieldText.Ends(
                cells[low],
                cells[high],
                what,
                (isHigh, problem) => cells.Refuse(isHigh ? high : low, problem),
                cells.HasDecimalComma
            );
        string? unit = null;
        if (cells["unit"] is { Length: > 0 } text)
        {
            unit = model.Units.Match(text)?.Code;
            if (unit is null)
                cells.Refuse("unit", model.Units.Unknown(text));
        }
        StateList? set = null;
        if (cells["stateList"] is { Length: > 0 } named)
        {
            set = model.StateLists.Values.FirstOrDefault(s =>
                s.Code.Equals(named, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(named, StringComparison.OrdinalIgnoreCase)
            );
            var near = Naming.OrNearest(named, model.StateLists.Values.SelectMany(s => new[] { s.Code, s.Name }));
            if (set is null)
                cells.Refuse(
                    "stateList",
                    $"There is no state list '{named}'{near} It is not added by itself: add it under State lists, or correct the name."
                );
        }
        var (range, raw, engineering) = (
            SpanOf("rangeLow", "rangeHigh", "the range"),
            SpanOf("rawLow", "rawHigh", "the raw signal"),
            SpanOf("engineeringLow", "engineeringHigh", "what the scale yields")
        );
        if (raw is not null && (engineering ?? range ?? inherited) is null)
            cells.Refuse("engineeringLow", "A scale needs what it yields, or a range, to map the raw signal onto.");
        Scale? scale = raw is { } r && (engineering ?? range ?? inherited) is { } e ? LinearOf(before.Scale, r, e) : null;
        LibraryScale? library = null;
        if (cells["scale"] is { Length: > 0 } what)
        {
            library = model.Scales.Values.FirstOrDefault(s =>
                s.Code.Equals(what, StringComparison.OrdinalIgnoreCase) || s.Name.Equals(what, StringComparison.OrdinalIgnoreCase)
            );
            // Shapes that do not fit into four columns stand there in words; left as they are, they stay as they are.
            if (library is null && what == ScaleText(model, before))
                scale ??= before.Scale;
            else if (library is null)
                cells.Refuse(
                    "scale",
                    $"There is no scale '{what}' in the library{Naming.OrNearest(what, model.Scales.Values.Select(s => s.Code))} "
                        + $"Leave it empty for a scale of rawLow … engineeringHigh."
                );
            else if (raw is not null)
                cells.Refuse("rawLow", $"The scale {library.Code} brings its raw signal; leave rawLow to engineeringHigh empty.");
        }
        var limits = ImmutableSortedDictionary<LimitCondition, LimitPatch>.Empty;
        foreach (var condition in LimitConditions.All)
        {
            var letters = condition.Letters();
            var isOff = cells[letters].Equals(Off, StringComparison.OrdinalIgnoreCase);
            var (setpoint, deadband, priority) = (
                isOff ? null : cells.Double(letters),
                cells.Double($"{letters}Deadband"),
                cells.Double($"{letters}Priority")
            );
            var (onDelay, offDelay) = (cells.Double($"{letters}OnDelay"), cells.Double($"{letters}OffDelay"));
            if (priority is { } p && p != Math.Floor(p))
                cells.Refuse($"{letters}Priority", "A priority is 1, 2, 3 or 4.");
            if (isOff || (setpoint ?? deadband ?? priority ?? onDelay ?? offDelay) is not null)
                limits = limits.Add(condition, new(setpoint, deadband, (int?)priority, isOff ? true : null, onDelay, offDelay));
        }
        return new PropertyPatch
        {
            Unit = unit,
            Range = range,
            Scale = library is null ? scale : null,
            ScaleId = library?.Id,
            StateListId = set?.Id,
            Formula = cells["formula"] is { Length: > 0 } formula ? formula : null,
            ValidSeconds = cells.Double("validSeconds"),
            AtStart = cells["atStart"] is { Length: > 0 } atStart ? atStart : null,
            FollowSeconds = cells.Double("followSeconds"),
            FollowDeadband = cells.Double("followDeadband"),
            Recording = RecordingOf(cells, before.Recording),
            IsKeyFigure = Switch(cells, "keyFigure"),
            Value = cells["value"] is { Length: > 0 } value ? value : null,
            Description = cells["description"] is { Length: > 0 } words ? words : null,
            Limits = limits,
        }.KeepingLimitsOf(before);
    }

    private static string[] Of(RecordingPatch? says) =>
        says is null
            ? ["", "", "", "", "", "", ""]
            :
            [
                says.Off switch
                {
                    true => Off,
                    false => On,
                    null => "",
                },
                RecordingText.Deadband(says),
                Text(says.Every),
                says.While ?? "",
                Text(says.KeepDays),
                Text(says.KeepCount),
                Text(says.KeepSummedDays),
            ];

    private static RecordingPatch? RecordingOf(RowTable.RowCells cells, RecordingPatch? before)
    {
        var isOn = Switch(cells, "record");
        var deadband = cells["recordDeadband"];
        var isPercent = deadband.EndsWith('%');
        var number = deadband.Length == 0 ? null : FieldText.Number(deadband.TrimEnd('%').Trim(), out _);
        if (deadband.Length > 0 && number is null)
            cells.Refuse(
                "recordDeadband",
                $"'{deadband}' is no deadband; write a number in the unit, or one in percent of the range: 0.2 %."
            );
        var says = new RecordingPatch
        {
            Off = !isOn,
            Deadband = isPercent ? null : number,
            DeadbandPercent = isPercent ? number : null,
            Every = cells.Double("recordEvery"),
            OnChange = before?.OnChange,
            While = cells["recordWhile"] is { Length: > 0 } condition ? condition : null,
            KeepDays = cells.Double("keepDays"),
            KeepCount = (long?)cells.Double("keepCount"),
            KeepSummedDays = cells.Double("keepSummedDays"),
        };
        return says == RecordingPatch.Empty ? null : says;
    }

    /// <summary>What a cell that holds on, off or nothing says.</summary>
    private static bool? Switch(RowTable.RowCells cells, string column)
    {
        var text = cells[column];
        if (text.Length > 0 && text.ToLowerInvariant() is not (On or Off))
            cells.Refuse(column, $"'{text}' is neither on nor off.");
        return text.Length == 0 ? null : text.Equals(On, StringComparison.OrdinalIgnoreCase);
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

    /// <summary>The column a field of an edit stands in; empty when it is none of these.</summary>
    public static string ColumnOf(string field)
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
