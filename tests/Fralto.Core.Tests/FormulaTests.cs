using Fralto.Core.Formulas;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Units;

namespace Fralto.Core.Tests;

/// <summary>What formulas mean: arithmetic with units, and what is refused where.</summary>
public class FormulaTests
{
    private static readonly StateList Phases = new(
        1,
        "KilnPhase",
        "Kiln phase",
        [new(0, "Idle"), new(1, "Withering"), new(2, "Curing"), new(3, "Air rest")]
    );

    /// <summary>Names of one imagined instance with what they hold.</summary>
    private sealed class Names : IFormulaNames
    {
        public Dictionary<string, (FormulaType Type, double Value)> Known { get; } =
            new(StringComparer.Ordinal)
            {
                ["AirOn"] = (In("°C"), 66.2),
                ["AirOff"] = (In("°C"), 37),
                ["Outside"] = (In("°F"), 50),
                ["AirFlow"] = (In("m³/h"), 221_400),
                ["GasFlow"] = (In("m³/h"), 100),
                ["Level"] = (In("m"), 2),
                ["Depth"] = (In("mm"), 500),
                ["Moisture"] = (In("%"), 40),
                ["Mass"] = (In("kg"), 500),
                ["Power"] = (In("kW"), 12),
                ["Speed"] = (In("r/min"), 1450),
                ["Count"] = (FormulaType.Number(Measure.One), 7),
                ["Run"] = (FormulaType.Truth, 1),
                ["Phase"] = (new(FormulaKind.State, Measure.One, Phases), 2),
                ["Maker"] = (FormulaType.Text, double.NaN),
                ["Line-Speed"] = (In("m/s"), 2),
                ["min"] = (In("m"), 3),
                ["MainFan.Speed"] = (In("%"), 80),
                ["above.Ambient"] = (In("°C"), 12),
            };

        public UnitSet Units => UnitCatalogue.Standard;

        public FormulaType? TypeOf(FormulaReference reference) => Known.TryGetValue($"{reference}", out var its) ? its.Type : null;

        public FormulaProblem Unknown(FormulaReference reference, int at, int end) => new(at, end - at, $"unknown {reference}");

        public IFormulaNames? Below(string template) => null;

        public FormulaProblem UnknownTemplate(string template, int at, int end) => new(at, end - at, $"unknown template {template}");

        private static FormulaType In(string unit) => FormulaType.Number(Measure.Of(UnitCatalogue.Standard.Match(unit)!));
    }

    private static readonly Names All = new();

    private static Formula Read(string text) => Formula.Read(text, UnitCatalogue.Standard, c => c == "Line-Speed");

    private static FormulaTarget In(string? unit, PropertyType type = PropertyType.Number) =>
        new(type, unit is null ? null : UnitCatalogue.Standard.Match(unit), null);

    private static FormulaValue Run(string text, FormulaTarget? target, Func<FormulaReference, FormulaValue>? values = null)
    {
        var (program, problems) = FormulaCompiler.Compile(Read(text), All, target);
        problems.ShouldBeEmpty(text);
        return new FormulaMachine().Run(
            program!,
            [.. program!.Operands.Select(r => values?.Invoke(r) ?? FormulaValue.Good(All.Known[$"{r}"].Value))],
            [],
            [],
            default
        );
    }

