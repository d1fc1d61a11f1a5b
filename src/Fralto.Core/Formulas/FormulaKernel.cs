using System.Linq.Expressions;

namespace Fralto.Core.Formulas;

/// <summary>Turns a program of plain arithmetic into machine code, for the time in which all its operands are Good. Everything else, and
/// whatever has
/// no finite result on the way, is left to the steps.</summary>
internal static class FormulaKernel
{
    /// <summary>From the numbers of the operands to the result; not-a-number where the steps have to say why there is none. Null for a
    /// program
    /// that looks at quality, at sets or at what has been.</summary>
    public static Func<double[], double>? Of(FormulaProgram program)
    {
        if (program.Steps.Any(s => s.Kind is StepKind.Set or StepKind.OverTime or StepKind.WhichMin or StepKind.WhichMax))
            return null;
        var operands = Expression.Parameter(typeof(double[]), "operands");
        var values = program.Steps.Select((_, i) => Expression.Variable(typeof(double), $"s{i}")).ToArray();
        var guard = Expression.Variable(typeof(double), "guard");
        var body = new List<Expression> { Expression.Assign(guard, Expression.Constant(0d)) };
        for (var i = 0; i < program.Steps.Length; i++)
        {
            body.Add(Expression.Assign(values[i], Value(program.Steps[i], operands, values)));
            // What is not finite leaves its trace, also where the end is finite again.
            if (program.Steps[i].Kind is not (StepKind.Operand or StepKind.Constant))
                body.Add(Expression.AddAssign(guard, Expression.Multiply(values[i], Expression.Constant(0d))));
        }
        body.Add(Expression.Condition(Expression.Equal(guard, Expression.Constant(0d)), values[^1], Expression.Constant(double.NaN)));
        return Expression.Lambda<Func<double[], double>>(Expression.Block(values.Append(guard), body), operands).Compile();
    }

    private static Expression Value(FormulaStep step, ParameterExpression operands, ParameterExpression[] values)
    {
        var (a, b) = (step.A < values.Length ? values[step.A] : values[0], values[step.B]);
        Expression Of(string function, params Expression[] arguments) =>
            Expression.Call(typeof(Math).GetMethod(function, [.. arguments.Select(x => x.Type)])!, arguments);
        static Expression Truth(Expression condition) => Expression.Condition(condition, Expression.Constant(1d), Expression.Constant(0d));
        Expression IsTrue(Expression value) => Expression.NotEqual(value, Expression.Constant(0d));
        return step.Kind switch
        {
            StepKind.Constant => Expression.Constant(step.K),
            StepKind.Operand => Expression.ArrayIndex(operands, Expression.Constant(step.A)),
            StepKind.Convert => Expression.Add(Expression.Multiply(a, Expression.Constant(step.K)), Expression.Constant(step.L)),
            StepKind.Negate => Expression.Negate(a),
            StepKind.Add => Expression.Add(a, b),
            StepKind.Subtract => Expression.Subtract(a, b),
            StepKind.Multiply => Expression.Multiply(a, b),
            StepKind.Divide => Expression.Divide(a, b),
            StepKind.Power => Of(nameof(Math.Pow), a, b),
            StepKind.Less => Truth(Expression.LessThan(a, b)),
            StepKind.LessOrEqual => Truth(Expression.LessThanOrEqual(a, b)),
            StepKind.Greater => Truth(Expression.GreaterThan(a, b)),
            StepKind.GreaterOrEqual => Truth(Expression.GreaterThanOrEqual(a, b)),
            StepKind.Equal => Truth(Expression.Equal(a, b)),
            StepKind.NotEqual => Truth(Expression.NotEqual(a, b)),
            StepKind.And => Truth(Expression.AndAlso(IsTrue(a), IsTrue(b))),
            StepKind.Or => Truth(Expression.OrElse(IsTrue(a), IsTrue(b))),
            StepKind.Not => Truth(Expression.Equal(a, Expression.Constant(0d))),
            StepKind.If => Expression.Condition(IsTrue(a), b, values[step.C]),
            // All is Good here.
            StepKind.Else => a,
            StepKind.Good => Expression.Constant(1d),
            StepKind.Abs => Of(nameof(Math.Abs), a),
            StepKind.Min => Of(nameof(Math.Min), a, b),
            StepKind.Max => Of(nameof(Math.Max), a, b),
            StepKind.Round => Of(nameof(Math.Round), a, Expression.Constant(MidpointRounding.AwayFromZero)),
            StepKind.Floor => Of(nameof(Math.Floor), a),
            StepKind.Ceil => Of(nameof(Math.Ceiling), a),
            StepKind.Sqrt => Of(nameof(Math.Sqrt), a),
            StepKind.Exp => Of(nameof(Math.Exp), a),
            StepKind.Ln => Of(nameof(Math.Log), a),
            StepKind.Log10 => Of(nameof(Math.Log10), a),
            StepKind.Sin => Of(nameof(Math.Sin), a),
            StepKind.Cos => Of(nameof(Math.Cos), a),
            StepKind.Tan => Of(nameof(Math.Tan), a),
            StepKind.Atan2 => Of(nameof(Math.Atan2), a, b),
            _ => throw new InvalidOperationException($"{step.Kind} is no plain arithmetic."),
        };
    }
}
