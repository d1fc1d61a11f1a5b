using System.Collections.Immutable;

namespace Fralto.Core.Formulas;

/// <summary>What a formula takes of everything below.</summary>
/// <param name="Kind">What is worked out.</param>
/// <param name="Template">Code or name of the template.</param>
/// <param name="Labels">Labels the instances have.</param>
/// <param name="Inner">What is taken of each; null counts them.</param>
/// <param name="IsWhich">True where the name of the instance is wanted.</param>
internal sealed record SetUse(
    SetKind Kind,
    string Template,
    ImmutableArray<(string Key, string Value)> Labels,
    FormulaProgram? Inner,
    bool IsWhich
);
