using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>What properties nobody has shown are called, from those that were: where drift is Belt_DRIFT_CV_114 and running is
/// Belt_RUNNING_CV_114, Belt_SPEED_CV_109 is the speed of the belt whose drift is Belt_DRIFT_CV_109.</summary>
/// <param name="lexicon">All tags.</param>
/// <param name="isFree">Whether a tag feeds nothing yet.</param>
internal sealed class UnshownNames(TagLexicon lexicon, Func<int, bool> isFree)
{
    private const int FewestShown = 2;
    private const double LeastMatch = 0.3;
    private const double NearlyAsMuch = 0.6;
    private const int LongestWords = 6;

    /// <summary>For each property that was not shown a tag that is called as the others of its instance but for its own words, and says
    /// what the property is called more clearly than any other does.</summary>
    /// <param name="matrix">The template.</param>
    /// <param name="shown">Of each property that was shown the best rule for names, all of them made from one instance and following the
    /// same.</param>
    /// <param name="unshown">The properties that were not.</param>
    /// <param name="fits">Whether a tag fits a property.</param>
    public IEnumerable<(long PropertyId, Example Example)> Find(
        TemplateMatrix matrix,
        IReadOnlyList<RuleGuess> shown,
        IReadOnlyList<long> unshown,
        Func<long, int, bool> fits
    )
    {
        if (shown.Count < FewestShown)
            return [];
        var tokens = lexicon.Tokens[(int)TagFace.Name];
        NameToken[][] names = [.. shown.Select(g => tokens[g.Example!.Position])];
        var (before, after) = Common(names);
        if (before + after == 0)
            return [];
        // What all that are an instance's begin and end with.
        var frames = new Dictionary<string, InstanceNames?>(StringComparer.Ordinal);
        var rule = shown.MaxBy(g => g.Hits)!;
        var (begin, end) = (names[0][..before], names[0][^after..]);
        foreach (var instance in matrix.Instances)
            if (rule.Pattern.TextFor(instance) is { } text && NameToken.Of(text) is var its && its.Length > before + after)
            {
                frames[FrameOf(its, before, after)] = frames.ContainsKey(FrameOf(its, before, after)) ? null : instance;
                Keep(begin, its);
                Keep(end, its.AsSpan(its.Length - after));
            }
        var called = new Dictionary<string, Dictionary<InstanceNames, int>>(StringComparer.Ordinal);
        var twice = new HashSet<string>(StringComparer.Ordinal);
        for (var position = 0; position < tokens.Length; position++)
        {
            var its = tokens[position];
            if (its.Length <= before + after || its.Length > before + after + LongestWords || !isFree(position))
                continue;
            if (!IsLike(begin, its) || !IsLike(end, its.AsSpan(its.Length - after)))
                continue;
            if (!frames.TryGetValue(FrameOf(its, before, after), out var instance) || instance is null)
                continue;
            var words = NameToken.KeyOf(its.AsSpan(before, its.Length - before - after));
            if (!(called.TryGetValue(words, out var list) ? list : called[words] = []).TryAdd(instance, position))
                twice.Add(words);
        }
        foreach (var words in twice)
            called.Remove(words);
        foreach (var name in names)
            called.Remove(NameToken.KeyOf(name.AsSpan(before, name.Length - before - after)));
        if (called.Count == 0)
            return [];
        var matches = (
            from c in called
            let its = tokens[c.Value.Values.First()]
            let words = its.Skip(before).Take(its.Length - before - after).Select(t => TagWord.Of(t, true)).ToArray()
            from property in unshown
            where c.Value.Values.All(t => fits(property, t))
            let match = matrix.Words.Match(property, words)
            where match > 0
            select (Property: property, Words: c.Key, Match: match)
        ).ToArray();
        return
        [
            .. from best in matches
            where
                best.Match >= LeastMatch
                && !matches.Any(m =>
                    m != best && (m.Property == best.Property || m.Words == best.Words) && m.Match > NearlyAsMuch * best.Match
                )
            let its = called[best.Words]
            let instance = matrix.Instances.First(its.ContainsKey)
            select (best.Property, new Example(instance, its[instance], null, 1)),
        ];
    }

    /// <summary>With how many words and numbers all names begin alike, and end alike.</summary>
    private static (int Before, int After) Common(NameToken[][] names)
    {
        var shortest = names.Min(n => n.Length);
        var before = 0;
        while (before < shortest - 1 && names.All(n => n[before].Text == names[0][before].Text))
            before++;
        var after = 0;
        while (before + after < shortest - 1 && names.All(n => n[^(after + 1)].Text == names[0][^(after + 1)].Text))
            after++;
        return (before, after);
    }

    /// <summary>Leaves of the words and numbers that all have alike those that another has as well; the others are whatever they
    /// are.</summary>
    private static void Keep(NameToken[] alike, ReadOnlySpan<NameToken> others)
    {
        for (var i = 0; i < alike.Length; i++)
            if (alike[i].Text != others[i].Text)
                alike[i] = default;
    }

    private static bool IsLike(NameToken[] alike, ReadOnlySpan<NameToken> name)
    {
        for (var i = 0; i < alike.Length; i++)
            if (alike[i].Text is { } text && text != name[i].Text)
                return false;
        return true;
    }

    private static string FrameOf(NameToken[] name, int before, int after) =>
        $"{NameToken.KeyOf(name.AsSpan(0, before))}|{NameToken.KeyOf(name.AsSpan(name.Length - after))}";
}
