using Fralto.Core.Formulas;

namespace Fralto.Core.Planning;

/// <summary>One formula of a plan: a program with the points it takes.</summary>
/// <param name="Program">What is done; shared by all that do the same. Null where the formula does not hold at this place.</param>
/// <param name="Point">The point it feeds; -1 where it feeds a set.</param>
/// <param name="Set">The set it feeds; -1 where it feeds a point.</param>
/// <param name="Member">Which member of the set it is.</param>
/// <param name="Operands">The points it takes, in the order of the program; -1 for one that has no value.</param>
/// <param name="Sets">The sets it takes, in the order of the program.</param>
/// <param name="Rank">It is worked out after all of lower rank.</param>
/// <param name="Broken">Why it does not hold; null where it does.</param>
public sealed record PlanFormula(
    FormulaProgram? Program,
    int Point,
    int Set,
    int Member,
    int[] Operands,
    int[] Sets,
    int Rank,
    string? Broken = null
)
{
    /// <summary>The point of the command that follows it; -1 for none.</summary>
    public int Follower { get; init; } = -1;

    /// <summary>Where its value is kept among the tags, where it feeds no point; -1 else.</summary>
    public int Place { get; init; } = -1;

    /// <summary>True where each value on the way counts, and not only the last of a batch: it, or what takes it, keeps what has
    /// been.</summary>
    public bool IsEager { get; init; }
}
