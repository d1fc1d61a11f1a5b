using System.Collections.Immutable;
using Fralto.Core.Basics;
using Fralto.Core.Scaling;

namespace Fralto.Core.Exchange;

/// <summary>A scale as it is written: flat, with the members its kind needs. The model format, the store and the forms share it.</summary>
public sealed record ScaleEntry
{
    /// <summary>Linear when it is not said.</summary>
    public ScaleKind? Kind { get; init; }

    /// <summary>A signal by name; the raw numbers are then known.</summary>
    public SignalKind? Signal { get; init; }

    /// <summary>Raw low and high of a free signal; a gain goes without.</summary>
    public IReadOnlyList<double>? Raw { get; init; }

    /// <summary>What a linear or square root scale yields at the ends.</summary>
    public IReadOnlyList<double>? Engineering { get; init; }

    /// <summary>Factor of a gain.</summary>
    public double? Gain { get; init; }

    /// <summary>What is added after a gain.</summary>
    public double? Offset { get; init; }

    /// <summary>Low cut-off of a square root, as a share of the flow.</summary>
    public double? CutOff { get; init; }

    /// <summary>What the ends of the signal stand for, of a table or sensor; the raw numbers when it is not said.</summary>
    public IReadOnlyList<double>? Input { get; init; }

    /// <summary>Input and value of each point of a table.</summary>
    public IReadOnlyList<IReadOnlyList<double>>? Points { get; init; }

    /// <summary>The sensor, where the scale is one's.</summary>
    public SensorKind? Sensor { get; init; }

    /// <summary>Reference junction of a thermocouple, °C.</summary>
    public double? Reference { get; init; }

    /// <summary>Keep when it is not said.</summary>
    public OutsideRule? Outside { get; init; }

    /// <summary>Code of the unit it yields; that of the property when it is not said.</summary>
    public string? Unit { get; init; }

    /// <summary>A scale as an entry.</summary>
    public static ScaleEntry Of(Scale scale)
    {
        var common = new ScaleEntry
        {
            Signal = scale.Signal.Kind is SignalKind.Free or SignalKind.Open ? null : scale.Signal.Kind,
            Raw = scale.Signal.Kind == SignalKind.Free ? [scale.Raw.Low, scale.Raw.High] : null,
            Outside = scale.Outside == OutsideRule.Keep ? null : scale.Outside,
            Unit = scale.Unit,
        };
        return scale switch
        {
            LinearScale it => common with { Engineering = [it.Yields.Low, it.Yields.High] },
            GainScale it => common with { Kind = ScaleKind.Gain, Gain = it.Gain, Offset = it.Offset == 0 ? null : it.Offset },
            SquareRootScale it => common with
            {
                Kind = ScaleKind.SquareRoot,
                Engineering = [it.Yields.Low, it.Yields.High],
                CutOff = it.CutOff == 0 ? null : it.CutOff,
            },
            TableScale it => common with
            {
                Kind = ScaleKind.Table,
                Input = InputOf(it.Input, it.Raw),
                Points = [.. it.Points.Select(p => new[] { p.Input, p.Value })],
            },
            SensorScale it => common with
            {
                Kind = ScaleKind.Sensor,
                Input = InputOf(it.Input, it.Raw),
                Sensor = it.Sensor,
                Reference = it.Reference == 0 ? null : it.Reference,
            },
            _ => throw new ArgumentOutOfRangeException(nameof(scale), scale.GetType().Name, null),
        };
    }

    /// <summary>The scale an entry says; null and problems, by member, when it says none.</summary>
    public Scale? Read(out ImmutableArray<Problem> problems)
    {
        var wrong = ImmutableArray.CreateBuilder<Problem>();
        Span? Ends(IReadOnlyList<double>? ends, string member, string what)
        {
            if (ends is { Count: 2 })
                return new(ends[0], ends[1]);
            wrong.Add(
                new(member, ends is null ? $"Give {what}: low and high." : $"Two numbers are expected, low and high, not {ends.Count}.")
            );
            return null;
        }
        var signal =
            Kind == ScaleKind.Gain && Raw is null && Signal is null or SignalKind.Free or SignalKind.Open ? Scaling.Signal.Open
            : Signal is { } named and not (SignalKind.Free or SignalKind.Open) ? Scaling.Signal.Of(named)
            : Ends(Raw, "Raw", "the raw signal") is { } raw ? Scaling.Signal.Free(raw)
            : null;
        Scale? scale = null;
        switch (Kind ?? ScaleKind.Linear)
        {
            case ScaleKind.Linear when Ends(Engineering, "Engineering", "what the scale yields") is { } yields && signal is not null:
                scale = new LinearScale(signal, yields);
                break;
            case ScaleKind.SquareRoot when Ends(Engineering, "Engineering", "what the scale yields") is { } yields && signal is not null:
                scale = new SquareRootScale(signal, yields, CutOff ?? 0);
                break;
            case ScaleKind.Gain:
                if (Gain is null)
                    wrong.Add(new("Gain", "Give the gain: how much one raw unit is."));
                else if (signal is not null)
                    scale = new GainScale(signal, Gain.Value, Offset ?? 0);
                break;
            case ScaleKind.Table:
                var points = ImmutableArray.CreateBuilder<TablePoint>(Points?.Count ?? 0);
                foreach (var point in Points ?? [])
                    if (point is { Count: 2 })
                        points.Add(new(point[0], point[1]));
                    else
                        wrong.Add(new("Points", $"Point {points.Count + 1} is not two numbers, input and value."));
                if (signal is not null && (Input is null ? signal.Raw : Ends(Input, "Input", "what the signal stands for")) is { } input)
                    scale = new TableScale(signal, input, points.DrainToImmutable());
                break;
            case ScaleKind.Sensor:
                if (Sensor is null)
                    wrong.Add(new("Sensor", $"Say which sensor: {string.Join(", ", Enum.GetNames<SensorKind>())}."));
                else if (
                    signal is not null
                    && (Input is null ? signal.Raw : Ends(Input, "Input", "what the signal stands for")) is { } ohms
                )
                    scale = new SensorScale(signal, ohms, Sensor.Value, Reference ?? 0);
                break;
        }
        problems = wrong.ToImmutable();
        return problems.IsEmpty && scale is not null ? scale with { Outside = Outside ?? OutsideRule.Keep, Unit = Unit } : null;
    }

    private static double[]? InputOf(Span input, Span raw) => input == raw ? null : [input.Low, input.High];
}
