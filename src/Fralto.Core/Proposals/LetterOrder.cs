using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Which of two letters in a name is the area's and which the unit's, where nobody has shown it.</summary>
/// <remarks>C.A is A in C or C in A. Where there is no area called as many of the units are, the one way leaves much without a tag; where
/// nearly every name is there the other way round too, nothing tells.</remarks>
internal sealed class LetterOrder(TagLexicon lexicon)
{
    private const double Telling = 0.15;

    /// <summary>Doubts what was given by two letters that may as well be meant the other way round.</summary>
    /// <param name="cells">The cells whose tags nobody's example stands behind.</param>
    /// <returns>True when something was doubted.</returns>
    public bool Doubt(IEnumerable<OpenCell> cells)
    {
        var doubted = false;
        foreach (var column in cells.Where(c => c.Given is not null).GroupBy(c => (c.Matrix, c.Property.Id)))
        {
            var lettered = column
                .Select(c => (Cell: c, Turned: Turned(c.Given!.Position)))
                .Where(c => c.Turned is not null)
                .Select(c => (c.Cell, Other: lexicon.With(TagFace.Name, c.Turned!).Select(p => lexicon.Tags[p].Name).FirstOrDefault()))
                .ToArray();
            var both = lettered.Where(c => c.Other is not null).ToArray();
            if (both.Length == 0 || lettered.Length - both.Length > Telling * lettered.Length)
                continue;
            foreach (var (cell, other) in both)
            foreach (var candidate in cell.Candidates)
                candidate.Add(
                    ScorePartKind.Neighbours,
                    Math.Min(-2, -candidate.Odds),
                    $"its two letters may be meant the other way round, as there is {other} too; bind one by hand"
                );
            doubted = true;
        }
        return doubted;
    }

    /// <summary>A name with its two single letters the other way round; null where it has not two that differ.</summary>
    private string? Turned(int position)
    {
        NameToken[] its = [.. lexicon.Tokens[(int)TagFace.Name][position]];
        int[] letters = [.. Enumerable.Range(0, its.Length).Where(i => its[i].IsLetter)];
        if (letters is not [var one, var other] || its[one].Text == its[other].Text)
            return null;
        (its[one], its[other]) = (its[other], its[one]);
        return NameToken.KeyOf(its);
    }
}
