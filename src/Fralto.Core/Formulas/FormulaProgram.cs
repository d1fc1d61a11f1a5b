using System.Collections.Immutable;

namespace Fralto.Core.Formulas;

/// <summary>A formula made ready for running: steps in order, each of what stands before it.</summary>
public sealed class FormulaProgram
{
    internal FormulaProgram(
        FormulaStep[] steps,
        FormulaType[] types,
        (int At, int End)[] places,
        ImmutableArray<FormulaReference> operands,
        ImmutableArray<SetUse> sets,
        ImmutableArray<TimeUse> times,
        int[][] lists,
        string[] names,
        string text,
        FormulaNode root
    ) =>
        (Steps, Types, Places, Operands, Sets, Times, Lists, Names, Text, Root) = (
            steps,
            types,
            places,
            operands,
            sets,
            times,
            lists,
            names,
            text,
            root
        );

    /// <summary>The text it was made from.</summary>
    public string Text { get; }

    /// <summary>The properties it takes, each once.</summary>
    public ImmutableArray<FormulaReference> Operands { get; }

    /// <summary>What the result is.</summary>
    public FormulaType Result => Types[^1];

    /// <summary>True where it keeps something that counts from a beginning.</summary>
    public bool HasCounter => Times.Any(t => t.IsCounter);

    /// <summary>True where it looks at a window of what has been.</summary>
    public bool HasWindow => Times.Any(t => t.Window > 0 || t.Span is not null);

    /// <summary>True where it keeps what has been.</summary>
    public bool HasState => !Times.IsEmpty;

    /// <summary>What each step gives.</summary>
    internal FormulaType[] Types { get; }

    internal FormulaStep[] Steps { get; }

    internal FormulaNode Root { get; }

    /// <summary>The piece of text each step stands for; one that stands for none has no length.</summary>
    internal (int At, int End)[] Places { get; }

    internal ImmutableArray<SetUse> Sets { get; }

    internal ImmutableArray<TimeUse> Times { get; }

    /// <summary>Steps of those that take many.</summary>
    internal int[][] Lists { get; }

    /// <summary>Texts a result may be, by number.</summary>
    internal string[] Names { get; }

    /// <summary>The program as machine code, once it has run often enough for that to pay; null before, and where it cannot be.</summary>
    internal Func<double[], double>? Kernel { get; private set; }

    private const int Often = 200;
    private int _runs;

    /// <summary>Counts a run that would have been quicker as machine code.</summary>
    internal void CountRun()
    {
        if (_runs <= Often && ++_runs == Often)
            Kernel = FormulaKernel.Of(this);
    }
}
