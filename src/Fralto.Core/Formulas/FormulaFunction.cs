namespace Fralto.Core.Formulas;

/// <summary>A function formulas know.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Example">How it is written.</param>
/// <param name="Words">What it gives, one line.</param>
/// <param name="Least">Fewest arguments as a function of what is now; -1 where it is none.</param>
/// <param name="Most">Most arguments as a function of what is now.</param>
/// <param name="OverTime">What it does with what has been; null where it knows only now.</param>
/// <param name="NeedsWindow">True where it needs <c>last</c> to be one of what has been.</param>
/// <param name="Set">What it does with all that stands below; null for nothing.</param>
public sealed record FormulaFunction(
    string Name,
    string Example,
    string Words,
    int Least = -1,
    int Most = -1,
    OverTimeKind? OverTime = null,
    bool NeedsWindow = false,
    SetKind? Set = null
)
{
    /// <summary>Most arguments of those that take any number.</summary>
    public const int Many = 64;

    /// <summary>Words a formula is made of beside functions and properties.</summary>
    public static IReadOnlyList<(string Word, string Meaning)> Keywords { get; } =
    [
        ("if", "if Run is Running then Speed else 0 %"),
        ("else", "AirOn else 20 °C: the second where the first is Bad or missing"),
        ("above", "above.WaterTemperature: of the place above"),
        ("nearest", "nearest.Ambient: of the nearest place up the hierarchy that has it"),
        ("below", "max(below Silo: Level): of everything below of a template"),
        ("own", "own.Code: a property whose code is also a word of formulas"),
        ("which", "which max(below Silo: Level): the name of the one it is"),
        ("last", "mean(Level, last 1 h every 1 min): a window; last day, last shift: of the calendar"),
        ("each", "total(Flow, each day): begins anew with each hour, day or shift"),
        ("reset", "total(Flow, reset when Phase is Filling), reset at 06:00"),
        ("from", "total(Flow, from 2 m³/h): below this nothing counts"),
        ("sloped", "total(Flow, sloped): straight lines between values in place of steps"),
        ("and", "both"),
        ("or", "one of them"),
        ("not", "the opposite"),
        ("is", "Phase is Curing; Phase is not Idle"),
    ];

    /// <summary>All of them.</summary>
    public static IReadOnlyList<FormulaFunction> All { get; } =
    [
        new("abs", "abs(A)", "the number without its sign", 1, 1),
        new(
            "min",
            "min(A, B)",
            "the least of them, of a window (last 1 h) or of all below",
            1,
            Many,
            OverTimeKind.Minimum,
            true,
            SetKind.Minimum
        ),
        new(
            "max",
            "max(A, B)",
            "the greatest of them, of a window (last 1 h) or of all below",
            1,
            Many,
            OverTimeKind.Maximum,
            true,
            SetKind.Maximum
        ),
        new(
            "mean",
            "mean(A, last 1 h)",
            "the mean of them, weighted by time over a window, or of all below",
            1,
            Many,
            OverTimeKind.Mean,
            true,
            SetKind.Mean
        ),
        new("sum", "sum(below Silo: Mass)", "the sum of all below, or of some", 1, Many, Set: SetKind.Sum),
        new("count", "count(below Fan: Run is Running)", "how many below there are, or for how many it is true", Set: SetKind.Count),
        new("clamp", "clamp(A, 0 %, 100 %)", "the number, not below the second and not above the third", 3, 3),
        new("round", "round(A)", "the nearest whole number; half goes away from 0", 1, 1),
        new("floor", "floor(A)", "the whole number below", 1, 1),
        new("ceil", "ceil(A)", "the whole number above", 1, 1),
        new("sqrt", "sqrt(A)", "the square root; its unit is the root of the unit", 1, 1),
        new("exp", "exp(A)", "e to the power of a pure number", 1, 1),
        new("ln", "ln(A)", "natural logarithm of a pure number", 1, 1),
        new("log10", "log10(A)", "decimal logarithm of a pure number", 1, 1),
        new("sin", "sin(A)", "sine of an angle; a pure number is in radians", 1, 1),
        new("cos", "cos(A)", "cosine of an angle; a pure number is in radians", 1, 1),
        new("tan", "tan(A)", "tangent of an angle; a pure number is in radians", 1, 1),
        new("atan2", "atan2(Y, X)", "the angle in radians whose tangent is Y / X, by quadrant", 2, 2),
        new("good", "good(A)", "true while the value is not Bad", 1, 1),
        new("kelvin", "kelvin(A)", "a temperature from absolute zero, so that it can be multiplied", 1, 1),
        new("rate", "rate(A, last 5 min)", "how fast it has changed over a window", OverTime: OverTimeKind.Rate, NeedsWindow: true),
        new("total", "total(Flow)", "what a rate adds up to: m³/h becomes m³, kW becomes kW·h", OverTime: OverTimeKind.Total),
        new(
            "starts",
            "starts(Run is Running, each day)",
            "how often it has turned true, or from 0 to something",
            OverTime: OverTimeKind.Starts
        ),
        new("time", "time(Run is Running)", "how long it has been true", OverTime: OverTimeKind.Time),
        new("held", "held(Phase)", "how long it has been as it is", OverTime: OverTimeKind.Held),
        new("value", "value(Mass, when Phase is Curing)", "what it was when something turned true", OverTime: OverTimeKind.Value),
        new("filter", "filter(A, by 30 s)", "first-order filter with a time constant", OverTime: OverTimeKind.Filter),
        new(
            "range",
            "range(A, last 1 h)",
            "how far the greatest and the least of a window lie apart",
            OverTime: OverTimeKind.Range,
            NeedsWindow: true
        ),
        new(
            "deviation",
            "deviation(A, last 1 h)",
            "standard deviation over a window, weighted by time",
            OverTime: OverTimeKind.Deviation,
            NeedsWindow: true
        ),
        new("first", "first(A, last 1 h)", "what it was when the window began", OverTime: OverTimeKind.First, NeedsWindow: true),
    ];

    private static readonly Dictionary<string, FormulaFunction> ByName = All.ToDictionary(f => f.Name, StringComparer.OrdinalIgnoreCase);

    /// <summary>The function of a name; null for none.</summary>
    public static FormulaFunction? Find(string name) => ByName.GetValueOrDefault(name);
}
