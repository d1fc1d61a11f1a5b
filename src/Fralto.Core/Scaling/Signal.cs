namespace Fralto.Core.Scaling;

/// <summary>The raw range of a tag, and what raw values beyond it mean.</summary>
/// <remarks>
/// 4...20 mA in all its forms follows NAMUR NE 43: 3.8...20.5 mA is measuring information, 3.6 mA and less or 21.0 mA and more a failure
/// of the sensor. For 0...10 V and 0...100 % the measuring information reaches 2.5 % of the span beyond the ends and a failure begins at
/// 10 % (common practice, no source). A free range is measuring information as far as it goes and knows no failure; an open
/// signal is measuring information whatever it is.
/// </remarks>
public sealed record Signal
{
    private Signal(SignalKind kind, Span raw) => (Kind, Raw) = (kind, raw);

    /// <summary>Which signal it is.</summary>
    public SignalKind Kind { get; }

    /// <summary>The raw numbers at 0 % and at 100 % of the span.</summary>
    public Span Raw { get; }

    /// <summary>All signals with a name, in the order in which they are offered.</summary>
    public static IReadOnlyList<Signal> Known { get; } =
    [.. Enum.GetValues<SignalKind>().Where(k => k is not (SignalKind.Free or SignalKind.Open)).Select(Of)];

    /// <summary>True for the forms of 4...20 mA.</summary>
    public bool IsCurrentLoop => Kind is not (SignalKind.Free or SignalKind.Open or SignalKind.Volts or SignalKind.Percent);

    /// <summary>Rec 20 code of the unit of the raw numbers; null for counts and free ranges.</summary>
    public string? Unit =>
        Kind switch
        {
            SignalKind.Milliamps => "4K",
            SignalKind.Microamps => "B84",
            SignalKind.Volts => "VLT",
            SignalKind.Percent => "P1",
            _ => null,
        };

    /// <summary>The raw numbers that are measuring information.</summary>
    public Span Accepted =>
        Kind switch
        {
            SignalKind.Free => new(Raw.Minimum, Raw.Maximum),
            SignalKind.Open => new(double.NegativeInfinity, double.PositiveInfinity),
            SignalKind.Volts or SignalKind.Percent => new(Raw.At(-0.025), Raw.At(1.025)),
            _ => new(AtMilliamps(3.8) - Hair, AtMilliamps(20.5) + Hair),
        };

    /// <summary>At this raw number and below the sensor has failed; minus infinity when nothing says so.</summary>
    public double FailsAtOrBelow =>
        Kind switch
        {
            SignalKind.Free or SignalKind.Open => double.NegativeInfinity,
            SignalKind.Volts or SignalKind.Percent => Raw.At(-0.1),
            _ => AtMilliamps(3.6) + Hair,
        };

    /// <summary>At this raw number and above the sensor has failed; infinity when nothing says so.</summary>
    public double FailsAtOrAbove =>
        Kind switch
        {
            SignalKind.Free or SignalKind.Open => double.PositiveInfinity,
            SignalKind.Volts or SignalKind.Percent => Raw.At(1.1),
            _ => AtMilliamps(21) - Hair,
        };

    /// <summary>In words, for example "4…20 mA as 0…32767 counts".</summary>
    public string Words =>
        Kind switch
        {
            SignalKind.Milliamps => "4…20 mA",
            SignalKind.Microamps => "4…20 mA in µA",
            SignalKind.Counts15 => "4…20 mA as 0…32767 counts",
            SignalKind.Counts16 => "4…20 mA as 0…65535 counts",
            SignalKind.DeadZeroCounts15 => "4…20 mA, counts of 0…20 mA to 32767",
            SignalKind.DeadZeroCounts16 => "4…20 mA, counts of 0…20 mA to 65535",
            SignalKind.Counts27648 => "4…20 mA as 0…27648 counts",
            SignalKind.Volts => "0…10 V",
            SignalKind.Percent => "0…100 %",
            SignalKind.Open => "any raw number",
            _ => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{Raw.Low}…{Raw.High}"),
        };

    /// <summary>A signal by name; a free one needs its ends.</summary>
    public static Signal Of(SignalKind kind) =>
        kind switch
        {
            SignalKind.Milliamps => new(kind, new(4, 20)),
            SignalKind.Microamps => new(kind, new(4000, 20000)),
            SignalKind.Counts15 => new(kind, new(0, 32767)),
            SignalKind.Counts16 => new(kind, new(0, 65535)),
            SignalKind.DeadZeroCounts15 => new(kind, new(32767 * 0.2, 32767)),
            SignalKind.DeadZeroCounts16 => new(kind, new(65535 * 0.2, 65535)),
            SignalKind.Counts27648 => new(kind, new(0, 27648)),
            SignalKind.Volts => new(kind, new(0, 10)),
            SignalKind.Percent => new(kind, new(0, 100)),
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "a free signal needs its ends"),
        };

    /// <summary>Any raw number.</summary>
    public static Signal Open { get; } = new(SignalKind.Open, new(0, 1));

    /// <summary>Any two raw numbers.</summary>
    public static Signal Free(Span raw) => new(SignalKind.Free, raw);

    /// <summary>The current a raw number of a current loop stands for, in mA.</summary>
    public double MilliampsOf(double raw) => 4 + 16 * Raw.FractionOf(raw);

    /// <summary>Why a raw number is no plain measuring information; null when it is.</summary>
    public string? Complaint(double raw)
    {
        if (Accepted.Contains(raw))
            return null;
        var low = Raw.FractionOf(raw) < 0.5;
        if (raw <= FailsAtOrBelow || raw >= FailsAtOrAbove)
            return IsCurrentLoop
                ? $"{Text(MilliampsOf(raw))} mA: {(low ? "3.6 mA or less" : "21.0 mA or more")} is a sensor failure (NAMUR NE 43)"
                : $"{SpanText(raw)} of the signal: sensor failure";
        return IsCurrentLoop
            ? $"{Text(MilliampsOf(raw))} mA is outside 3.8…20.5 mA (NAMUR NE 43)"
            : $"{SpanText(raw)} of the signal {Words}";
    }

    private static string Text(double value) => value.ToString("0.0#", System.Globalization.CultureInfo.InvariantCulture);

    private string SpanText(double raw) =>
        (Raw.FractionOf(raw) * 100).ToString("0.0", System.Globalization.CultureInfo.InvariantCulture) + " %";

    /// <summary>What rounding may take from a bound: a raw number that means 3.6 mA must count as 3.6 mA.</summary>
    private double Hair => Raw.Width * 1e-12;

    private double AtMilliamps(double current) => Raw.At((current - 4) / 16);
}
