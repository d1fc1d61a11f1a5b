using Fralto.Core.NamingRules;

namespace Fralto.Core.Proposals;

/// <summary>A word a property is called by.</summary>
internal sealed record PropertyWord(string Meaning, double Weight, IReadOnlyList<string> Spellings, IReadOnlyList<string> Meanings)
{
    /// <summary>A word as it stands in a name.</summary>
    public static PropertyWord Of(NameToken token)
    {
        var meanings = TradeWords.Of(token.Text);
        return new(meanings is [var first, ..] ? first : token.Text, 1, [token.Text], meanings);
    }
}
