using System.Collections.Immutable;
using System.Globalization;
using Fralto.Core.Exchange;
using Fralto.Core.Plant;
using Fralto.Core.Scaling;
using Fralto.Web.Live;

namespace Fralto.Web.Forms;

/// <summary>The fields of a scale: the same in the library and with a property that has a scale of its own.</summary>
public static class ScaleFields
{
    /// <summary>Most characters of a pasted table.</summary>
    public const int LongestTable = 400_000;

    private const double Percent = 100;

    /// <summary>The names of all its fields.</summary>
    public static readonly ImmutableArray<string> Names =
    [
        "ScaleKind",
        "Signal",
        "RawLow",
        "RawHigh",
        "EngineeringLow",
        "EngineeringHigh",
        "Gain",
        "Offset",
        "CutOff",
        "InputLow",
        "InputHigh",
        "Points",
        "Sensor",
        "Reference",
        "Outside",
        "ScaleUnit",
    ];

    public static IEnumerable<(string Value, string Text)> Kinds =>
        [
            (nameof(ScaleKind.Linear), "linear, two points"),
            (nameof(ScaleKind.Gain), "gain and offset"),
            (nameof(ScaleKind.SquareRoot), "square root"),
            (nameof(ScaleKind.Table), "table"),
            (nameof(ScaleKind.Sensor), "temperature sensor"),
        ];

    public static IEnumerable<(string Value, string Text)> Signals =>
        Signal.Known.Select(s => (s.Kind.ToString(), s.Words)).Prepend((nameof(SignalKind.Free), "raw low … high"));

    public static IEnumerable<(string Value, string Text)> Sensors =>
        Enum.GetValues<SensorKind>().Select(s => (s.ToString(), SensorScale.NameOf(s)));

    public static IEnumerable<(string Value, string Text)> OutsideRules =>
        [
            (nameof(OutsideRule.Keep), "keep it, Uncertain"),
            (nameof(OutsideRule.Clamp), "clamp it, Uncertain"),
            (nameof(OutsideRule.Bad), "Bad"),
        ];

    /// <summary>The fields filled from a scale; those of a new one when it is null.</summary>
    public static IEnumerable<(string, object?)> Of(Scale? scale, PlantModel model)
    {
        if (scale is null)
            return
            [
                ("ScaleKind", ScaleKind.Linear),
                ("Signal", SignalKind.Free),
                ("Sensor", SensorKind.Pt100),
                ("Outside", OutsideRule.Keep),
            ];
        var entry = ScaleEntry.Of(scale);
        string At(IReadOnlyList<double>? ends, int end) => ends is null ? "" : ValueText.Plain(ends[end]);
        return
        [
            ("ScaleKind", entry.Kind ?? ScaleKind.Linear),
            ("Signal", scale.Signal.Kind),
            ("RawLow", At(entry.Raw, 0)),
            ("RawHigh", At(entry.Raw, 1)),
            ("EngineeringLow", At(entry.Engineering, 0)),
            ("EngineeringHigh", At(entry.Engineering, 1)),
            ("Gain", entry.Gain?.ToString("R", CultureInfo.InvariantCulture)),
            ("Offset", entry.Offset?.ToString("R", CultureInfo.InvariantCulture)),
            ("CutOff", ValueText.Plain(entry.CutOff * Percent)),
            ("InputLow", At(entry.Input, 0)),
            ("InputHigh", At(entry.Input, 1)),
            (
                "Points",
                entry.Points is null ? "" : string.Join("\n", entry.Points.Select(p => $"{ValueText.Plain(p[0])} {ValueText.Plain(p[1])}"))
            ),
            ("Sensor", entry.Sensor ?? SensorKind.Pt100),
            ("Reference", ValueText.Plain(entry.Reference)),
            ("Outside", scale.Outside),
            ("ScaleUnit", UnitField.Text(entry.Unit, model)),
        ];
    }

