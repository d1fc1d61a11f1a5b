using System.Collections.Immutable;
using Fralto.Core.Engine;
using Fralto.Core.Formulas;
using Fralto.Core.Hierarchy;
using Fralto.Core.Plant;
using Fralto.Core.Properties;
using Fralto.Core.Quality;
using Fralto.Core.Rules;

namespace Fralto.Core.Pictures;

/// <summary>A formula as it is typed: what does not fit, what each piece measures, and what it gives for some instances now.</summary>
/// <param name="Text">The text.</param>
/// <param name="Problems">What does not fit, in the order of the text.</param>
/// <param name="Pieces">The pieces, each after those it is made of.</param>
/// <param name="Instances">What some instances give, the worst quality first.</param>
/// <param name="Result">What it gives, in words; empty while it does not hold.</param>
public sealed record FormulaReport(
    string Text,
    ImmutableArray<FormulaProblem> Problems,
    ImmutableArray<FormulaPiece> Pieces,
    ImmutableArray<FormulaInstance> Instances,
    string Result
)
{
    private const int Looked = 24;
    private const int Shown = 3;

    /// <summary>Reports on a formula.</summary>
    /// <param name="model">The model.</param>
    /// <param name="layer">The template or instance it is typed for.</param>
    /// <param name="property">The property as it would be, with all that its layers say.</param>
    /// <param name="valueOf">What a property of an instance holds now; null when nothing is known.</param>
    /// <param name="running">What each step of the formula that runs gives now; null where none does. Taken where the text is the
    /// same.</param>
    public static FormulaReport Of(
        PlantModel model,
        long layer,
        ResolvedProperty property,
        Func<long, long, PointValue?> valueOf,
        Func<long, FormulaReading?> running
    )
    {
        var text = property.Facts.Formula ?? "";
        var isInstance = model.Equipment.TryGetValue(layer, out var at);
        var names = isInstance ? FormulaNames.Of(model, at!) : FormulaNames.Of(model, layer);
        var (program, problems) = FormulaRules.Compile(model, names, property);
        if (program is null)
            return new(text, problems, [], [], "");
        if (FormulaRules.Cycle(model, names, property) is { } cycle)
            return new(text, [new(0, Math.Max(1, text.Length), cycle)], [], [], "");
        var steps = PiecesOf(program);
        var levels = LevelsOf(program, steps);
        ImmutableArray<FormulaPiece> pieces =
        [
            .. steps.Select(
                (s, i) =>
                    new FormulaPiece(
                        program.Places[s].At,
                        program.Places[s].End,
                        levels[i],
                        program.Text[program.Places[s].At..program.Places[s].End],
                        program.Types[s].Words(model.Units)
                    )
            ),
        ];
        var instances = (isInstance ? [at!] : InstancesOf(model, layer))
            .Select(e => Instance(model, e, property, steps, valueOf, running(e.Id)))
            .OfType<FormulaInstance>()
            .OrderByDescending(i => i.Result.Status.Value >> 30)
            .Take(Shown)
            .ToImmutableArray();
        return new(text, [], pieces, instances, program.Result.Words(model.Units));
    }

    /// <summary>The instances a trial looks at: the first of a template and its descendants, in plant order.</summary>
    public static IEnumerable<Equipment> InstancesOf(PlantModel model, long template) =>
        model.Index.FamilyOf(template).SelectMany(t => model.Index.InstancesOf(t.Id)).Take(Looked);

    private static int[] PiecesOf(FormulaProgram program) =>
        [
            .. Enumerable
                .Range(0, program.Steps.Length)
                .Where(i => program.Places[i].End > program.Places[i].At)
                .GroupBy(i => program.Places[i])
                .Select(g => g.Last())
                .Where(i => program.Steps[i].Kind != StepKind.Constant || program.Steps.Length == 1)
                .Order(),
        ];

    /// <summary>How many pieces lie one in another in each, itself the outermost: 1 for one that holds none.</summary>
    private static int[] LevelsOf(FormulaProgram program, int[] steps)
    {
        var levels = new int[steps.Length];
        // What a piece is made of stands before it.
        for (var i = 0; i < steps.Length; i++)
        {
            var (at, end) = program.Places[steps[i]];
            for (var j = 0; j < i; j++)
                if (program.Places[steps[j]] is var inner && inner.At >= at && inner.End <= end && levels[j] > levels[i])
                    levels[i] = levels[j];
            levels[i]++;
        }
        return levels;
    }

    private static FormulaInstance? Instance(
        PlantModel model,
        Equipment instance,
        ResolvedProperty property,
        int[] shown,
        Func<long, long, PointValue?> valueOf,
        FormulaReading? running
    )
    {
        var names = FormulaNames.Of(model, instance);
        var (program, problems) = FormulaRules.Compile(model, names, property);
        if (program is null)
            return new(instance.Id, instance.Name, [], [], new(double.NaN, StatusCode.BadConfigurationError), problems[0].Words);
        if (running is not null && running.Program.Text == program.Text && running.Steps.Count == program.Steps.Length)
            return new(
                instance.Id,
                instance.Name,
                [.. shown.Select(s => running.Steps[s])],
                [.. shown.Select(s => running.Reasons[s])],
                running.Steps[^1],
                running.Reasons[^1]
            );
        var operands = new FormulaValue[program.Operands.Length];
        for (var i = 0; i < operands.Length; i++)
            operands[i] = ValueOf(names, program.Operands[i], valueOf, out _);
        var sets = program.Sets.Select(s => SetOf(model, instance, s, valueOf)).ToArray();
        var states = program.Times.Select(OverTimeState.For).ToArray();
        var machine = new FormulaMachine();
        var result = machine.Walk(program, operands, sets, states, new OverTimeMoment(1, 1, model.Calendar));
        var steps = machine.Steps[..program.Steps.Length].ToArray();
        string? Why(FormulaValue value)
        {
            if (value.Status.IsGood || value.Why < 0)
                return null;
            var step = program.Steps[value.Why];
            if (step.Kind == StepKind.OverTime)
                return "begins when it is saved";
            if (step.Kind != StepKind.Operand)
                return step.Kind == StepKind.Set ? "not all below are Good" : "has no result";
            _ = ValueOf(names, program.Operands[step.A], valueOf, out var reason);
            return $"{program.Operands[step.A]}: {reason}";
        }
        return new(
            instance.Id,
            instance.Name,
            [.. shown.Select(s => steps[s])],
            [.. shown.Select(s => Why(steps[s]))],
            result,
            Why(result)
        );
    }

    private static FormulaValue ValueOf(
        FormulaNames names,
        FormulaReference reference,
        Func<long, long, PointValue?> valueOf,
        out string? reason
    )
    {
        if (names.Find(reference) is not { At: { } at } found || valueOf(at.Id, found.Property.Id) is not { } value)
        {
            reason = "has no value here: it is not bound, or not there";
            return new(double.NaN, StatusCode.BadNoData);
        }
        reason = value.Reason;
        return new(value.Value, double.IsNaN(value.Value) && !value.Status.IsBad ? StatusCode.BadNoData : value.Status);
    }

    private static FormulaValue SetOf(PlantModel model, Equipment place, SetUse use, Func<long, long, PointValue?> valueOf)
    {
        var members = SetMembers.Of(model, place, use);
        var tree = new SetTree(use, members.Length);
        var machine = new FormulaMachine();
        for (var i = 0; i < members.Length && use.Inner is not null; i++)
        {
            var names = FormulaNames.Of(model, members[i]);
            if (FormulaCompiler.CompileInner(use.Inner, names).Program is not { } program)
                continue;
            var value = machine.Run(program, [.. program.Operands.Select(r => ValueOf(names, r, valueOf, out _))], [], [], default);
            tree.Update(i, value.Value, value.Status);
        }
        return tree.Result;
    }
}
