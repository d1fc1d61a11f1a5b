using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>Cuts words that are run together, as BA and IV in "INBA101IV", where what they are made of is known.</summary>
internal static class WordCutter
{
    private const int Shortest = 2;

    /// <summary>From so many letters on it is no chance that a word holds them.</summary>
    internal const int Telling = 4;

    private const int MostCuts = 6;

    /// <summary>Cuts the words of a name wherever one of some keys begins or ends in them.</summary>
    /// <param name="name">The name.</param>
    /// <param name="tokens">Its tokens.</param>
    /// <param name="keys">Keys of what a name may speak of.</param>
    /// <param name="words">What else is known: a single letter is cut off only where what is left begins with one of these.</param>
    public static CutTokens Cut(string name, NameToken[] tokens, IEnumerable<string> keys, IReadOnlySet<string> words)
    {
        var marks = keys.Distinct().Select(NameToken.Of).Where(m => m.Length > 0).ToArray();
        var (cut, whole) = (new List<NameToken>(tokens.Length), new List<int>(tokens.Length));
        for (var i = 0; i < tokens.Length; i++)
        {
            var from = 0;
            foreach (var at in tokens[i].IsNumber ? [] : CutsOf(tokens, i, marks, words))
            {
                Add(i, from, at);
                from = at;
            }
            Add(i, from, tokens[i].Text.Length);
        }
        return new([.. cut], [.. whole]);

        void Add(int i, int from, int to)
        {
            var token = tokens[i];
            whole.Add(i);
            if (from == 0 && to == token.Text.Length)
                cut.Add(token);
            else
                cut.Add(new(token.Text[from..to], -1, NameToken.EndOf(name, token with { Text = token.Text[..from] })));
        }
    }

    private static SortedSet<int> CutsOf(NameToken[] tokens, int at, NameToken[][] marks, IReadOnlySet<string> words)
    {
        var (word, cuts) = (tokens[at].Text, new SortedSet<int>());
        if (word.Length <= Shortest)
            return cuts;
        foreach (var mark in marks)
        {
            // A mark of several tokens begins at the end of one word and may end at the beginning of another.
            if (mark[0] is { IsNumber: false } first && first.Text.Length < word.Length)
            {
                if (word.EndsWith(first.Text, StringComparison.Ordinal) && first.Text.Length >= Shortest && Follows(tokens, at, mark))
                    cuts.Add(word.Length - first.Text.Length);
                if (
                    mark.Length == 1
                    && word.StartsWith(first.Text, StringComparison.Ordinal)
                    && (first.Text.Length >= Shortest || BeginsWithOne(word.AsSpan(first.Text.Length), words))
                )
                    cuts.Add(first.Text.Length);
                // A long one is no chance, wherever it stands.
                if (
                    mark.Length == 1
                    && first.Text.Length >= Telling
                    && word.IndexOf(first.Text, StringComparison.Ordinal) is > 0 and var inside
                    && inside + first.Text.Length < word.Length
                )
                    cuts.UnionWith([inside, inside + first.Text.Length]);
            }
            if (
                mark.Length > 1
                && mark[^1] is { IsNumber: false } last
                && last.Text.Length < word.Length
                && word.StartsWith(last.Text, StringComparison.Ordinal)
                && Precedes(tokens, at, mark)
            )
                cuts.Add(last.Text.Length);
        }
        // What begins or ends where something else does.
        foreach (var known in cuts.ToArray())
        foreach (var mark in marks)
            if (mark.Length == 1 && !mark[0].IsNumber && mark[0].Text is { Length: >= Shortest } text)
            {
                if (known + text.Length < word.Length && word.AsSpan(known).StartsWith(text))
                    cuts.Add(known + text.Length);
                if (text.Length < known && word.AsSpan(0, known).EndsWith(text))
                    cuts.Add(known - text.Length);
            }
        while (cuts.Count > MostCuts)
            cuts.Remove(cuts.Max);
        return cuts;
    }

    private static bool BeginsWithOne(ReadOnlySpan<char> rest, IReadOnlySet<string> words)
    {
        foreach (var word in words)
            if (rest.StartsWith(word) && (word.Length >= Shortest || word.Length == rest.Length))
                return true;
        return false;
    }

    private static bool Follows(NameToken[] tokens, int at, NameToken[] mark)
    {
        for (var i = 1; i < mark.Length; i++)
            if (at + i >= tokens.Length || !IsSame(tokens[at + i], mark[i], mayGoOn: i == mark.Length - 1))
                return false;
        return true;
    }

    private static bool Precedes(NameToken[] tokens, int at, NameToken[] mark)
    {
        for (var i = 1; i < mark.Length - 1; i++)
            if (at - i < 0 || !IsSame(tokens[at - i], mark[^(i + 1)], mayGoOn: false))
                return false;
        return at - (mark.Length - 1) is >= 0 and var first
            && (
                tokens[first].IsNumber
                    ? IsSame(tokens[first], mark[0], false)
                    : tokens[first].Text.EndsWith(mark[0].Text, StringComparison.Ordinal)
            );
    }

    private static bool IsSame(NameToken token, NameToken mark, bool mayGoOn) =>
        token.IsNumber == mark.IsNumber
        && (
            token.IsNumber
                ? token.Number == mark.Number
                : token.Text == mark.Text || (mayGoOn && token.Text.StartsWith(mark.Text, StringComparison.Ordinal))
        );
}