    [Theory]
    [InlineData("AirOn - AirOff", "K", 29.2)]
    [InlineData("AirOn - AirOff", "Δ°C", 29.2)]
    [InlineData("AirOn - Outside", "K", 56.2)]
    [InlineData("AirOff + 5 K", "°C", 42)]
    [InlineData("Outside + 10 K", "°F", 68)]
    [InlineData("Outside", "°C", 10)]
    [InlineData("mean(AirOn, Outside)", "°C", 38.1)]
    [InlineData("max(AirOff, Outside, 40 °C)", "°C", 40)]
    // 221 400 m³/h at 1.1 kJ/(m³·K) over 29.2 K: 7 111 368 kJ/h.
    [InlineData("AirFlow × 1.1 kJ/(m³·K) × (AirOn − AirOff)", "kW", 7111368d / 3600)]
    [InlineData("GasFlow * 9.77 kWh/m3", "kW", 977)]
    [InlineData("(Level - 0.2 m) / 3 m", "%", 60)]
    [InlineData("Level + Depth", "m", 2.5)]
    [InlineData("Depth + Level", "m", 2.5)]
    [InlineData("Mass * Moisture", "kg", 200)]
    [InlineData("MainFan.Speed / 100 % * 270 000 m³/h", "m³/h", 216_000)]
    [InlineData("Power / 3", "kW", 4)]
    [InlineData("Level ^ 2", "m²", 4)]
    [InlineData("Level²", "m²", 4)]
    [InlineData("sqrt(Level * Level)", "m", 2)]
    [InlineData("2 * Count ^ 2", null, 98)]
    [InlineData("-2 ^ 2", null, -4)]
    [InlineData("2 ^ -1", null, 0.5)]
    [InlineData("2 ^ 3 ^ 2", null, 512)]
    [InlineData("10 - 4 - 3", null, 3)]
    [InlineData("12 / 2 / 3", null, 2)]
    [InlineData("1 + 2 * 3", null, 7)]
    [InlineData("clamp(Level, 0 m, 150 cm)", "m", 1.5)]
    [InlineData("abs(-3) + floor(2.7) + ceil(2.1) + round(2.5)", null, 11)]
    [InlineData("ln(exp(2)) + log10(1000)", null, 5)]
    [InlineData("sin(90 °)", null, 1)]
    [InlineData("atan2(1, 1) * 4", null, Math.PI)]
    [InlineData("if Phase is Curing then Level else 0 m", "m", 2)]
    [InlineData("if(Phase is \"Air rest\", Level, 1 m)", "m", 1)]
    [InlineData("if Phase is Air rest then 1 else 2", null, 2)]
    [InlineData("if (Level) > 1 m then 1 else 2", null, 1)]
    [InlineData("if Run then 1 else 0", null, 1)]
    [InlineData("if Run is not false and Level > 0 then 1 else 0", null, 1)]
    [InlineData("Line-Speed", "m/s", 2)]
    [InlineData("AirOn-AirOff", "K", 29.2)]
    [InlineData("own.min", "m", 3)]
    [InlineData("min", "m", 3)]
    [InlineData("min(min, Level)", "m", 2)]
    [InlineData("AirOn - above.Ambient", "K", 54.2)]
    [InlineData("kelvin(Outside) / kelvin(AirOff)", null, 283.15 / 310.15)]
    [InlineData("1.5e2 + 1E-1", null, 150.1)]
    public void A_formula_gives(string text, string? unit, double wanted)
    {
        var result = Run(text, In(unit));
        result.Status.ShouldBe(StatusCode.Good);
        result.Value.ShouldBe(wanted, Math.Abs(wanted) * 1e-12 + 1e-12, text);
    }

