using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>A word of a tag with what it may mean.</summary>
/// <param name="Text">The word or number.</param>
/// <param name="Meanings">Of the trade's words.</param>
/// <param name="Letters">Of instrument letters.</param>
/// <param name="Parts">The words it is put together from; empty for one that is not.</param>
internal sealed record TagWord(string Text, IReadOnlyList<string> Meanings, IReadOnlyList<string> Letters, IReadOnlyList<string> Parts)
{
    /// <summary>What it says the value is for; null when it does not.</summary>
    public string? Purpose { get; } =
        Meanings.Count > 0 && Meanings.All(TradeWords.IsPurpose) ? Meanings[0]
        : Parts.Count > 0 ? Meanings.LastOrDefault(TradeWords.IsPurpose)
        : Letters.Contains("*alarm") ? "*alarm"
        : null;

    /// <summary>The words it is put together from, each by itself, or itself.</summary>
    public IEnumerable<TagWord> Apart => Parts.Count == 0 ? [this] : Parts.Select(p => new TagWord(p, TradeWords.Of(p), [], []));

    public static TagWord Of(NameToken token, bool inName)
    {
        if (token.IsNumber)
            return new(token.Number.ToString(System.Globalization.CultureInfo.InvariantCulture), [], [], []);
        var letters =
            !inName ? []
            : token.IsLetter ? InstrumentLetters.OfOne(token.Text)
            : InstrumentLetters.Of(token.Text);
        return TradeWords.PartsOf(token.Text) is { Count: > 0 } parts
            ? new(token.Text, [.. parts.SelectMany(TradeWords.Of).Distinct()], letters, parts)
            : new(token.Text, TradeWords.Of(token.Text), letters, []);
    }

    /// <summary>How surely it says a property's word, 0 to 1.</summary>
    public double Says(PropertyWord word)
    {
        if (word.Spellings.Contains(Text) || Parts.Any(word.Spellings.Contains))
            return 1;
        if (word.Meaning[0] == '#')
            return 0;
        var sure =
            TradeWords.Knows(Text) ? 1
            : Meanings.Count == 1 || Parts.Count > 0 ? 0.85
            : 0.55;
        if (Meanings.Any(m => m == word.Meaning))
            return 0.95 * sure;
        if (Meanings.Any(word.Meanings.Contains))
            return 0.8 * sure;
        if (Letters.Count > 0 && Letters.Contains(word.Meaning))
            return Letters[0] == word.Meaning ? 0.85 : 0.7;
        return word.Spellings.Any(s => TradeWords.IsShort(Text, s) || (Text.Length > s.Length && TradeWords.IsShort(s, Text))) ? 0.75 : 0;
    }
}
