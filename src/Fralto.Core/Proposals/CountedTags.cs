using Fralto.Core.Hierarchy;
using Fralto.Core.NamingRules;
using Fralto.Core.Plant;

namespace Fralto.Core.Proposals;

/// <summary>Tells of the numbers in the names of tags which are not those of units, though a unit may happen to have one: numbers that
/// count the tags of all properties one after another, numbers that all have alike, and numbers at a step that runs past the last unit
/// and leaves out those between.</summary>
internal sealed class CountedTags(PlantModel model, TagLexicon lexicon, PlantNames nodes)
{
    private const int Name = (int)TagFace.Name;
    private const int Description = (int)TagFace.Description;
    private const int FewestAlike = 4;
    private const int FewestSaid = 3;
    private const double Mostly = 0.5;
    private const double Part = 0.25;

    private readonly Dictionary<(IReadOnlyList<int> Alike, int At), Dictionary<string, Run>> _runs = [];
    private readonly Dictionary<(Run, long), bool> _passes = [];
    private readonly Dictionary<long, long[]> _numbers = [];
    private readonly Dictionary<(IReadOnlyList<int> Alike, int At), bool> _ofKind = [];

    /// <summary>Whether what stands in a tag's name and calls a unit does so by a number that counts tags of several properties, or is the
    /// same in all.</summary>
    /// <param name="position">The tag.</param>
    /// <param name="from">The first word or number that calls the unit.</param>
    /// <param name="count">How many words and numbers call it.</param>
    /// <param name="node">The unit, or a place.</param>
    public bool IsNobodys(int position, int from, int count, Equipment node)
    {
        if (node.TemplateId is not { } template)
            return false;
        var tokens = lexicon.Tokens[Name][position];
        for (var at = from; at < from + count; at++)
            if (tokens[at].IsNumber && (RunOf(position, at) is { IsOfSeveral: true } || IsOfKind(position, at, template)))
                return true;
        return false;
    }

    /// <summary>Whether a number is the same in all tags called alike, which are told apart by another number, though units of the kind
    /// have several: 01 of 10-DRYER-01, 20-DRYER-01 and so on.</summary>
    private bool IsOfKind(int position, int at, long template)
    {
        var alike = lexicon.Lettered(TagFace.Name, position);
        if (alike.Count < FewestAlike)
            return false;
        if (!_ofKind.TryGetValue((alike, at), out var same))
            _ofKind[(alike, at)] = same =
                IsSame(alike, at) && Enumerable.Range(0, lexicon.Tokens[Name][position].Length).Any(i => !IsSame(alike, i));
        return same && NumbersOf(template).Length > 1;
    }

    /// <summary>Whether what stands at a place in names is the same in all, or no number.</summary>
    private bool IsSame(IReadOnlyList<int> alike, int at)
    {
        var names = lexicon.Tokens[Name];
        return alike.All(p => names[p][at].Number == names[alike[0]][at].Number);
    }

    private long[] NumbersOf(long template) =>
        _numbers.TryGetValue(template, out var known)
            ? known
            : _numbers[template] = [.. model.Index.InstancesOf(template).Select(e => nodes.Of(e).Number).OfType<long>().Distinct()];

    /// <summary>Whether a tag's name has the number of a unit, and tags called so have numbers at a step that leaves out units between and
    /// runs past the last: 02 of 02, 04, 06 to 28 where there are 14 of them.</summary>
    public bool IsAtStep(int position, Equipment node)
    {
        if (node.TemplateId is not { } template || nodes.Of(node).Number is not { } number)
            return false;
        var tokens = lexicon.Tokens[Name][position];
        for (var at = 0; at < tokens.Length; at++)
            if (tokens[at].IsNumber && tokens[at].Number == number && RunOf(position, at) is { } run && Passes(run, template))
                return true;
        return false;
    }

    private Run? RunOf(int position, int at)
    {
        var alike = lexicon.Shaped(TagFace.Name, position);
        if (alike.Count < FewestAlike)
            return null;
        if (!_runs.TryGetValue((alike, at), out var runs))
            _runs[(alike, at)] = runs = alike
                .GroupBy(p => BesideOf(p, at), StringComparer.Ordinal)
                .ToDictionary(g => g.Key, g => RunThrough([.. g], at));
        return runs[BesideOf(position, at)];
    }

    /// <summary>The numbers of a name but for one.</summary>
    private string BesideOf(int position, int at) =>
        string.Join(' ', lexicon.Tokens[Name][position].Where((t, i) => t.IsNumber && i != at).Select(t => t.Number));

    private Run RunThrough(int[] tags, int at)
    {
        var ordered = tags.Select(p => (lexicon.Tokens[Name][p][at].Number, Position: p))
            .DistinctBy(t => t.Number)
            .OrderBy(t => t.Number)
            .ToArray();
        var numbers = Array.ConvertAll(ordered, t => t.Number);
        var step = numbers.Aggregate(0L, (known, number) => NumberRuns.Divisor(known, number - numbers[0]));
        // What is said of the unit is said of several, whatever its number or letter.
        string[] said =
        [
            .. ordered.Select(t =>
                string.Join(' ', lexicon.Tokens[Description][t.Position].Where(w => !w.IsNumber && !w.IsLetter).Select(w => w.Text))
            ),
        ];
        var usual = said.Where(s => s.Length > 0).GroupBy(s => s).Where(g => g.Count() >= FewestSaid).Select(g => g.Key).ToHashSet();
        var (pairs, others) = (0, 0);
        for (var i = 1; i < said.Length; i++)
        {
            if (!usual.Contains(said[i - 1]) || !usual.Contains(said[i]))
                continue;
            pairs++;
            others += said[i] == said[i - 1] ? 0 : 1;
        }
        return new(numbers, step, pairs >= FewestAlike && others > Mostly * pairs);
    }

    private bool Passes(Run run, long template)
    {
        if (run.Step < 2 || run.Numbers.Length < FewestAlike)
            return false;
        if (_passes.TryGetValue((run, template), out var known))
            return known;
        var units = NumbersOf(template);
        var within = units.Where(n => n >= run.Numbers[0] && n <= run.Numbers[^1]).ToArray();
        var between = within.Count(n => (n - run.Numbers[0]) % run.Step != 0);
        var nobodys = run.Numbers.Except(units).Count();
        return _passes[(run, template)] = between > Part * within.Length && nobodys > Part * run.Numbers.Length;
    }

    /// <summary>Tags called alike but for one number.</summary>
    private sealed record Run(long[] Numbers, long Step, bool IsOfSeveral);
}
