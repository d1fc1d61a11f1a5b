using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using Fralto.Core.Controllers;
using Fralto.Core.Edits;
using Fralto.Core.Engine;
using Fralto.Core.Formulas;
using Fralto.Core.Planning;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Scaling;
using Fralto.Core.Units;

namespace Fralto.Bench;

/// <summary>What formulas cost: against a loop written by hand over the same numbers, in the engine, in sets and in windows.</summary>
internal static class FormulaBench
{
    private const int Operands = 5;
    private const int Rounds = 15;
    private const int WarmUps = 40;
    private const string Text = "(A + B) * C - D / (E + 2)";

    public static void Run()
    {
        foreach (var count in new[] { 1_000, 10_000, 100_000 })
            Evaluate(count);
        foreach (var members in new[] { 100, 10_000, 100_000 })
            Set(members);
        Windows();
        Compile();
    }

    /// <summary>A formula of every instance is changed, with 100,000 pieces of equipment: how long until the plan is there, against that
    /// of the same plant without formulas.</summary>
    private static void Compile()
    {
        var model = HugePlant.Make();
        var roots = model.Templates.Values.Where(t => t.ParentId is null).Select(t => t.Id).ToArray();
        PlantModel With(string formula)
        {
            var facts = new PropertyPatch { Unit = "CEL", Formula = formula };
            var outcome = new Several([
                .. roots.Select(t => new SaveProperty(
                    t,
                    null,
                    "Worked",
                    "Worked out",
                    PropertyKind.Calculated,
                    PropertyType.Number,
                    facts
                )),
            ]).On(model);
            return outcome.IsRefused ? throw new InvalidOperationException(outcome.Problems[0].Message) : model.Apply(outcome.Changes);
        }
        static double Compiled(PlantModel model)
        {
            var watch = Stopwatch.GetTimestamp();
            _ = Planner.Compile(model);
            return Stopwatch.GetElapsedTime(watch).TotalMilliseconds;
        }
        _ = Compiled(model);
        var plain = Math.Min(Compiled(model), Compiled(model));
        _ = Compiled(With("P0 + (P1 - P2)"));
        var instances = model.Equipment.Values.Count(e => e.TemplateId is not null);
        Figure(
            $"compile_after_change_for_{instances}_of_{model.Equipment.Count}",
            Compiled(With("P0 - (P1 - P2)")) / plain,
            "x",
            "3 round trips"
        );
    }