    [Theory]
    [InlineData("Level + Mass", "Level + Mass", "cannot be added")]
    [InlineData("1 + (Level + Mass)", "Level + Mass", "Level is in m, Mass is in kg")]
    [InlineData("AirOn + AirOff", "AirOn + AirOff", "zero of its own")]
    [InlineData("2 * AirOn", "AirOn", "kelvin(AirOn)")]
    [InlineData("Level > 3", "3", "write 3 m")]
    [InlineData("Moisture > 5", "5", "write 5 %")]
    [InlineData("AirOn > 0", "0", "write 0 °C")]
    [InlineData("Level + Nothing", "Nothing", "unknown Nothing")]
    [InlineData("Phase is Cooking", "Cooking", "no state of Kiln phase")]
    [InlineData("Phase > 2", "Phase > 2", "write Phase is Idle")]
    [InlineData("Level and Run", "Level", "true or false is expected")]
    [InlineData("if Level > 1 m then Level else Mass", "if Level > 1 m then Level else Mass", "do not go together")]
    [InlineData("if Run then 1", "1", "else")]
    [InlineData("Maker + 1", "Maker", "is text")]
    [InlineData("sqrt(Level)", "Level", "no square root")]
    [InlineData("exp(Level)", "Level", "pure number")]
    [InlineData("Level ^ Count", "Count", "whole number")]
    [InlineData("Level / 0", "0", "divided by 0")]
    [InlineData("9,77 * Count", "9,77", "point")]
    [InlineData("Level + ", "+", "ends where")]
    [InlineData("(Level + Depth", "(", "closing parenthesis")]
    [InlineData("Level)", ")", "never opened")]
    [InlineData("3 quux", "quux", "names no unit")]
    [InlineData("sqr(4)", "sqr", "no function")]
    [InlineData("mean(Level)", null, null)]
    [InlineData("rate(Level)", "rate(Level)", "needs a window")]
    [InlineData("total(AirOn)", "AirOn", "zero of its own")]
    [InlineData("rate(Level, last 7 min every 2 min)", "rate(Level, last 7 min every 2 min)", "whole number of steps")]
    [InlineData("time(Level)", "Level", "true or false is expected")]
    [InlineData("total(GasFlow, last 1 h, reset when Run)", "total(GasFlow, last 1 h, reset when Run)", "not reset")]
    [InlineData("value(Level)", "value(Level)", "needs when")]
    [InlineData("Level $ 3", "$", "no meaning")]
    [InlineData("\"abc", "\"abc", "closing quote")]
    [InlineData("", "", "empty")]
    public void What_does_not_fit_is_underlined_at_its_place(string text, string? piece, string? words)
    {
        var (program, problems) = FormulaCompiler.Compile(Read(text), All, null);
        if (piece is null)
        {
            program.ShouldNotBeNull();
            return;
        }
        program.ShouldBeNull(text);
        problems[0].Words.ShouldContain(words!);
        if (text.Length > 0)
            text.Substring(problems[0].At, problems[0].Length).ShouldBe(piece);
    }

    [Theory]
    [InlineData("AirOn - AirOff", "°C", "a difference of temperatures")]
    [InlineData("AirOn", "Δ°C", "difference of two")]
    [InlineData("Level * Level", "m", "the property is in m")]
    [InlineData("Level", null, "give the property that unit")]
    [InlineData("3", "m", "without unit")]
    [InlineData("Run", "m", "the property is number")]
    public void A_result_has_to_fit_its_property(string text, string? unit, string words) =>
        FormulaCompiler.Compile(Read(text), All, In(unit)).Problems[0].Words.ShouldContain(words);

    [Fact]
    [Trait("source", "mathjs 15.2.0, by Outside/expressions.mjs")]
    public void Arithmetic_is_that_of_an_evaluator_of_its_own()
    {
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Outside", "expressions.tsv")))
        {
            var parts = line.Split('\t');
            var wanted = double.Parse(parts[1], System.Globalization.CultureInfo.InvariantCulture);
            var result = Run(parts[0], In(null));
            result.Status.ShouldBe(StatusCode.Good, parts[0]);
            result.Value.ShouldBe(wanted, 1e-9 * Math.Max(1, Math.Abs(wanted)), parts[0]);
        }
    }

    [Fact]
    public void Machine_code_gives_what_the_steps_give()
    {
        var texts = File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Outside", "expressions.tsv"))
            .Select(l => l.Split('\t')[0])
            .Take(150)
            .Concat([
                "if Count > 3 then Count else 0",
                "Count / (Count - 7)",
                "1 / (1 / (Count - 7))",
                "if Run and Count < 9 or not Run then 1 else 2",
                "AirOn > 30 °C",
                "clamp(Level, 0 m, 1 m)",
                "Phase is Curing",
                "Count else 3",
            ]);
        var machine = new FormulaMachine();
        foreach (var text in texts)
        {
            var program = FormulaCompiler.Compile(Read(text), All, null).Program!;
            var operands = program.Operands.Select(r => FormulaValue.Good(All.Known[$"{r}"].Value)).ToArray();
            var walked = machine.Walk(program, operands, [], [], default);
            var kernel = FormulaKernel.Of(program)!([.. operands.Select(o => o.Value)]);
            if (walked.Status.IsBad)
                double.IsNaN(kernel).ShouldBeTrue(text);
            else
                kernel.ShouldBe(walked.Value, text);
        }
    }

    [Fact]
    [Trait("source", "GNU units 2.22")]
    public void Products_of_units_are_those_of_another_program()
    {
        foreach (var line in File.ReadLines(Path.Combine(AppContext.BaseDirectory, "Outside", "dimensions.tsv")))
        {
            var parts = line.Split('\t');
            var wanted = double.Parse(parts[2], System.Globalization.CultureInfo.InvariantCulture);
            Run(parts[0], In(parts[1])).Value.ShouldBe(wanted, 1e-9 * Math.Abs(wanted), parts[0]);
        }
    }

