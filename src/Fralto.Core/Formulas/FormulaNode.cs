using System.Collections.Immutable;

namespace Fralto.Core.Formulas;

/// <summary>A piece of a formula as it is written.</summary>
/// <param name="At">Its first character.</param>
/// <param name="End">The character behind its last.</param>
internal abstract record FormulaNode(int At, int End)
{
    /// <summary>The pieces it is made of.</summary>
    public virtual IEnumerable<FormulaNode> Pieces => [];

    /// <summary>This piece and all pieces in it.</summary>
    public IEnumerable<FormulaNode> All => Pieces.SelectMany(p => p.All).Prepend(this);
}

internal sealed record NumberNode(int At, int End, double Value, Measure? Unit) : FormulaNode(At, End);

internal sealed record TruthNode(int At, int End, bool Value) : FormulaNode(At, End);

internal sealed record ReferenceNode(int At, int End, FormulaReference Reference) : FormulaNode(At, End);

internal sealed record SignNode(int At, int End, string Sign, FormulaNode Left, FormulaNode? Right) : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces => Right is null ? [Left] : [Left, Right];
}

/// <summary>A choice: both branches are of one kind.</summary>
internal sealed record IfNode(int At, int End, FormulaNode If, FormulaNode Then, FormulaNode Else) : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces => [If, Then, Else];
}

/// <summary>A state, true or false that something is or is not.</summary>
internal sealed record IsNode(int At, int End, FormulaNode Left, string State, int StateAt, int StateEnd, bool IsNot) : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces => [Left];
}

/// <summary>A function of what stands in it now.</summary>
internal sealed record CallNode(int At, int End, FormulaFunction Function, ImmutableArray<FormulaNode> Arguments, bool IsWhich)
    : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces => Arguments;
}

/// <summary>A function of all that stands below a place.</summary>
internal sealed record SetNode(
    int At,
    int End,
    FormulaFunction Function,
    string Template,
    int TemplateAt,
    int TemplateEnd,
    ImmutableArray<(string Key, string Value)> Labels,
    FormulaNode? Inner,
    bool IsWhich
) : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces => Inner is null ? [] : [Inner];
}

/// <summary>A function of what has been.</summary>
internal sealed record OverTimeNode(int At, int End, FormulaFunction Function, FormulaNode Operand, TimeClauses Clauses)
    : FormulaNode(At, End)
{
    public override IEnumerable<FormulaNode> Pieces =>
        new[] { Operand, Clauses.ResetWhen, Clauses.When, Clauses.From }.OfType<FormulaNode>();
}
