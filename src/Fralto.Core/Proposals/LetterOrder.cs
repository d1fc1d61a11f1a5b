using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Which of two letters in a name is the area's and which the unit's, where nobody has shown it.</summary>
/// <remarks>C.A is A in C or C in A. Where there is no area called as many of the units are, the one way leaves much without a tag; where
/// nearly every name is there the other way round too, nothing tells. Letters that go on where areas do not are not the area's.</remarks>
internal sealed class LetterOrder(TagLexicon lexicon, PlantNames nodes)
{
    private const double Telling = 0.15;

    private readonly Dictionary<string, Dictionary<int, HashSet<string>>> _varying = new(StringComparer.Ordinal);

    /// <summary>Doubts what was given by two letters that may as well be meant the other way round.</summary>
    /// <param name="cells">The cells whose tags nobody's example stands behind.</param>
    /// <returns>True when something was doubted.</returns>
    public bool Doubt(IEnumerable<OpenCell> cells)
    {
        var doubted = false;
        foreach (
            var alike in cells
                .Where(c => c.Given is not null)
                .Select(c => (Cell: c, Turned: Turned(c.Given!.Position)))
                .Where(c => c.Turned is not null)
                .GroupBy(c =>
                    (
                        c.Cell.Matrix,
                        c.Cell.Property.Id,
                        ShapeOf(NameAt(c.Cell.Given!.Position)),
                        Own(c.Cell.Instance, c.Cell.Given!.Position)
                    )
                )
        )
        {
            var (shape, own) = (alike.Key.Item3, alike.Key.Item4);
            var both = alike
                .Select(c => (c.Cell, Other: lexicon.With(TagFace.Name, c.Turned!).Select(p => lexicon.Tags[p].Name).FirstOrDefault()))
                .Where(c => c.Other is not null || GoesOn(shape, own))
                .ToArray();
            if (both.Length == 0 || alike.Count() - both.Length > Telling * alike.Count())
                continue;
            foreach (var (cell, other) in both)
            foreach (var candidate in cell.Candidates)
                candidate.Add(
                    ScorePartKind.Neighbours,
                    Math.Min(-2, -candidate.Odds),
                    "its two letters may be meant the other way round"
                        + (other is null ? ", as others called so speak of places there are not" : $", as there is {other} too")
                        + "; bind one by hand"
                );
            doubted = true;
        }
        return doubted;
    }

    /// <summary>A name with its two single letters the other way round; null where it has not two that differ, and are others in other
    /// names.</summary>
    private string? Turned(int position)
    {
        NameToken[] its = [.. NameAt(position)];
        if (its.Count(t => t.IsLetter) < 2)
            return null;
        var varying = Varying(ShapeOf(its));
        int[] letters = [.. varying.Keys.Order()];
        if (letters is not [var one, var other] || its[one].Text == its[other].Text)
            return null;
        (its[one], its[other]) = (its[other], its[one]);
        return NameToken.KeyOf(its);
    }

    /// <summary>Where the letter that the instance is called by stands in the name it was given, as one column may be read in two ways; -1
    /// where it is not one place.</summary>
    private int Own(InstanceNames instance, int position)
    {
        var (its, name) = (nodes.Of(instance.Instance).CodeTokens, NameAt(position));
        return Varying(ShapeOf(name)).Keys.Where(i => its.Any(t => t.Text == name[i].Text)).ToArray() is [var own] ? own : -1;
    }

    /// <summary>Whether letters that would be the places' are of more than there are, and those that would be the units' of none but
    /// places.</summary>
    private bool GoesOn(string shape, int own) =>
        own >= 0
        && Varying(shape) is { Count: 2 } letters
        && letters[own].All(IsPlace)
        && letters.Single(l => l.Key != own).Value is var others
        && others.Any(IsPlace)
        && !others.All(IsPlace);

    private bool IsPlace(string letter) => nodes.Called(letter).Any(n => n.TemplateId is null);

    private NameToken[] NameAt(int position) => lexicon.Tokens[(int)TagFace.Name][position];

    /// <summary>Where names of one shape differ in their letters, and which letters stand there.</summary>
    private Dictionary<int, HashSet<string>> Varying(string shape)
    {
        if (_varying.Count == 0)
            foreach (var names in lexicon.Tokens[(int)TagFace.Name].Where(n => n.Count(t => t.IsLetter) > 1).GroupBy(ShapeOf))
                _varying[names.Key] = Enumerable
                    .Range(0, names.First().Length)
                    .Where(i => names.First()[i].IsLetter)
                    .Select(i => (At: i, Letters: names.Select(n => n[i].Text).ToHashSet(StringComparer.Ordinal)))
                    .Where(l => l.Letters.Count > 1)
                    .ToDictionary(l => l.At, l => l.Letters);
        return _varying[shape];
    }

    private static string ShapeOf(NameToken[] name) =>
        string.Join(
            ' ',
            name.Select(t =>
                t.IsNumber ? "#"
                : t.IsLetter ? "@"
                : t.Text
            )
        );
}
