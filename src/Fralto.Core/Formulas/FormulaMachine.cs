using Fralto.Core.Quality;

namespace Fralto.Core.Formulas;

/// <summary>Runs programs. Single-threaded; nothing is allocated while it runs.</summary>
public sealed class FormulaMachine
{
    private FormulaValue[] _steps = new FormulaValue[64];
    private double[] _numbers = new double[8];

    /// <summary>What each step of the program that ran last gave.</summary>
    internal ReadOnlySpan<FormulaValue> Steps => _steps;

    /// <summary>Runs a program.</summary>
    /// <param name="program">The program.</param>
    /// <param name="operands">What its operands hold, in their order.</param>
    /// <param name="sets">What its sets hold, in their order.</param>
    /// <param name="times">What it keeps of what has been, in their order.</param>
    /// <param name="now">When, for what it keeps.</param>
    internal FormulaValue Run(
        FormulaProgram program,
        ReadOnlySpan<FormulaValue> operands,
        ReadOnlySpan<FormulaValue> sets,
        ReadOnlySpan<OverTimeState> times,
        in OverTimeMoment now
    )
    {
        if (
            program.Kernel is { } kernel
            && AreGood(operands, program.Operands.Length)
            && kernel(_numbers) is var quick
            && !double.IsNaN(quick)
        )
            return new(quick, StatusCode.Good);
        program.CountRun();
        return Walk(program, operands, sets, times, in now);
    }

    /// <summary>Runs a program step by step, so that what each gives can be looked at in <see cref="Steps"/>.</summary>
    internal FormulaValue Walk(
        FormulaProgram program,
        ReadOnlySpan<FormulaValue> operands,
        ReadOnlySpan<FormulaValue> sets,
        ReadOnlySpan<OverTimeState> times,
        in OverTimeMoment now
    )
    {
        var steps = program.Steps;
        if (_steps.Length < steps.Length)
            _steps = new FormulaValue[steps.Length * 2];
        var at = _steps;
        for (var i = 0; i < steps.Length; i++)
        {
            ref readonly var step = ref steps[i];
            at[i] = step.Kind switch
            {
                StepKind.Constant => FormulaValue.Good(step.K),
                StepKind.Operand => Sourced(operands[step.A], i),
                StepKind.Set => Sourced(sets[step.A], i),
                StepKind.OverTime => Kept(program.Times[step.A], times[step.A], i, in now),
                StepKind.And => And(at[step.A], at[step.B]),
                StepKind.Or => Or(at[step.A], at[step.B]),
                StepKind.Good => FormulaValue.Good(at[step.A].Status.IsBad ? 0 : 1),
                StepKind.Else => at[step.A].Status.IsBad ? at[step.B] : at[step.A],
                StepKind.If => at[step.A].Status.IsBad ? at[step.A]
                : at[step.A].Value != 0 ? Worst(at[step.B].Value, at[step.A], at[step.B])
                : Worst(at[step.C].Value, at[step.A], at[step.C]),
                StepKind.WhichMin or StepKind.WhichMax => Which(program.Lists[step.A], step.Kind == StepKind.WhichMax),
                _ => Plain(in step, i),
            };
        }
        return at[steps.Length - 1];
    }

    private bool AreGood(ReadOnlySpan<FormulaValue> operands, int count)
    {
        if (_numbers.Length < count)
            _numbers = new double[count * 2];
        var status = 0u;
        for (var i = 0; i < count; i++)
        {
            ref readonly var operand = ref operands[i];
            status |= operand.Status.Value;
            _numbers[i] = operand.Value;
        }
        // Good codes have neither of the two highest bits.
        return status >> 30 == 0;
    }

    /// <summary>Where a reason lies: the step that brought it in.</summary>
    private static FormulaValue Sourced(FormulaValue value, int step) => value.Status.IsGood ? value : value with { Why = step };

