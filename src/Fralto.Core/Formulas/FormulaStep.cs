namespace Fralto.Core.Formulas;

/// <summary>What a step does with the results of steps before it.</summary>
internal enum StepKind : byte
{
    Constant,
    Operand,
    Set,
    OverTime,
    Convert,
    Negate,
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    Equal,
    NotEqual,
    And,
    Or,
    Not,
    If,
    Else,
    Good,
    Abs,
    Min,
    Max,
    Round,
    Floor,
    Ceil,
    Sqrt,
    Exp,
    Ln,
    Log10,
    Sin,
    Cos,
    Tan,
    Atan2,
    WhichMin,
    WhichMax,
}

/// <summary>One step of a program.</summary>
/// <param name="Kind">What it does.</param>
/// <param name="A">The step, operand, set or list it takes.</param>
/// <param name="B">The second step.</param>
/// <param name="C">The third step.</param>
/// <param name="K">A constant, or the factor of a conversion.</param>
/// <param name="L">What a conversion adds.</param>
internal readonly record struct FormulaStep(StepKind Kind, int A = 0, int B = 0, int C = 0, double K = 0, double L = 0);