    [Fact]
    public void Curly_quotes_and_signs_of_a_text_program_are_read() =>
        Run("if Phase is “Curing” then 4 · 2 ÷ 2 – 1 else 0", In(null)).Value.ShouldBe(3);

    [Fact]
    public void A_long_or_deep_formula_is_refused_and_nothing_breaks()
    {
        Read(new string('1', 10_000)).Problem!.Words.ShouldContain("4000");
        Read(new string('(', 3000) + "1" + new string(')', 3000 - 2001)).Problem.ShouldNotBeNull();
        Read(new string('(', 500) + "1" + new string(')', 500)).Problem!.Words.ShouldContain("nested");
        Read(string.Concat(Enumerable.Repeat("-", 500)) + "1").Problem!.Words.ShouldContain("nested");
        Read("1" + string.Concat(Enumerable.Repeat(" + 1", 900))).Problem.ShouldBeNull();
    }

    [Theory]
    [InlineData("1 / (Count - 7)")]
    [InlineData("sqrt(Count - 8)")]
    [InlineData("exp(1000 * Count)")]
    [InlineData("ln(Count - 7)")]
    public void What_has_no_result_is_Bad(string text) => Run(text, In(null)).Status.ShouldBe(StatusCode.BadOutOfRange);

    [Fact]
    public void A_result_is_as_good_as_the_worst_it_is_worked_out_of()
    {
        FormulaValue Values(FormulaReference r) =>
            $"{r}" switch
            {
                "Level" => new(2, StatusCode.UncertainLastUsableValue),
                "Depth" => new(double.NaN, StatusCode.BadSensorFailure),
                var other => FormulaValue.Good(All.Known[other].Value),
            };
        Run("Level + 1 m", null, Values).Status.ShouldBe(StatusCode.UncertainLastUsableValue);
        Run("Level + Depth", null, Values).Status.ShouldBe(StatusCode.BadSensorFailure);
        Run("Depth else 3 m", null, Values).ShouldBe(FormulaValue.Good(3000));
        Run("good(Depth)", null, Values).ShouldBe(FormulaValue.Good(0));
        // The branch that is not taken says nothing.
        Run("if Run then 1 m else Depth", null, Values).Status.ShouldBe(StatusCode.Good);
        Run("if Depth > 1 mm then 1 m else 2 m", null, Values).Status.ShouldBe(StatusCode.BadSensorFailure);
        // What is certain whatever the other is.
        Run("Depth > 1 mm or Run", null, Values).ShouldBe(FormulaValue.Good(1));
        Run("Depth > 1 mm and not Run", null, Values).ShouldBe(FormulaValue.Good(0));
        Run("Depth > 1 mm and Run", null, Values).Status.ShouldBe(StatusCode.BadSensorFailure);
    }

    [Theory]
    [InlineData("mean of Level last 15 min, 1 h, 8 h and 1 d", "15 min|1 h|8 h|1 d", "mean of Level last 8 h")]
    [InlineData("max(Level, last 15  min,1 h every 1 min) - 2 m", "15 min|1 h", "max(Level, last 1 h every 1 min) - 2 m")]
    [InlineData("mean of Level last 1 h", "", "")]
    [InlineData("mean(Level, last 1 h) - mean(Level, last 1 d, 8 h)", "1 d|8 h", "mean(Level, last 1 h) - mean(Level, last 8 h)")]
    [InlineData("mean(Level, last 1 h, 8 h) - mean(Level, last 1 d, 8 h)", "", "")]
    public void Several_windows_said_at_once_are_as_many_formulas(string text, string lengths, string one)
    {
        var windows = WindowSet.Of(text);
        string.Join('|', windows.Select(w => w.Length)).ShouldBe(lengths);
        if (one.Length > 0)
            windows.ShouldContain(w => w.Formula == one);
        windows.ShouldAllBe(w => Read(w.Formula).Problem == null);
        if (lengths.Length > 0)
            Read(text).Problem!.Words.ShouldContain("one length");
    }
}
