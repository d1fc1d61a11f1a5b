namespace Fralto.Core.NamingRules;

/// <summary>One piece of a name: a word or a number.</summary>
/// <param name="Text">The word in small letters without accents; the digits of a number.</param>
/// <param name="Number">The number; -1 for a word.</param>
/// <param name="Start">Where it stands in the name.</param>
internal readonly record struct NameToken(string Text, long Number, int Start)
{
    /// <summary>Longest run of digits that is a number; a longer one is a word, as no plant counts so far.</summary>
    private const int MostDigits = 9;

    public bool IsNumber => Number >= 0;

    /// <summary>True for a word of one letter.</summary>
    public bool IsLetter => Number < 0 && Text.Length == 1;

    /// <summary>Parts a name where separators stand, where letters meet digits and where a capital begins a word: "Kiln2AirOn_TT11" is
    /// kiln, 2, air, on, tt, 11.</summary>
    public static NameToken[] Of(string name) => Of(name, null);

    /// <summary>Parts a name as others were.</summary>
    /// <param name="name">The name.</param>
    /// <param name="words">Words that are known, so that each is held once; null where few names are parted.</param>
    public static NameToken[] Of(string name, HashSet<string>? words)
    {
        var tokens = new List<NameToken>(8);
        for (var at = 0; at < name.Length; )
        {
            var start = at;
            if (char.IsAsciiDigit(name[at]))
            {
                while (at < name.Length && char.IsAsciiDigit(name[at]))
                    at++;
                var digits = name[start..at];
                tokens.Add(
                    new(
                        digits,
                        at - start <= MostDigits ? long.Parse(digits, System.Globalization.CultureInfo.InvariantCulture) : -1,
                        start
                    )
                );
            }
            else if (char.IsLetter(name[at]))
            {
                at++;
                while (at < name.Length && char.IsLetter(name[at]) && !BeginsWord(name, at))
                    at++;
                tokens.Add(new(Plain(name.AsSpan(start, at - start), words), -1, start));
            }
            else
            {
                at++;
            }
        }
        return [.. tokens];
    }

    /// <summary>A name as others are compared with it: words and numbers without what stands between them, numbers without leading zeros
    /// and never run together.</summary>
    public static string KeyOf(ReadOnlySpan<NameToken> tokens)
    {
        var key = new KeyWriter(stackalloc char[256]);
        foreach (var token in tokens)
            key.Add(token);
        return key.ToString();
    }

    /// <summary>The key of what is said of a node: as that of a name, but letters that stand by themselves stay apart.</summary>
    public static string SaidOf(ReadOnlySpan<NameToken> tokens)
    {
        var key = new KeyWriter(stackalloc char[256]);
        foreach (var token in tokens)
            key.Say(token);
        return key.ToString();
    }

    /// <summary>Where a token ends in the name it stands in.</summary>
    public static int EndOf(string name, NameToken token)
    {
        var end = token.Start;
        if (token.IsNumber)
            while (end < name.Length && char.IsAsciiDigit(name[end]))
                end++;
        // Sharp s is one letter that became two.
        else
            for (var letters = 0; letters < token.Text.Length; end++)
                letters += name[end] == 'ß' ? 2 : 1;
        return end;
    }

    /// <summary>The key of a name.</summary>
    public static string KeyOf(string name) => KeyOf(Of(name));

    // pH is one word, whatever its capital says.
    private static bool BeginsWord(string name, int at) =>
        char.IsUpper(name[at])
        && !(name[at] == 'H' && name[at - 1] == 'p' && (at + 1 == name.Length || !char.IsLower(name[at + 1])))
        && (
            char.IsLower(name[at - 1])
            || (
                at + 1 < name.Length
                && char.IsLower(name[at + 1])
                && char.IsUpper(name[at - 1])
                && at + 2 < name.Length
                && char.IsLower(name[at + 2])
            )
        );

    /// <summary>Small letters, accents taken off; a German sharp s is two.</summary>
    private static string Plain(ReadOnlySpan<char> word, HashSet<string>? words)
    {
        Span<char> plain = word.Length <= 64 ? stackalloc char[128] : new char[word.Length * 2];
        var length = 0;
        foreach (var c in word)
        {
            if (c == 'ß')
                (plain[length++], plain[length++]) = ('s', 's');
            else
                plain[length++] = c < 128 ? char.ToLowerInvariant(c) : WithoutAccent(char.ToLowerInvariant(c));
        }
        if (words is null)
            return new(plain[..length]);
        if (words.GetAlternateLookup<ReadOnlySpan<char>>().TryGetValue(plain[..length], out var known))
            return known;
        var made = new string(plain[..length]);
        words.Add(made);
        return made;
    }

    private static char WithoutAccent(char c) =>
        "àáâãäåçèéêëìíîïñòóôõöøùúûüýÿ".IndexOf(c, StringComparison.Ordinal) is >= 0 and var at ? "aaaaaaceeeeiiiinoooooouuuuyy"[at] : c;
}