    private static void Figure(string name, double value, string unit, string aim) =>
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"figure: {name} = {value:0.##} {unit} (aim {aim})"));

    private static double Best(Action act)
    {
        // Until the code is as good as it gets.
        for (var i = 0; i < WarmUps; i++)
            act();
        Thread.Sleep(300);
        act();
        var best = double.MaxValue;
        for (var i = 0; i < Rounds; i++)
        {
            var watch = Stopwatch.GetTimestamp();
            act();
            best = Math.Min(best, Stopwatch.GetElapsedTime(watch).TotalNanoseconds);
        }
        return best;
    }

    private static FormulaProgram Program(string text) =>
        FormulaCompiler.Compile(Formula.Read(text, UnitCatalogue.Standard, _ => false), new AnyNames(), null).Program!;

    private static void Evaluate(int count)
    {
        var random = new Random(1);
        var values = Enumerable.Range(0, count * Operands).Select(_ => random.NextDouble() + 1).ToArray();
        var points = values.Select(FormulaValue.Good).ToArray();
        var order = Enumerable.Range(0, count * Operands).ToArray();
        random.Shuffle(order);
        var results = new double[count];
        var byHand = Best(() =>
        {
            for (var i = 0; i < count; i++)
            {
                var at = i * Operands;
                results[i] =
                    (values[order[at]] + values[order[at + 1]]) * values[order[at + 2]]
                    - values[order[at + 3]] / (values[order[at + 4]] + 2);
            }
        });
        var (program, machine) = (Program(Text), new FormulaMachine());
        var operands = new FormulaValue[Operands];
        var status = new FormulaValue[count];
        void All()
        {
            for (var i = 0; i < count; i++)
            {
                var at = i * Operands;
                for (var o = 0; o < Operands; o++)
                    operands[o] = points[order[at + o]];
                status[i] = machine.Run(program, operands, [], [], default);
            }
        }
        All();
        var before = GC.GetAllocatedBytesForCurrentThread();
        All();
        var allocated = GC.GetAllocatedBytesForCurrentThread() - before;
        var run = Best(All);
        Figure($"formulas_{count}_to_loop_by_hand", run / byHand, "x", "3");
        Figure($"formulas_{count}_each", run / count, "ns", "-");
        Figure($"formulas_{count}_allocated", allocated, "bytes", "0");
        for (var i = 0; i < count; i += 97)
            if (Math.Abs(status[i].Value - results[i]) > 1e-9)
                throw new InvalidOperationException("The two do not agree.");
    }

    /// <summary>One member of a set that moves, through the engine.</summary>
    private static void Set(int members)
    {
        var use = new SetUse(SetKind.Sum, "Tank", [], Program("A"), false);
        var points = ImmutableArray.CreateBuilder<PlanPoint>(members + 1);
        var setups = ImmutableArray.CreateBuilder<PointSetup>(members + 1);
        var tags = ImmutableArray.CreateBuilder<PlanTag>(members + 1);
        var chain = new Chain(null, null, UnitConversion.None, null);
        var formulas = ImmutableArray.CreateBuilder<PlanFormula>(members + 1);
        for (var i = 0; i <= members; i++)
        {
            var isSum = i == members;
            points.Add(
                new(i + 1, 1, "p", i, null, null, 2, null, [], PropertyType.Number, chain, isSum ? PointSource.Formula : PointSource.Tag)
            );
            setups.Add(new(chain, []));
            tags.Add(new(isSum ? PlanTag.NoTag : i + 1, 0, 0, TimeSpan.MaxValue));
            if (!isSum)
                formulas.Add(new(use.Inner, -1, 0, i, [i], [], 1));
        }
        formulas.Add(new(SumOf(use), members, -1, 0, [], [0], 2));
        var plan = new Plan(
            points.MoveToImmutable(),
            setups.MoveToImmutable(),
            tags.MoveToImmutable(),
            formulas.MoveToImmutable(),
            [new PlanSet(use, members, [.. Enumerable.Repeat("t", members)])],
            [],
            PlantCalendar.Utc
        );
        var engine = new PlantEngine(plan);
        var now = 1L << 40;
        engine.Step([.. Enumerable.Range(1, members).Select(id => new Sample(id, id % 7, StatusCode.Good, now))], new(now, now));
        var random = new Random(2);
        var samples = Enumerable.Range(0, 20_000).Select(i => new Sample(random.Next(members) + 1, i, StatusCode.Good, now)).ToArray();
        var one = new Sample[1];
        var taken = Best(() =>
        {
            foreach (var sample in samples)
            {
                one[0] = sample with { Raw = sample.Raw + random.NextDouble() };
                engine.Step(one, new(++now, now));
            }
            engine.Output.ClearChanges();
        });
        Figure($"set_of_{members}_one_member_moves", taken / samples.Length, "ns", "O(log n)");
    }

    private static FormulaProgram SumOf(SetUse use) =>
        new([new(StepKind.Set, 0)], [FormulaType.Number(Measure.One)], [(0, 1)], [], [use], [], [], [], "sum", new TruthNode(0, 1, true));

    private static void Windows()
    {
        const int Count = 200_000;
        var use = new TimeUse(
            OverTimeKind.Mean,
            0,
            -1,
            -1,
            -1,
            TimeSpan.TicksPerHour,
            TimeSpan.TicksPerMinute,
            null,
            null,
            null,
            1,
            false,
            ""
        );
        var before = GC.GetTotalMemory(true);
        var states = Enumerable.Range(0, Count).Select(_ => OverTimeState.For(use)).ToArray();
        var memory = GC.GetTotalMemory(true) - before;
        Figure("windows_of_60_steps_memory_for_a_million", memory * (1e6 / Count) / 1e9, "GB", "1");
        var value = FormulaValue.Good(1);
        var now = TimeSpan.TicksPerDay * 1000;
        foreach (var state in states)
            state.Take(in value, null, null, 0, new(now, now, PlantCalendar.Utc));
        var moved = Best(() =>
        {
            now += TimeSpan.TicksPerSecond;
            value = FormulaValue.Good(value.Value + 1);
            foreach (var state in states)
                state.Take(in value, null, null, 0, new(now, now, PlantCalendar.Utc));
        });
        Figure("window_a_sample", moved / Count, "ns", "-");
        GC.KeepAlive(states);
    }

    /// <summary>Knows every name: a number without unit.</summary>
    private sealed class AnyNames : IFormulaNames
    {
        public UnitSet Units => UnitCatalogue.Standard;

        public FormulaType? TypeOf(FormulaReference reference) => FormulaType.Number(Measure.One);

        public FormulaProblem Unknown(FormulaReference reference, int at, int end) => new(at, 1, "unknown");

        public IFormulaNames? Below(string template) => null;

        public FormulaProblem UnknownTemplate(string template, int at, int end) => new(at, 1, "unknown");
    }
}