    /// <summary>The scale the fields say; null and problems when they say none.</summary>
    /// <param name="reader">The posted form.</param>
    /// <param name="model">Where units are looked up.</param>
    /// <param name="yields">What a linear or square root scale yields when its fields are empty; null for nothing.</param>
    public static Scale? Read(FormReader reader, PlantModel model, Span? yields)
    {
        var kind = reader.Has("ScaleKind") ? reader.Choice<ScaleKind>("ScaleKind") : ScaleKind.Linear;
        var signal = reader.Has("Signal") ? reader.Choice<SignalKind>("Signal") : SignalKind.Free;
        var before = reader.HasProblems;
        var entry = new ScaleEntry
        {
            Kind = kind,
            Signal = signal,
            Raw = signal == SignalKind.Free ? Ends(reader, "RawLow", "RawHigh", "the raw signal") : null,
            Outside = reader.Has("Outside") ? reader.Choice<OutsideRule>("Outside") : OutsideRule.Keep,
            Unit = UnitField.Read(reader, "ScaleUnit", model),
        };
        entry = kind switch
        {
            ScaleKind.Gain => entry with { Gain = reader.Number("Gain"), Offset = reader.Number("Offset") },
            ScaleKind.Table => entry with
            {
                Input = Ends(reader, "InputLow", "InputHigh", "what the signal stands for"),
                Points = Points(reader),
            },
            ScaleKind.Sensor => entry with
            {
                Input = Ends(reader, "InputLow", "InputHigh", "what the signal stands for"),
                Sensor = reader.Choice<SensorKind>("Sensor"),
                Reference = reader.Number("Reference"),
            },
            _ => entry with
            {
                Engineering = Ends(reader, "EngineeringLow", "EngineeringHigh", "what the scale yields")
                    ?? (yields is { } y ? [y.Low, y.High] : null),
                CutOff = kind == ScaleKind.SquareRoot ? reader.Number("CutOff") / Percent : null,
            },
        };
        if (reader.HasProblems && !before)
            return null;
        var scale = entry.Read(out var problems);
        foreach (var problem in problems)
            reader.Refuse(
                problem.Field switch
                {
                    "Raw" => "RawHigh",
                    "Engineering" => "EngineeringHigh",
                    "Input" => "InputHigh",
                    var field => field,
                },
                problem.Field == "Engineering" ? "A scale needs a range, or what it yields, to map the raw signal onto." : problem.Message
            );
        return scale;
    }

    private static double[]? Ends(FormReader reader, string low, string high, string what) =>
        reader.Ends(low, high, what) is { } span ? [span.Low, span.High] : null;

    /// <summary>Points as they are typed or pasted from a spreadsheet or CSV: two numbers a line; a heading is passed over.</summary>
    private static List<IReadOnlyList<double>> Points(FormReader reader)
    {
        var points = new List<IReadOnlyList<double>>();
        var lines = reader.Text("Points", LongestTable).Split('\n', StringSplitOptions.TrimEntries);
        for (var i = 0; i < lines.Length; i++)
        {
            if (lines[i].Length == 0)
                continue;
            var cells = lines[i]
                .Split(
                    lines[i].Contains(';', StringComparison.Ordinal) ? [';']
                        : lines[i].Contains('\t', StringComparison.Ordinal) ? ['\t']
                        : [' ', ','],
                    StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
                );
            // Where a semicolon or tab parts the numbers, a comma is a decimal point.
            var numbers = cells.Select(c => FieldText.Number(c, out _, hasDecimalComma: true)).ToArray();
            if (numbers is [{ } input, { } value])
                points.Add([input, value]);
            else if (points.Count > 0 || numbers.Any(n => n is not null) || i > 0)
            {
                reader.Refuse(
                    "Points",
                    $"Line {i + 1}, '{(lines[i].Length > 40 ? lines[i][..40] + "…" : lines[i])}', is not two numbers: input and value."
                );
                break;
            }
        }
        return points;
    }
}
