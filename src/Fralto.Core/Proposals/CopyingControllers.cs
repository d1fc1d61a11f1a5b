using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Controllers that have again what others have, as the one of a control room does.</summary>
internal static class CopyingControllers
{
    private const double Most = 0.5;
    private const double HardlyAny = 0.2;

    /// <summary>Those that nothing is bound to and that have again what several others have, one of them something is bound to: it was
    /// passed over there.</summary>
    /// <param name="controllers">All controllers.</param>
    /// <param name="serving">Those something is bound to.</param>
    /// <param name="lexicon">All tags.</param>
    public static IReadOnlySet<long> Of(IEnumerable<long> controllers, IReadOnlySet<long> serving, TagLexicon lexicon)
    {
        long[] idle = [.. controllers.Where(c => !serving.Contains(c))];
        if (serving.Count == 0 || idle.Length == 0)
            return new HashSet<long>();
        // Of each pair of controllers, how many tags of the first the second has again.
        var (again, all) = (new Dictionary<(long Of, long In), int>(), new Dictionary<long, int>());
        for (var position = 0; position < lexicon.Tags.Length; position++)
        {
            var of = lexicon.Tags[position].ControllerId;
            all[of] = all.GetValueOrDefault(of) + 1;
            var key = NameToken.KeyOf(lexicon.Tokens[(int)TagFace.Name][position]);
            foreach (var other in lexicon.With(TagFace.Name, key).Select(p => lexicon.Tags[p].ControllerId).Distinct())
                if (other != of)
                    again[(of, other)] = again.GetValueOrDefault((of, other)) + 1;
        }
        double ShareOf(long of, long other) => again.GetValueOrDefault((of, other)) / (double)all[of];
        return idle.Where(c =>
                all.Keys.Where(o => o != c && ShareOf(o, c) >= Most).ToArray() is { Length: > 1 } copied
                && copied.Any(serving.Contains)
                // Where units of all places are called alike, each place has its own.
                && copied.All(s => copied.All(o => o == s || ShareOf(s, o) < HardlyAny))
            )
            .ToHashSet();
    }
}