    private FormulaValue Plain(in FormulaStep step, int i)
    {
        ref readonly var a = ref _steps[step.A];
        ref readonly var b = ref _steps[IsBinary(step.Kind) ? step.B : step.A];
        if (a.Status.IsBad)
            return a;
        if (b.Status.IsBad)
            return b;
        var (x, y) = (a.Value, b.Value);
        var value = step.Kind switch
        {
            StepKind.Convert => x * step.K + step.L,
            StepKind.Negate => -x,
            StepKind.Add => x + y,
            StepKind.Subtract => x - y,
            StepKind.Multiply => x * y,
            StepKind.Divide => x / y,
            StepKind.Power => Math.Pow(x, y),
            StepKind.Less => x < y ? 1 : 0,
            StepKind.LessOrEqual => x <= y ? 1 : 0,
            StepKind.Greater => x > y ? 1 : 0,
            StepKind.GreaterOrEqual => x >= y ? 1 : 0,
            StepKind.Equal => x == y ? 1 : 0,
            StepKind.NotEqual => x != y ? 1 : 0,
            StepKind.Not => x == 0 ? 1 : 0,
            StepKind.Abs => Math.Abs(x),
            StepKind.Min => Math.Min(x, y),
            StepKind.Max => Math.Max(x, y),
            StepKind.Round => Math.Round(x, MidpointRounding.AwayFromZero),
            StepKind.Floor => Math.Floor(x),
            StepKind.Ceil => Math.Ceiling(x),
            StepKind.Sqrt => Math.Sqrt(x),
            StepKind.Exp => Math.Exp(x),
            StepKind.Ln => Math.Log(x),
            StepKind.Log10 => Math.Log10(x),
            StepKind.Sin => Math.Sin(x),
            StepKind.Cos => Math.Cos(x),
            StepKind.Tan => Math.Tan(x),
            StepKind.Atan2 => Math.Atan2(x, y),
            _ => double.NaN,
        };
        return double.IsFinite(value) ? Worst(value, in a, in b) : new(double.NaN, StatusCode.BadOutOfRange, i);
    }

    private static bool IsBinary(StepKind kind) =>
        kind
            is StepKind.Add
                or StepKind.Subtract
                or StepKind.Multiply
                or StepKind.Divide
                or StepKind.Power
                or StepKind.Less
                or StepKind.LessOrEqual
                or StepKind.Greater
                or StepKind.GreaterOrEqual
                or StepKind.Equal
                or StepKind.NotEqual
                or StepKind.Min
                or StepKind.Max
                or StepKind.Atan2;

    /// <summary>A value as good as the worse of two; the first where they are alike.</summary>
    private static FormulaValue Worst(double value, in FormulaValue a, in FormulaValue b) =>
        b.Status.Value >> 30 > a.Status.Value >> 30 ? new(value, b.Status, b.Why)
        : a.Status.IsGood ? new(value, StatusCode.Good)
        : new(value, a.Status, a.Why);

    // What is certainly false stays so, whatever the other is; and the other way round.
    private static FormulaValue And(in FormulaValue a, in FormulaValue b) =>
        IsSure(in a, 0) ? a
        : IsSure(in b, 0) ? b
        : a.Status.IsBad ? a
        : b.Status.IsBad ? b
        : Worst(a.Value != 0 && b.Value != 0 ? 1 : 0, in a, in b);

    private static FormulaValue Or(in FormulaValue a, in FormulaValue b) =>
        !a.Status.IsBad && a.Value != 0 && a.Status.IsGood ? a
        : !b.Status.IsBad && b.Value != 0 && b.Status.IsGood ? b
        : a.Status.IsBad ? a
        : b.Status.IsBad ? b
        : Worst(a.Value != 0 || b.Value != 0 ? 1 : 0, in a, in b);

    private static bool IsSure(in FormulaValue value, double what) => value.Status.IsGood && value.Value == what;

    private FormulaValue Which(int[] list, bool greatest)
    {
        var best = -1;
        for (var i = 0; i < list.Length - 1; i++)
        {
            ref readonly var one = ref _steps[list[i]];
            if (one.Status.IsBad)
                continue;
            if (best < 0 || (greatest ? one.Value > _steps[list[best]].Value : one.Value < _steps[list[best]].Value))
                best = i;
        }
        if (best < 0)
            return _steps[list[0]];
        var result = new FormulaValue(list[^1] + best, StatusCode.Good);
        // One that is not known could have been it.
        for (var i = 0; i < list.Length - 1; i++)
            if (_steps[list[i]] is { Status.IsGood: false } other)
                return result with { Status = StatusCode.UncertainLastUsableValue, Why = other.Why };
        return result;
    }

    private FormulaValue Kept(TimeUse use, OverTimeState state, int step, in OverTimeMoment now)
    {
        var input = _steps[use.Input];
        state.Take(
            in input,
            use.ResetWhen < 0 ? default(FormulaValue?) : _steps[use.ResetWhen],
            use.When < 0 ? default(FormulaValue?) : _steps[use.When],
            use.From < 0 ? 0 : _steps[use.From].Value,
            in now
        );
        var (value, status) = state.Result;
        if (status.IsGood)
            return FormulaValue.Good(value);
        // What the input lacks is said of the input; what the window lacks, of itself.
        return new(value, status, input.Status.IsBad && input.Why >= 0 && use.Window == 0 && use.Span is null ? input.Why : step);
    }
}
