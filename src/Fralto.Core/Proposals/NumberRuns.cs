using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>How the numbers in tags that are called alike run, beside how those of the instances do.</summary>
/// <remarks>Where nobody has shown how a kind is named, a tag with the number of an instance looks like its own. When the tags run from
/// 103 to 111 and the instances from 101 to 109, or every second number is there, they are counted otherwise: more of them are explained
/// by that and nothing is left over, or they leave out instances and run past the last.</remarks>
internal sealed class NumberRuns(TagLexicon lexicon, TagsInUse used, CountedTags counted)
{
    private const int FewestGiven = 2;
    private const int MostTimes = 20;
    private const int MostEnds = 8;
    private const int MostWays = 64;

    /// <summary>More than this part of the columns of a template has to gain by another way of counting, a tag each.</summary>
    private const double Gaining = 0.5;

    private readonly Dictionary<(IReadOnlyList<int>, int), Dictionary<(long, string), HashSet<long>>> _numbers = [];

    /// <summary>Tags called alike but for one number, and the numbers of the instances at the places that were given one of
    /// them.</summary>
    private sealed record Run(string Places, OpenCell[] Given, HashSet<long> Tags, long[] Instances);

    /// <summary>Doubts what was given by number alone where counting otherwise explains more.</summary>
    /// <param name="cells">The cells whose tags nobody's example stands behind.</param>
    /// <returns>True when something was doubted.</returns>
    public bool Doubt(IReadOnlyCollection<OpenCell> cells)
    {
        var doubted = false;
        foreach (var cell in cells)
        {
            if (cell.Given?.By.Any(g => g?.IsOfSeveral == true) != true)
                continue;
            foreach (var candidate in cell.Candidates)
                candidate.Add(
                    ScorePartKind.Neighbours,
                    Math.Min(-2, -candidate.Odds),
                    "others elsewhere would be called so too, and tags say no place: they may be counted otherwise"
                );
            doubted = true;
        }
        foreach (var column in cells.Where(c => c.Given is not null).GroupBy(c => c.Matrix).Select(m => m.GroupBy(c => c.Property.Id)))
        foreach (
            var runs in column
                .SelectMany(RunsOf)
                .Where(r => r.Tags.Count > 0 && r.Instances.Length > 0)
                .GroupBy(r => r.Places)
                .Select(g => g.ToArray())
        )
        {
            // Where each instance has its tag, or each tag its instance, nothing is to gain.
            if (runs.All(r => Explained(r, (1, 0)) == Math.Min(r.Tags.Count, r.Instances.Length)))
                continue;
            var gain = runs.SelectMany(Ways)
                .GroupBy(w => w)
                .OrderByDescending(w => w.Count())
                .Take(MostWays)
                .Select(w => runs.Sum(r => Explained(r, w.Key) - Explained(r, (1, 0))))
                .DefaultIfEmpty()
                .Max();
            if (gain <= Gaining * runs.Length && !runs.Any(r => counted.IsAtStep(r.Given[0].Given!.Position, r.Given[0].Instance.Instance)))
                continue;
            foreach (var run in runs)
            {
                var words =
                    $"tags called so are numbered {run.Tags.Min()} to {run.Tags.Max()}, the instances {run.Instances.Min()} to "
                    + $"{run.Instances.Max()}; they may be counted otherwise";
                // What is called nearly so beside it is no better.
                foreach (var candidate in run.Given.SelectMany(c => c.Candidates))
                    candidate.Add(ScorePartKind.Neighbours, Math.Min(-2, -candidate.Odds), words);
                doubted = true;
            }
        }
        return doubted;
    }

    private IEnumerable<Run> RunsOf(IEnumerable<OpenCell> column)
    {
        foreach (
            var alike in column
                .Select(c => (Cell: c, At: PlaceOf(c)))
                .Where(c => c.At >= 0)
                .GroupBy(c => (c.At, Beside(c.Cell.Given!.Position, c.At)))
                .Where(g => g.Count() >= FewestGiven)
        )
        {
            var (given, at) = (alike.Select(c => c.Cell).ToArray(), alike.Key.At);
            var places = given.Select(c => c.Instance.Instance.ParentId).ToHashSet();
            yield return new(
                string.Join(',', places.Order()),
                given,
                NumbersOf(given[0].Given!.Position, at),
                [
                    .. given[0]
                        .Matrix.Instances.Where(i => places.Contains(i.Instance.ParentId))
                        .Select(i => i.NumberOf(PlaceRef.Self, NumberKind.Number))
                        .OfType<long>()
                        .Distinct(),
                ]
            );
        }
    }

    /// <summary>Where in the name of the tag given to a cell the number of the instance stands; less than 0 for nowhere, or in several
    /// places.</summary>
    private int PlaceOf(OpenCell cell)
    {
        if (cell.Given!.Slice is not null || cell.Instance.NumberOf(PlaceRef.Self, NumberKind.Number) is not { } number)
            return -1;
        var tokens = lexicon.Tokens[(int)TagFace.Name][cell.Given.Position];
        var at = Array.FindIndex(tokens, t => t.IsNumber && t.Number == number);
        return at == Array.FindLastIndex(tokens, t => t.IsNumber && t.Number == number) ? at : -1;
    }

    /// <summary>The numbers that free tags have which are called as one is but for a number in it.</summary>
    private HashSet<long> NumbersOf(int position, int at)
    {
        var shape = lexicon.Shaped(TagFace.Name, position);
        if (!_numbers.TryGetValue((shape, at), out var known))
            known = _numbers[(shape, at)] = shape
                .Where(p => used.IsFree(p, null))
                .GroupBy(p => Beside(p, at), p => lexicon.Tokens[(int)TagFace.Name][p][at].Number)
                .ToDictionary(g => g.Key, g => g.ToHashSet());
        return known.GetValueOrDefault(Beside(position, at)) ?? [];
    }

    /// <summary>The controller of a tag, and its name but for a number in it.</summary>
    private (long Controller, string Name) Beside(int position, int at)
    {
        var tokens = lexicon.Tokens[(int)TagFace.Name][position];
        return (lexicon.Tags[position].ControllerId, $"{NameToken.KeyOf(tokens.AsSpan(0, at))}#{NameToken.KeyOf(tokens.AsSpan(at + 1))}");
    }

    /// <summary>The ways to count that lead from the first instance to one of the first tags, or from the last to one of the last: times,
    /// plus.</summary>
    private static IEnumerable<(long Times, long Plus)> Ways(Run run)
    {
        var (first, last, step) = (run.Instances.Min(), run.Instances.Max(), StepOf(run.Instances));
        var times = step > 0 && StepOf(run.Tags) / step is > 1 and <= MostTimes and var more ? new long[] { 1, more } : [1];
        var tags = run.Tags.Order().ToArray();
        return times
            .SelectMany(t =>
                tags.Take(MostEnds).Select(n => (t, n - first * t)).Concat(tags.TakeLast(MostEnds).Select(n => (t, n - last * t)))
            )
            .Distinct()
            .Where(w => w != (1, 0));
    }

    private static long StepOf(IReadOnlyCollection<long> numbers)
    {
        var least = numbers.Min();
        return numbers.Aggregate(0L, (step, n) => Divisor(step, n - least));
    }

    private static int Explained(Run run, (long Times, long Plus) way) =>
        run.Instances.Count(i => run.Tags.Contains(i * way.Times + way.Plus));

    /// <summary>The greatest number that divides both; 0 divides nothing and leaves the other.</summary>
    internal static long Divisor(long one, long other)
    {
        while (other != 0)
            (one, other) = (other, one % other);
        return Math.Abs(one);
    }
}
