using Fralto.Core.Units;

namespace Fralto.Core.Formulas;

/// <summary>A formula as it is written: its tree, or why it has none.</summary>
public sealed class Formula
{
    /// <summary>The longest text of a formula.</summary>
    public const int Longest = 4000;

    private Formula(string text, FormulaNode? root, FormulaProblem? problem) => (Text, Root, Problem) = (text, root, problem);

    /// <summary>The text.</summary>
    public string Text { get; }

    /// <summary>Why it cannot be read; null when it can.</summary>
    public FormulaProblem? Problem { get; }

    internal FormulaNode? Root { get; }

    /// <summary>The properties it names, each piece of text that names one, in order.</summary>
    public IEnumerable<(FormulaReference Reference, int At, int End)> References =>
        Root is null ? [] : Root.All.OfType<ReferenceNode>().Select(r => (r.Reference, r.At, r.End)).OrderBy(r => r.At);

    /// <summary>The template of the set a piece of the text stands in; null outside of sets.</summary>
    /// <param name="at">A character of the piece.</param>
    public string? TemplateAt(int at) =>
        !Text.Contains(':', StringComparison.Ordinal)
            ? null
            : Root?.All.OfType<SetNode>().LastOrDefault(s => s.Inner is { } inner && inner.At <= at && at < inner.End)?.Template;

    /// <summary>Reads a formula.</summary>
    /// <param name="text">Its text.</param>
    /// <param name="units">The units numbers may carry.</param>
    /// <param name="isCode">Tells whether a text with a hyphen is the code of something.</param>
    public static Formula Read(string text, UnitSet units, Func<string, bool> isCode)
    {
        if (text.Length > Longest)
            return new(text, null, new(Longest, text.Length - Longest, $"A formula has at most {Longest} characters."));
        if (string.IsNullOrWhiteSpace(text))
            return new(text, null, new(0, 1, "The formula is empty: write for example AirOn - AirOff."));
        var (tokens, problem) = new FormulaLexer(text, units, isCode).Read();
        if (problem is not null)
            return new(text, null, problem);
        var (root, wrong) = new FormulaParser(text, tokens).Read();
        return new(text, root, wrong);
    }
}
