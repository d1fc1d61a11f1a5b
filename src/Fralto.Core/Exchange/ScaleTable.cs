using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Edits;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>The library of scales as a table, a scale in each row; points of a table stand in one cell, as 0 0; 1.5 12; 3 40.</summary>
internal sealed class ScaleTable : RowTable
{
    /// <inheritdoc/>
    public override ImmutableArray<string> Columns { get; } =
    [
        "scaleCode",
        "scaleName",
        "kind",
        "signal",
        "rawLow",
        "rawHigh",
        "engineeringLow",
        "engineeringHigh",
        "gain",
        "offset",
        "cutOff",
        "inputLow",
        "inputHigh",
        "points",
        "sensor",
        "reference",
        "outside",
        "unit",
        "description",
    ];

    /// <inheritdoc/>
    protected override int Keys => 1;

    /// <inheritdoc/>
    protected override IEnumerable<string[]> RowsOf(PlantModel model) =>
        model.Scales.Values.OrderBy(s => s.Code, StringComparer.Ordinal).Select(RowOf);

    /// <inheritdoc/>
    protected override string[]? Find(PlantModel model, RowCells cells)
    {
        if (cells["scaleCode"].Length == 0)
            cells.Refuse("scaleCode", "Give the code of the scale.");
        return ScaleOf(model, cells) is { } known ? RowOf(known) : null;
    }

    /// <inheritdoc/>
    protected override Edit? EditOf(PlantModel model, RowCells cells)
    {
        IReadOnlyList<double>? Ends(string low, string high)
        {
            if (cells[low].Length == 0 != (cells[high].Length == 0))
                cells.Refuse(cells[low].Length == 0 ? low : high, $"Give both ends, {low} and {high}.");
            return cells.Double(low) is { } l && cells.Double(high) is { } h ? [l, h] : null;
        }
        T? OrNull<T>(string column)
            where T : struct, Enum => cells[column].Length == 0 ? null : cells.Choice<T>(column, default);
        string? unit = null;
        if (cells["unit"] is { Length: > 0 } text && (unit = model.Units.Match(text)?.Code) is null)
            cells.Refuse("unit", model.Units.Unknown(text));
        var entry = new ScaleEntry
        {
            Kind = OrNull<ScaleKind>("kind"),
            Signal = OrNull<SignalKind>("signal"),
            Raw = Ends("rawLow", "rawHigh"),
            Engineering = Ends("engineeringLow", "engineeringHigh"),
            Gain = cells.Double("gain"),
            Offset = cells.Double("offset"),
            CutOff = cells.Double("cutOff"),
            Input = Ends("inputLow", "inputHigh"),
            Points = PointsOf(cells),
            Sensor = OrNull<SensorKind>("sensor"),
            Reference = cells.Double("reference"),
            Outside = OrNull<OutsideRule>("outside"),
            Unit = unit,
        };
        var scale = entry.Read(out var problems);
        foreach (var problem in problems)
            cells.Refuse(ColumnOf(problem.Field), problem.Message);
        var known = ScaleOf(model, cells);
        var name = cells["scaleName"] is { Length: > 0 } given ? given : known?.Name ?? cells["scaleCode"];
        return scale is null ? null : new SaveScale(known?.Id, known?.Code ?? cells["scaleCode"], name, cells["description"], scale);
    }

    /// <inheritdoc/>
    protected override string ColumnOf(string field) =>
        field switch
        {
            "Code" => "scaleCode",
            "Name" => "scaleName",
            "Raw" => "rawLow",
            "Engineering" => "engineeringLow",
            "Input" => "inputLow",
            _ => base.ColumnOf(field),
        };

    private static List<double[]>? PointsOf(RowCells cells)
    {
        if (cells["points"].Length == 0)
            return null;
        var points = new List<double[]>();
        foreach (var point in cells["points"].Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
        {
            var numbers = point
                .Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(n => FieldText.Number(n, out _, cells.HasDecimalComma))
                .ToArray();
            if (numbers is [{ } input, { } value])
                points.Add([input, value]);
            else
                cells.Refuse("points", $"'{point}' is not two numbers, input and value; write 0 0; 1.5 12; 3 40.");
        }
        return points;
    }

    private static LibraryScale? ScaleOf(PlantModel model, RowCells cells) =>
        model.Scales.Values.FirstOrDefault(s => s.Code.Equals(cells["scaleCode"], StringComparison.OrdinalIgnoreCase));

    private static string[] RowOf(LibraryScale scale)
    {
        static string Text(double? number) => number?.ToString("R", CultureInfo.InvariantCulture) ?? "";
        static string At(IReadOnlyList<double>? ends, int end) => ends is null ? "" : Text(ends[end]);
        var entry = ScaleEntry.Of(scale.Scale);
        return
        [
            scale.Code,
            scale.Name,
            (entry.Kind ?? ScaleKind.Linear).ToString(),
            entry.Signal?.ToString() ?? "",
            At(entry.Raw, 0),
            At(entry.Raw, 1),
            At(entry.Engineering, 0),
            At(entry.Engineering, 1),
            Text(entry.Gain),
            Text(entry.Offset),
            Text(entry.CutOff),
            At(entry.Input, 0),
            At(entry.Input, 1),
            entry.Points is null ? "" : string.Join("; ", entry.Points.Select(p => $"{Text(p[0])} {Text(p[1])}")),
            entry.Sensor?.ToString() ?? "",
            Text(entry.Reference),
            entry.Outside?.ToString() ?? "",
            entry.Unit ?? "",
            scale.Description,
        ];
    }
}
